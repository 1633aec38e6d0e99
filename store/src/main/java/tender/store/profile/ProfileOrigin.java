package tender.store.profile;

import java.util.Locale;

/** Where a profile comes from. The database checks the same words. */
public enum ProfileOrigin {
    /** Tender made it. */
    ISSUED,
    /** Its gateway made it; Tender took its file in. */
    EXPORTED,
    /** Its file came from somewhere else. */
    IMPORTED,
    /** Tender's own, to try a listener. */
    CANARY;

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** @throws IllegalArgumentException where there is no such word */
    static ProfileOrigin of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT).replace('-', '_'));
    }
}
