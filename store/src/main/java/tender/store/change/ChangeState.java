package tender.store.change;

import java.util.Locale;

/** How far a change of a gateway's settings is. The database checks the same words. */
public enum ChangeState {
    ORDERED,
    /** Begun; what was there before is in a backup. */
    WRITING,
    /** Active for a time; then it is rolled back. */
    ACTIVE,
    /** Permanent. */
    KEPT,
    /** It was rolled back, or nothing was written. */
    FAILED,
    /** A temporary change that was rolled back. */
    ROLLED_BACK,
    /** Somebody has to make it at the device. */
    BY_HAND,
    /** Nobody needs it any more; it was to be made by hand. */
    CANCELLED;

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** @throws IllegalArgumentException where there is no such word */
    static ChangeState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }
}
