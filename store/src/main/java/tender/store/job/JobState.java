package tender.store.job;

import java.util.Locale;

/** How far a job is. The database checks the same words. */
public enum JobState {
    WAITING,
    RUNNING,
    DONE,
    FAILED,
    CANCELLED;

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** @throws IllegalArgumentException where there is no such word */
    static JobState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }

    /** Whether something of it is still to come. */
    public boolean isOpen() {
        return this == WAITING || this == RUNNING;
    }
}
