package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Trials and their ladders. */
public final class TrialApi {
    public record Start(String profile) {}

    public record Trial(
            String id,
            String profile,
            Optional<String> person,
            String gateway,
            String vantage,
            String claim,
            String restsOn,
            String state,
            Optional<String> rungNow,
            Optional<Boolean> proven,
            Optional<String> note,
            List<Rung> rungs,
            Instant createdAt,
            Optional<Instant> endedAt) {}

    public record Rung(String rung, String meaning, String verdict, long millis, String detail, List<Cause> causes) {}

    public record Cause(String code, String certainty, String what, String remedy) {}

    private TrialApi() {}
}
