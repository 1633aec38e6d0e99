package tender.core.trial;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.network.Transport;
import tender.core.trial.OpenVpnSeen.Stage;

/** Judges what a trial of an OpenVPN profile saw. */
public final class OpenVpnLadder {
    private final OpenVpnQuestion question;
    private final OpenVpnSeen seen;
    private final Optional<TrialContext> evidence;
    private final ServerTrust trust;
    private final List<String> notLookedAt;

    private OpenVpnLadder(OpenVpnQuestion question, OpenVpnSeen seen, Optional<TrialContext> evidence) {
        this.question = question;
        this.seen = seen;
        this.evidence = evidence;
        this.notLookedAt = NotLookedAt.of(question.file());
        this.trust = seen.chain().isEmpty()
                ? new ServerTrust(List.of())
                : ServerTrust.of(
                        seen.chain(),
                        question.settings().authorities(),
                        question.checks(),
                        question.serverName(),
                        question.now());
    }

    public static Ladder judge(OpenVpnQuestion question, OpenVpnSeen seen, Optional<TrialContext> evidence) {
        return new OpenVpnLadder(question, seen, evidence).judge();
    }

    private Ladder judge() {
        OpenVpnCauses.Case facts = new OpenVpnCauses.Case(question, seen, trust, evidence);
        return Ladder.climb(
                List.of(Rung.values()),
                rung -> verdict(rung, facts),
                seen::millis,
                this::detail,
                rung -> OpenVpnCauses.TABLE.at(rung, facts, facts.evidence(), LogLine.OF_OPENVPN));
    }

    private Verdict verdict(Rung rung, OpenVpnCauses.Case facts) {
        return switch (rung) {
            case NAME -> holds(seen.name() == Observation.Name.LITERAL || seen.name() == Observation.Name.RESOLVED);
            case ADDRESS -> holds(seen.path() != Observation.Path.UNREACHABLE);
            case PORT -> port(facts);
            case HANDSHAKE -> holds(seen.came(Stage.ANSWERED));
            case TRUST -> trust();
            case AUTHENTICATION -> holds(seen.came(pulls() ? Stage.UP : Stage.EXCHANGED));
            case TUNNEL_ADDRESS -> tunnel();
            case ECHO ->
                question.insideHost().isEmpty() || seen.bridged()
                        ? Verdict.NOT_TRIED
                        : holds(seen.inside() == Observation.Echo.ANSWERED
                                && question.reaches(question.insideHost().get(), seen.pushed()));
        };
    }

    private boolean pulls() {
        return question.settings().pull().pulls();
    }

    private static Verdict holds(boolean yes) {
        return yes ? Verdict.OK : Verdict.FAILS;
    }

    private Verdict port(OpenVpnCauses.Case facts) {
        boolean tcp = question.endpoint().transport() == Transport.TCP;
        return switch (seen.path()) {
            case ANSWERED -> Verdict.OK;
            case REFUSED -> Verdict.FAILS;
            default -> tcp || facts.portMoved() ? Verdict.FAILS : Verdict.OPEN;
        };
    }

    /** A server that is not believed ends the walk even where the profile would not have looked at its name. */
    private Verdict trust() {
        if (!trust.fatal().isEmpty()) {
            return Verdict.FAILS;
        }
        if (seen.chain().isEmpty()) {
            return Verdict.FAILS;
        }
        boolean refusedHere = seen.broken().isPresent() && !seen.broken().get().contains("alert of the server");
        if (refusedHere || isTooOld()) {
            return Verdict.FAILS;
        }
        return notLookedAt.isEmpty() ? Verdict.OK : Verdict.OPEN;
    }

    /** Whether the server speaks an older TLS than the file accepts. */
    private boolean isTooOld() {
        return OpenVpnCauses.isTooOld(question, seen);
    }

    private Verdict tunnel() {
        if (!pulls()) {
            return Verdict.FAILS;
        }
        if (seen.came(Stage.UP) && seen.bridged() != question.bridges()) {
            return Verdict.FAILS;
        }
        if (seen.gateway() == Observation.Echo.ANSWERED) {
            return Verdict.OK;
        }
        if (seen.inside() == Observation.Echo.ANSWERED) {
            return seen.gateway() == Observation.Echo.SILENT ? Verdict.OPEN : Verdict.NOT_TRIED;
        }
        boolean noAddress = seen.address().isEmpty();
        return noAddress || seen.gateway() == Observation.Echo.SILENT ? Verdict.FAILS : Verdict.NOT_TRIED;
    }

    private String detail(Rung rung) {
        return switch (rung) {
            case NAME ->
                seen.name() == Observation.Name.LITERAL
                        ? "the file names an address, no name to look up"
                        : question.firstHop().host()
                                + seen.dialled().map(a -> " is " + a).orElse("");
            case ADDRESS -> seen.dialled().map(Object::toString).orElse("");
            case PORT -> port();
            case HANDSHAKE ->
                seen.came(Stage.ANSWERED)
                        ? "the server answers" + controlChannelKey()
                        : (seen.closed() ? "the server closed the connection" : "no answer" + controlChannelKey())
                                + otherwise();
            case TRUST -> trustDetail();
            case AUTHENTICATION ->
                seen.refused()
                        .or(seen::broken)
                        .orElse(
                                seen.came(pulls() ? Stage.UP : Stage.EXCHANGED)
                                        ? "let in"
                                                + seen.cipher()
                                                        .map(c -> ", " + c)
                                                        .orElse("")
                                        : seen.closed() ? "the server closed the connection" : "nothing more came");
            case TUNNEL_ADDRESS ->
                (seen.bridged() || question.bridges() ? "a bridged tunnel (tap), walked no further: " : "")
                        + seen.address().map(a -> a + ", ").orElse("no address, ")
                        + seen.gatewayInside()
                                .map(a -> "the gateway " + a + " ")
                                .orElse("the gateway ")
                        + answers(seen.gateway());
            case ECHO ->
                question.insideHost()
                        .map(a -> question.reaches(a, seen.pushed())
                                ? a + " " + answers(seen.inside())
                                : a + " is not sent into the tunnel")
                        .orElse(answers(seen.inside()));
        };
    }

    private String port() {
        String way = question.proxy().map(p -> " through the " + p.words()).orElse("");
        String others = seen.others().isEmpty() ? "" : "; " + String.join(", ", seen.others());
        return question.port()
                + way
                + (endsAtPort() ? otherwise() : "")
                + seen.proxySays().map(s -> ", " + s).orElse("")
                + others;
    }

    private boolean endsAtPort() {
        boolean tcp = question.endpoint().transport() == Transport.TCP;
        return seen.path() == Observation.Path.REFUSED || tcp && seen.path() == Observation.Path.SILENT;
    }

    private String otherwise() {
        return seen.otherwise()
                .map(o -> o.kind() == Otherwise.Kind.SERVICE
                        ? "; what answers says: " + o.words()
                        : "; it answers " + o.words())
                .orElse("");
    }

    private String controlChannelKey() {
        String kind = question.settings().controlChannelKey().kind();
        return kind.equals("none") ? ", no control-channel key" : ", wrapped (tls-" + kind + ")";
    }

    private String trustDetail() {
        if (seen.chain().isEmpty()) {
            return seen.broken().orElse("no certificate came");
        }
        String who = ServerTrust.who(seen.chain());
        String faults = trust.faults().stream()
                .map(f -> f.detail() + (f.seenByProfile() ? "" : " (the file does not look)"))
                .collect(Collectors.joining("; "));
        return seen.broken().map(b -> b + "; ").orElse("")
                + who
                + seen.tlsVersion().map(v -> ", " + v).orElse("")
                + (faults.isEmpty() ? "" : ": " + faults)
                + (notLookedAt.isEmpty() ? "" : "; not looked at: " + String.join(", ", notLookedAt));
    }

    private static String answers(Observation.Echo echo) {
        return switch (echo) {
            case ANSWERED -> "answers";
            case SILENT -> "does not answer";
            case NOT_TRIED -> "was not asked";
        };
    }
}
