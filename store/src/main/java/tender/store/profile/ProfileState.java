package tender.store.profile;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** How far a profile is. The database checks the same words. */
public enum ProfileState {
    /** What it needs at the gateway is being written there. */
    WRITING,
    /** Somebody has to let it in at the gateway by hand. */
    WAITING,
    /** It can be used. */
    READY,
    /** What it needs could not be written; nothing is left of it. */
    FAILED,
    /** It is being taken away at the gateway. */
    WITHDRAWING,
    /** Somebody has to take it away at the gateway by hand. */
    CLOSING,
    WITHDRAWN;

    /** States in which something of it is at a gateway, or soon will be. */
    public static final Set<ProfileState> LIVING = Set.of(WRITING, WAITING, READY, WITHDRAWING, CLOSING);

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** @throws IllegalArgumentException where there is no such state */
    public static ProfileState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT));
    }

    static List<String> words(Collection<ProfileState> states) {
        return states.stream().map(ProfileState::word).toList();
    }
}
