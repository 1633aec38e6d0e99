package tender.core.finding;

import java.util.Optional;
import tender.core.office.Change;

/**
 * Something wrong: which rule found it, whom it concerns ({@code subjectKind}, {@code subjectId}, {@code subject} in
 * words), the very values, what it breaks and for whom, and the remedy.
 *
 * @param fix the one step by which Tender can fix it
 */
public record Finding(
        Rule rule,
        String subjectKind,
        String subjectId,
        String subject,
        String evidence,
        String breaks,
        String remedy,
        Optional<Fix> fix) {
    /** A change at a gateway that fixes the finding. */
    public record Fix(String gateway, Change change) {
        /** The one step, for whoever decides. */
        public String words() {
            return "On " + gateway + ", " + change.words();
        }
    }

    public String code() {
        return rule.code();
    }

    public Severity severity() {
        return rule.severity();
    }

    /** What the finding is told apart by, and accepted under. */
    public String key() {
        return code() + "/" + subjectKind + "/" + subjectId;
    }
}
