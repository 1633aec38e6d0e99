package tender.core.trial;

import java.util.Locale;
import java.util.Optional;

/** How a trial came out, in the words that lists, pages and reports share. */
public enum Result {
    PROVEN,
    NOT_PROVEN,
    ANSWERS,
    DOES_NOT_ANSWER,
    /** A probe reached somebody whose certificate is not believed. */
    ANSWERS_UNTRUSTED;

    /**
     * @param probed whether a stranger's question was all that could be asked
     * @param failedAt the rung that failed
     */
    public static Result of(boolean probed, boolean shown, Optional<Rung> failedAt) {
        if (!probed) {
            return shown ? PROVEN : NOT_PROVEN;
        }
        if (shown) {
            return ANSWERS;
        }
        return failedAt.filter(r -> r == Rung.TRUST).isPresent() ? ANSWERS_UNTRUSTED : DOES_NOT_ANSWER;
    }

    public String label() {
        return this == ANSWERS_UNTRUSTED
                ? "answers, not trusted"
                : name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }
}
