package tender.store.change;

import java.util.Locale;

/** How far a change of a gateway's settings is. The database checks the same words. */
public enum ChangeState {
    ORDERED,
    /** Begun; what was there before is in a backup. */
    WRITING,
    /** In force for a time; it ends by itself. */
    IN_FORCE,
    /** In force for good. */
    KEPT,
    /** Nothing of it is in force. */
    FAILED,
    /** It was in force for a time, and what was there before is back. */
    RETURNED;

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** @throws IllegalArgumentException where there is no such word */
    static ChangeState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }
}
