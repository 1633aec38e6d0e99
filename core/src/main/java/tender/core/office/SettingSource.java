package tender.core.office;

import java.util.Locale;

/** Where it is known from how a listener of a gateway managed by hand is set. The database checks the same words. */
public enum SettingSource {
    /** Client files that the gateway made. */
    FILES("client files"),
    /** Somebody entered it. */
    ENTERED("entered"),
    /** A trial saw it. */
    TRIAL("a trial");

    private final String title;

    SettingSource(String title) {
        this.title = title;
    }

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    public String title() {
        return title;
    }

    public static SettingSource of(String word) {
        return valueOf(word.toUpperCase(Locale.ROOT));
    }
}
