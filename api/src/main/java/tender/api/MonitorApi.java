package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Monitors: trials of listeners on a schedule. */
public final class MonitorApi {
    /** @param quietFrom and quietTo times such as 22:00 (UTC) between which no alert is sent */
    public record Put(int everySeconds, Optional<String> quietFrom, Optional<String> quietTo) {}

    /** Monitor every listener that can be tried and has no monitor, on this schedule, starting now. */
    public record SetAll(int everySeconds) {}

    /** How many listeners got a monitor. */
    public record AllSet(int listeners) {}

    /** How many listeners are in which state; {@code couldBeTried} counts those of {@code notMonitored} whose protocol can be tried. */
    public record Counts(int proven, int notProven, int waiting, int notMonitored, int couldBeTried) {}

    /**
     * A listener, by its id, and its monitor; {@code everySeconds} is missing where it has none.
     *
     * @param verdict as of a trial: proven, not proven, answers, does not answer, answers and is not trusted
     * @param since when it became as it is
     * @param day and month shares of trials that were proven, from 0 to 1
     * @param latest the newest results, oldest first
     */
    public record Monitor(
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

    private MonitorApi() {}
}
