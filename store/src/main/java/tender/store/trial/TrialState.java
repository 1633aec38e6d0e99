package tender.store.trial;

import java.util.Locale;

/** How far a trial is. The database checks the same words. */
public enum TrialState {
    WAITING,
    RUNNING,
    /** It was made, whatever it showed. */
    ENDED,
    /** It could not be made; it says nothing of its profile. */
    FAILED;

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** @throws IllegalArgumentException where there is no such state */
    static TrialState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT));
    }

    /** Whether something of it is still to come. */
    public boolean isOpen() {
        return this == WAITING || this == RUNNING;
    }
}
