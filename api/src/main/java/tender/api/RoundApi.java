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
     * @param shows what it shows where it holds: proven, or, of a listener that is knocked at, answers
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
            String shows,
            Optional<Instant> since,
            Optional<String> rung,
            Optional<String> cause,
            Optional<String> trialId,
            Optional<Instant> nextAt,
            Optional<Double> day,
            Optional<Double> month,
            List<Result> latest) {}

    /** @param echoMillis round trip to the inside host through the tunnel; {@code millis} what the whole trial took */
    public record Result(Instant at, boolean proven, Optional<Double> echoMillis, int millis, Optional<String> rung) {}

    private RoundApi() {}
}
