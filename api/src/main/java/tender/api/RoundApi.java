package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Listeners that are tried on a schedule. */
public final class RoundApi {
    /** @param quietFrom and quietTo times such as 22:00 (UTC) between which no word is sent */
    public record Put(int everySeconds, Optional<String> quietFrom, Optional<String> quietTo) {}

    /**
     * A listener, by its id, and how it stands; one that is not tried has no {@code everySeconds}.
     *
     * @param verdict as of a trial: proven, not proven, answers, does not answer, answers and is not trusted
     * @param since when it became as it is
     * @param day and month shares of rounds that were proven, from 0 to 1
     * @param latest the newest results, oldest first
     */
    public record Round(
            String id,
            String gateway,
            String listener,
            String protocol,
            Optional<Integer> everySeconds,
            Optional<String> quietFrom,
            Optional<String> quietTo,
            Optional<Boolean> proven,
            Optional<String> verdict,
            Optional<Instant> since,
            Optional<String> rung,
            Optional<String> cause,
            Optional<String> trialId,
            Optional<Instant> nextAt,
            Optional<Double> day,
            Optional<Double> month,
            List<Result> latest) {}

    /** @param echoMillis round trip to the inside host through the tunnel; {@code millis} what the whole trial took */
    public record Result(
            Instant at,
            boolean proven,
            String verdict,
            Optional<Double> echoMillis,
            int millis,
            Optional<String> rung) {}

    private RoundApi() {}
}
