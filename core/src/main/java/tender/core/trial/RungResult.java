package tender.core.trial;

import java.util.List;

/** One rung's outcome; {@code millis} is its own time, {@code detail} what was seen. */
public record RungResult(Rung rung, Verdict verdict, long millis, String detail, List<Cause> causes) {
    public RungResult {
        causes = List.copyOf(causes);
    }
}
