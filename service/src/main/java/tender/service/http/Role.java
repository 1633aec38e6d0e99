package tender.service.http;

import java.util.EnumSet;
import java.util.Locale;
import java.util.Set;

/** What an operator may do. */
public enum Role {
    OWNER,
    OPERATOR,
    AUDITOR,
    STAFF,
    /** A machine left standing outside, which makes trials for the service and may do nothing else. */
    VANTAGE;

    /** Those who change gateways and hand out. */
    public static final Set<Role> WRITERS = EnumSet.of(OWNER, OPERATOR);
    /** Those who see everything but secrets. */
    public static final Set<Role> READERS = EnumSet.of(OWNER, OPERATOR, AUDITOR);

    public static final Set<Role> ALL = EnumSet.allOf(Role.class);
    public static final Set<Role> VANTAGES = EnumSet.of(VANTAGE);
    public static final Set<Role> OWNERS = EnumSet.of(OWNER);

    /** What somebody of this role may do with a sign-in that is for reading only. */
    Role reading() {
        return this == OWNER || this == OPERATOR ? AUDITOR : this;
    }

    /** @throws IllegalArgumentException where there is no such role */
    public static Role of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT));
    }

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
