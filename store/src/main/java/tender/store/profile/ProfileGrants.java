package tender.store.profile;

import java.util.List;
import java.util.UUID;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.store.jdbc.Tx;

/** What a profile was granted, and whether somebody said so for it alone. */
public final class ProfileGrants {
    private ProfileGrants() {}

    private static final String SAID = "update profile_listener set explicit = true where profile_id = ?";

    /** Notes that reach and name servers were said for this profile alone. */
    public static void explicit(Tx tx, UUID id) {
        tx.later(SAID, p -> p.id(id));
    }

    private static final String END_SAID = "update profile_listener set expiry_explicit = true where profile_id = ?";

    /** Notes that somebody said when access by a profile ends. */
    public static void expiryExplicit(Tx tx, UUID id) {
        tx.later(END_SAID, p -> p.id(id));
    }

    private static final String FOLLOWS = "select not explicit as follows from profile_listener where profile_id = ?";

    /** Whether reach and name servers follow the rules of its listener. */
    public static boolean follows(Tx tx, UUID id) {
        return tx.first(FOLLOWS, p -> p.id(id), row -> row.flag("follows")).orElse(false);
    }

    private static final String GRANT = """
            update profile_listener set reach = ?::text[]::cidr[], full_tunnel = ?, dns = ?::text[]::inet[], takes_pushed = ?
            where profile_id = ?""";

    public static void grant(Tx tx, UUID id, List<Cidr> reach, boolean full, List<IpAddress> dns, boolean takesPushed) {
        tx.updateOne(
                GRANT,
                p -> p.texts(reach).flag(full).texts(dns).flag(takesPushed).id(id));
    }
}
