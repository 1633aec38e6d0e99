package tender.core.finding;

/**
 * Something wrong: a stable code, whom it concerns ({@code subjectKind}, {@code subjectId}, {@code subject} in words), the
 * very values, what it breaks and the remedy.
 */
public record Finding(
        String code,
        Severity severity,
        String subjectKind,
        String subjectId,
        String subject,
        String evidence,
        String breaks,
        String remedy) {}
