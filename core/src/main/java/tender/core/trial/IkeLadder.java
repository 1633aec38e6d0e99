package tender.core.trial;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.ike.IkeClient.Stage;

/** Judges what a trial of an IKEv2 profile saw. */
public final class IkeLadder {
    private final IkeQuestion question;
    private final IkeSeen seen;
    private final Optional<TrialContext> known;
    private final ServerTrust trust;

    private IkeLadder(IkeQuestion question, IkeSeen seen, Optional<TrialContext> known) {
        this.question = question;
        this.seen = seen;
        this.known = known;
        this.trust = ServerTrust.ofIdentity(
                seen.chain(),
                question.settings().authorities(),
                question.settings().server(),
                seen.serverId(),
                question.now());
    }

    public static Ladder judge(IkeQuestion question, IkeSeen seen, Optional<TrialContext> known) {
        return new IkeLadder(question, seen, known).judge();
    }

    private Ladder judge() {
        IkeCauses.Case facts = new IkeCauses.Case(question, seen, trust, known);
        return Ladder.climb(
                List.of(Rung.values()),
                rung -> verdict(rung, facts),
                seen::millis,
                this::detail,
                rung -> IkeCauses.TABLE.at(rung, facts, known, LogLine.OF_IKE));
    }

    private static Verdict holds(boolean yes) {
        return yes ? Verdict.OK : Verdict.FAILS;
    }

    private Verdict verdict(Rung rung, IkeCauses.Case facts) {
        return switch (rung) {
            case NAME -> holds(seen.name() == Observation.Name.LITERAL || seen.name() == Observation.Name.RESOLVED);
            case ADDRESS -> holds(seen.path() != Observation.Path.UNREACHABLE);
            case PORT -> port(facts);
            case HANDSHAKE -> holds(seen.came(Stage.ANSWERED));
            case TRUST -> trust();
            case AUTHENTICATION -> holds(seen.letIn());
            case TUNNEL_ADDRESS -> tunnel();
            case ECHO ->
                question.insideHost().isPresent()
                        ? holds(seen.inside() == Observation.Echo.ANSWERED)
                        : seen.firstHosts().wereAsked() ? seen.firstHosts().verdict() : Verdict.NOT_TRIED;
        };
    }

    private Verdict port(IkeCauses.Case facts) {
        if (seen.path() == Observation.Path.REFUSED || facts.onePortShut()) {
            return Verdict.FAILS;
        }
        return seen.path() == Observation.Path.ANSWERED ? Verdict.OK : Verdict.OPEN;
    }

    /** A server that refuses says nothing of itself: then its certificate is an open question, not a fault. */
    private Verdict trust() {
        if (!trust.fatal().isEmpty() || seen.broken().isPresent()) {
            return Verdict.FAILS;
        }
        if (seen.came(Stage.TRUSTED)) {
            boolean believed = seen.chain().isEmpty()
                    || trust.faults().stream().noneMatch(f -> f.kind() == ServerTrust.Kind.FOREIGN);
            return believed && question.notLookedAt().isEmpty() ? Verdict.OK : Verdict.OPEN;
        }
        return seen.refused().isPresent() ? Verdict.OPEN : Verdict.FAILS;
    }

    private Verdict tunnel() {
        if (!seen.came(Stage.UP) || seen.addresses().isEmpty()) {
            return Verdict.FAILS;
        }
        return switch (seen.gateway()) {
            case ANSWERED -> Verdict.OK;
            case NOT_TRIED -> Verdict.OPEN;
            case SILENT ->
                seen.inside() == Observation.Echo.ANSWERED
                                || seen.firstHosts().answered().isPresent()
                        ? Verdict.OPEN
                        : Verdict.FAILS;
        };
    }

    private String detail(Rung rung) {
        return switch (rung) {
            case NAME ->
                seen.name() == Observation.Name.LITERAL
                        ? "the file names an address, no name to look up"
                        : question.server()
                                + seen.dialled().map(a -> " is " + a).orElse("");
            case ADDRESS -> seen.dialled().map(Object::toString).orElse("");
            case PORT -> ports();
            case HANDSHAKE ->
                seen.came(Stage.ANSWERED)
                        ? "keys agreed" + (seen.serverBehindNat() ? ", the server stands behind NAT" : "")
                        : seen.refused().orElse("no answer");
            case TRUST ->
                trustDetail()
                        + (question.notLookedAt().isEmpty()
                                ? ""
                                : "; not looked at: " + String.join(", ", question.notLookedAt()));
            case AUTHENTICATION ->
                seen.letIn()
                        ? "let in" + seen.algorithms().map(a -> ", " + a).orElse("")
                        : seen.refused().orElse("nothing more came")
                                + seen.otherwiseNamed()
                                        .map(n -> "; asked for nobody by name it says that it is " + n.words())
                                        .orElse("")
                                + (seen.asksPassword() ? "; it asks for a name and password" : "");
            case TUNNEL_ADDRESS ->
                seen.addresses().isEmpty()
                        ? seen.refused().orElse("no address")
                        : seen.addresses().stream().map(Object::toString).collect(Collectors.joining(", "))
                                + question.gatewayInside()
                                        .map(g -> ", the gateway " + g + " " + answers(seen.gateway()))
                                        .orElse("");
            case ECHO ->
                question.insideHost()
                        .map(a -> a + " " + answers(seen.inside()))
                        .orElseGet(() -> seen.firstHosts().words());
        };
    }

    private String ports() {
        String all = question.ports().stream().map(String::valueOf).collect(Collectors.joining(" and "));
        return "udp " + all
                + (seen.natPath() == Observation.Path.ANSWERED && seen.path() != Observation.Path.ANSWERED
                        ? ", only the second answers"
                        : seen.natPath() == Observation.Path.SILENT && seen.path() == Observation.Path.ANSWERED
                                ? ", only the first answers"
                                : "");
    }

    private String trustDetail() {
        if (seen.broken().isPresent()) {
            return seen.broken().get();
        }
        if (seen.chain().isEmpty()) {
            return seen.came(Stage.TRUSTED)
                    ? "both have the same secret"
                    : seen.refused().isPresent() ? "the server did not show who it is" : "no certificate came";
        }
        String who = ServerTrust.who(seen.chain());
        String faults = trust.faults().stream()
                .map(f -> f.detail() + (f.seenByProfile() ? "" : " (the file does not look)"))
                .collect(Collectors.joining("; "));
        return who + (faults.isEmpty() ? "" : ": " + faults);
    }

    private static String answers(Observation.Echo echo) {
        return switch (echo) {
            case ANSWERED -> "answers";
            case SILENT -> "does not answer";
            case NOT_TRIED -> "was not asked";
        };
    }
}
