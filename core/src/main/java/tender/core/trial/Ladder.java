package tender.core.trial;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.ToLongFunction;
import java.util.function.UnaryOperator;

/** Judges an observation, with what the gateway's files say where they could be read. */
public record Ladder(List<RungResult> rungs) {
    public Ladder {
        rungs = List.copyOf(rungs);
    }

    /** With what the gateway's files say, and nothing of the records. */
    public static Ladder judge(Question question, Observation seen, Optional<GatewayEvidence> evidence) {
        return judge(question, seen, evidence, Optional.empty());
    }

    public static Ladder judge(
            Question question, Observation seen, Optional<GatewayEvidence> evidence, Optional<TrialContext> known) {
        Causes.Case facts = new Causes.Case(question, seen, evidence, known);
        return climb(
                Rung.OF_KEYS,
                rung -> beside(rung, verdict(rung, question, seen, evidence), question),
                seen::millis,
                rung -> detail(rung, question, seen, evidence)
                        + (isReach(rung) && !question.notLookedAt().isEmpty()
                                ? "; not looked at: " + String.join(", ", question.notLookedAt())
                                : ""),
                rung -> Causes.TABLE.at(rung, facts, known, LogLine.OF_WIREGUARD));
    }

    /** What is reached is an open question beside lines that may send packets elsewhere. */
    private static Verdict beside(Rung rung, Verdict verdict, Question question) {
        boolean open = isReach(rung)
                && verdict == Verdict.OK
                && !question.notLookedAt().isEmpty();
        return open ? Verdict.OPEN : verdict;
    }

    private static boolean isReach(Rung rung) {
        return rung == Rung.TUNNEL_ADDRESS || rung == Rung.ECHO;
    }

    /** Judges rung by rung; what stands above the first that fails was not tried. */
    static Ladder climb(
            List<Rung> rungs,
            Function<Rung, Verdict> verdicts,
            ToLongFunction<Rung> millis,
            Function<Rung, String> details,
            Function<Rung, List<Cause>> causes) {
        List<RungResult> out = new ArrayList<>();
        boolean failed = false;
        for (Rung rung : rungs) {
            Verdict verdict = failed ? Verdict.NOT_TRIED : verdicts.apply(rung);
            failed |= verdict == Verdict.FAILS;
            out.add(new RungResult(
                    rung,
                    verdict,
                    millis.applyAsLong(rung),
                    verdict == Verdict.NOT_TRIED ? "" : details.apply(rung),
                    verdict == Verdict.FAILS ? causes.apply(rung) : List.of()));
        }
        return new Ladder(out);
    }

    /**
     * Proven means that an inside host answered through the tunnel, or the gateway did where no host was named, and that
     * nothing of the file that decides trust was left out.
     */
    public boolean isProven() {
        return rungs.stream()
                        .noneMatch(r ->
                                r.verdict() == Verdict.FAILS || r.rung() == Rung.TRUST && r.verdict() == Verdict.OPEN)
                && rungs.stream()
                        .anyMatch(r -> r.verdict() == Verdict.OK
                                && (r.rung() == Rung.ECHO || r.rung() == Rung.TUNNEL_ADDRESS));
    }

    /** Whether somebody was at home who let a stranger go no further: all that a probe can show. */
    public boolean isAnswered() {
        return failure().isEmpty()
                && rungs.stream().anyMatch(r -> r.rung() == Rung.HANDSHAKE && r.verdict() == Verdict.OK);
    }

    /** The same with what was seen in other words. */
    public Ladder told(UnaryOperator<String> words) {
        return new Ladder(rungs.stream()
                .map(r -> new RungResult(
                        r.rung(),
                        r.verdict(),
                        r.millis(),
                        words.apply(r.detail()),
                        r.causes().stream()
                                .map(c -> new Cause(c.code(), c.certainty(), words.apply(c.what()), c.remedy()))
                                .toList()))
                .toList());
    }

    public Optional<RungResult> failure() {
        return rungs.stream().filter(r -> r.verdict() == Verdict.FAILS).findFirst();
    }

    private static Verdict verdict(Rung rung, Question question, Observation seen, Optional<GatewayEvidence> evidence) {
        return switch (rung) {
            case NAME ->
                seen.name() == Observation.Name.LITERAL || seen.name() == Observation.Name.RESOLVED
                        ? Verdict.OK
                        : Verdict.FAILS;
            case ADDRESS -> seen.path() == Observation.Path.UNREACHABLE ? Verdict.FAILS : Verdict.OK;
            case PORT ->
                switch (seen.path()) {
                    case ANSWERED -> Verdict.OK;
                    case REFUSED -> Verdict.FAILS;
                    default -> evidence.filter(e -> !e.portAgrees()).isPresent() ? Verdict.FAILS : Verdict.OPEN;
                };
            case HANDSHAKE -> seen.handshake() == Observation.Handshake.ESTABLISHED ? Verdict.OK : Verdict.FAILS;
            case TRUST, AUTHENTICATION -> Verdict.NOT_TRIED;
            case TUNNEL_ADDRESS -> tunnel(seen, evidence);
            case ECHO ->
                question.insideHost().isEmpty()
                        ? seen.firstHosts().wereAsked() ? seen.firstHosts().verdict() : Verdict.NOT_TRIED
                        : seen.inside() == Observation.Echo.ANSWERED ? Verdict.OK : Verdict.FAILS;
        };
    }

    /** A gateway that ignores echo is no failure while the host behind it answers. */
    private static Verdict tunnel(Observation seen, Optional<GatewayEvidence> evidence) {
        if (seen.gateway() == Observation.Echo.ANSWERED) {
            return Verdict.OK;
        }
        if (seen.inside() == Observation.Echo.ANSWERED
                || seen.firstHosts().answered().isPresent()) {
            return seen.gateway() == Observation.Echo.SILENT ? Verdict.OPEN : Verdict.NOT_TRIED;
        }
        boolean dropped = seen.admitted().isPresent()
                || evidence.filter(e -> !e.tunnelAddressAgrees()).isPresent();
        return dropped || seen.gateway() == Observation.Echo.SILENT ? Verdict.FAILS : Verdict.NOT_TRIED;
    }

    private static String detail(Rung rung, Question question, Observation seen, Optional<GatewayEvidence> evidence) {
        return switch (rung) {
            case NAME ->
                seen.name() == Observation.Name.LITERAL
                        ? "the profile names an address, no name to look up"
                        : question.endpoint().host()
                                + seen.dialled().map(a -> " is " + a).orElse("");
            case ADDRESS -> seen.dialled().map(Object::toString).orElse("");
            case PORT ->
                "udp " + question.endpoint().port()
                        + evidence.flatMap(GatewayEvidence::listensOn)
                                .map(p -> ", the listener is on " + p)
                                .orElse("");
            case HANDSHAKE ->
                switch (seen.handshake()) {
                    case ESTABLISHED -> "keys agreed";
                    case UNREADABLE -> "an answer came that does not open";
                    case UNDER_LOAD -> "a cookie came instead of an answer";
                    default -> "no answer";
                };
            case TRUST, AUTHENTICATION -> "";
            case TUNNEL_ADDRESS ->
                seen.admitted()
                        .map(a -> "nothing answers to "
                                + question.addresses().get(0).address() + ", and " + a + " is answered")
                        .orElseGet(() -> question.gatewayInside()
                                        .map(a -> a + " ")
                                        .orElse("")
                                + (seen.gateway() == Observation.Echo.ANSWERED ? "answers" : "does not answer"));
            case ECHO ->
                question.insideHost()
                        .map(a -> a + (seen.inside() == Observation.Echo.ANSWERED ? " answers" : " does not answer"))
                        .orElseGet(() -> seen.firstHosts().words());
        };
    }
}
