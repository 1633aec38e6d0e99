package tender.core.finding;

/** How bad a finding is. */
public enum Severity {
    BREAKS,
    RISKS,
    NOTE
}
