package tender.core.finding;

import java.util.Locale;

/** How bad a finding is. */
public enum Severity {
    ERROR,
    WARNING,
    NOTICE;

    /** As it stands in answers and in the table. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
