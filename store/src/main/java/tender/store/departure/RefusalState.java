package tender.store.departure;

import java.util.Locale;

/** Whether a withdrawn profile is shown to be refused. The database checks the same words. */
public enum RefusalState {
    /** Nothing has shown it yet; it is tried again. */
    OPEN,
    /** A trial with the very file was refused, while another profile of the listener was let in. */
    REFUSED,
    /** Tender has no file that a trial could use; that it is gone rests on what the gateway shows. */
    NOT_TRIABLE;

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** @throws IllegalArgumentException where there is no such state */
    static RefusalState of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }
}
