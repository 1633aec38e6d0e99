package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;

/** Trials and their ladders. */
public final class TrialApi {
    /**
     * A trial of a profile, or of a listener: with its canary, or a probe where only its own clients can connect.
     *
     * @param measure whether loss, round trip and packet size are measured too
     * @param insideName a name that the name server inside should know
     * @param from a standing vantage; the service where none is said
     * @param gateway and listener in place of a profile; the listener may be left out where there is one alone
     */
    public record Start(
            Optional<String> profile,
            boolean measure,
            Optional<String> insideName,
            Optional<String> from,
            Optional<String> gateway,
            Optional<String> listener) {
        public static Start of(String profile) {
            return new Start(
                    Optional.of(profile),
                    false,
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty());
        }
    }

    public record Vantage(String name, String kind, Optional<Instant> heardAt, long trials) {}

    /**
     * What to probe, and what should answer.
     *
     * @param kind l2tp or tls
     * @param name what the certificate should say
     * @param authorities that are believed, PEM
     */
    public record Probe(String kind, String host, int port, Optional<String> name, List<String> authorities) {}

    /** What a standing vantage is handed: a canary's file, and what to reach and measure; or what to probe. */
    public record Task(
            String trialId,
            String subject,
            @Revealed Optional<Secret> content,
            Optional<String> user,
            @Revealed Optional<Secret> password,
            Optional<String> insideHost,
            int echoes,
            boolean size,
            Optional<String> insideName,
            Optional<String> outside,
            Optional<Probe> probe) {
        public static Task ofProbe(String trialId, String subject, Probe probe) {
            return new Task(
                    trialId,
                    subject,
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    0,
                    false,
                    Optional.empty(),
                    Optional.empty(),
                    Optional.of(probe));
        }
    }

    public record Handed(Optional<Task> task) {}

    /**
     * What a trial with a file was asked to show beside that the file connects: a host, a name, the way outside.
     *
     * @param refusal why the program that the file is for refuses it, where it does
     */
    public record Asked(
            Optional<String> insideHost,
            Optional<String> insideName,
            Optional<String> outside,
            Optional<String> refusal) {
        public static final Asked NOTHING =
                new Asked(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /**
     * What came of a trial elsewhere; what it showed is worked out from that by the service.
     *
     * @param digest SHA-256 of a file, where it is told by that
     * @param asked what was to be shown; of a trial that the service handed out, the service knows
     * @param observed what the trial saw of the listener's settings, by setting
     */
    public record Report(
            Optional<String> digest,
            Optional<Asked> asked,
            List<Rung> rungs,
            Optional<Measured> measured,
            Optional<Map<String, String>> observed) {}

    /**
     * @param trialId empty where no file of ours has this digest
     * @param note what the records say of the file: that it is not the newest, or was withdrawn
     */
    public record Reported(Optional<String> trialId, Optional<String> note) {}

    /** @param shown whether it was; {@code words} says so or the contrary, such as "reaches 10.20.4.20" */
    public record Claim(String kind, boolean shown, String words) {}

    /**
     * @param subject what was tried, such as a profile at its gateway
     * @param result what was shown and what was not, in a line; empty while it runs
     * @param verdict proven, not proven, answers, does not answer, answers and is not trusted; empty while it runs
     * @param proven whether all that was asked for was shown
     */
    public record Trial(
            String id,
            String profile,
            Optional<String> person,
            String gateway,
            String vantage,
            String subject,
            String restsOn,
            String state,
            Optional<String> rungNow,
            Optional<Boolean> proven,
            Optional<String> verdict,
            String result,
            List<Claim> claims,
            Optional<String> note,
            List<Rung> rungs,
            Optional<Measured> measured,
            Instant createdAt,
            Optional<Instant> endedAt) {}

    /**
     * What was measured through the tunnel beyond the verdict.
     *
     * @param lostPercent of the echoes
     * @param largestPacket bytes of the largest inside packet that came back
     * @param exit where traffic to the outside leaves
     * @param transfer what passed to a host that gives back what it gets
     */
    public record Measured(
            int echoes,
            double lostPercent,
            double leastMillis,
            double meanMillis,
            double mostMillis,
            Optional<Integer> largestPacket,
            Optional<InsideName> name,
            Optional<Exit> exit,
            Optional<Transfer> transfer) {
        public static Measured of(tender.core.trial.Measured m) {
            return new Measured(
                    m.sent(),
                    m.loss() * 100,
                    m.least(),
                    m.mean(),
                    m.most(),
                    m.largestPacket(),
                    m.name()
                            .map(n -> new InsideName(
                                    n.name(),
                                    n.server().toString(),
                                    n.answered(),
                                    n.address().map(Object::toString))),
                    m.exit()
                            .map(e -> new Exit(
                                    e.full(),
                                    e.direct().map(Object::toString),
                                    e.through().map(Object::toString),
                                    e.asClaimed(),
                                    e.words())),
                    m.transfer()
                            .map(t -> new Transfer(
                                    t.bytes(), t.millis(), t.megabits(), t.words(OptionalInt.empty(), List.of()))));
        }
    }

    /**
     * The claim of a full or a split tunnel.
     *
     * @param direct the address that the outside sees of the vantage without the tunnel
     * @param through the address that it sees through the tunnel
     * @param asClaimed whether what was seen is what the profile claims
     */
    public record Exit(
            boolean full, Optional<String> direct, Optional<String> through, boolean asClaimed, String words) {}

    /** @param megabits in millions of bits a second, each way */
    public record Transfer(long bytes, double millis, double megabits, String words) {}

    /** What the name server inside says of a name. */
    public record InsideName(String name, String server, boolean answered, Optional<String> address) {}

    public record Rung(String rung, String meaning, String verdict, long millis, String detail, List<Cause> causes) {}

    public record Cause(String code, String certainty, String what, String remedy) {}

    private TrialApi() {}
}
