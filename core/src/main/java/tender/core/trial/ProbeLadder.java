package tender.core.trial;

import static tender.core.trial.Certainty.CERTAIN;
import static tender.core.trial.Certainty.LIKELY;
import static tender.core.trial.Certainty.POSSIBLE;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.certificate.CertificateFacts;
import tender.core.network.Transport;

/** Judges what came of probing at a listener. It is never proof that a person gets in; only that somebody is at home. */
public final class ProbeLadder {
    /** What a row of causes judges. */
    private record Case(ReachabilityProbe probe, ProbeSeen seen, ServerTrust trust, Optional<TrialContext> known) {
        boolean blocked() {
            return known.filter(k -> k.blocked().isPresent()).isPresent();
        }

        boolean fault(ServerTrust.Kind kind) {
            return trust.fatal().stream().anyMatch(f -> f.kind() == kind);
        }

        boolean udp() {
            return probe.at().transport() == Transport.UDP;
        }
    }

    private static final CauseTable<Case> TABLE = new CauseTable<>(rows())
            .with(new CauseTable.Common<>(
                    c -> c.seen().name(),
                    c -> c.seen().path(),
                    c -> c.seen().dialled(),
                    c -> false,
                    Case::known,
                    CauseTable.Inside.none()));

    private ProbeLadder() {}

    /** Of all causes that the table knows. */
    static Set<String> codes() {
        return TABLE.rows().stream().map(CauseTable.Row::code).collect(Collectors.toSet());
    }

    static List<? extends CauseTable.Row<?>> rowsOfTheTable() {
        return TABLE.rows();
    }

    private static List<CauseTable.Row<Case>> rows() {
        List<CauseTable.Row<Case>> out = new ArrayList<>();
        for (Rung rung : List.of(Rung.PORT, Rung.HANDSHAKE)) {
            out.add(CauseTable.<Case>pathBlocked(rung, Case::blocked));
        }
        out.add(new CauseTable.Row<>(
                Rung.PORT,
                "port-refused",
                LIKELY,
                c -> c.seen().path() == Observation.Path.REFUSED,
                "nothing listens on that port: it is the wrong port, or the listener is off",
                "compare the port with the listener's, and check that the listener runs"));
        out.add(new CauseTable.Row<>(
                Rung.PORT,
                "port-silent",
                LIKELY,
                c -> c.seen().path() == Observation.Path.SILENT,
                "no answer to the connection: a firewall drops it, or no forward leads to the listener",
                "check the firewall rules and forwards on the way"));
        out.add(new CauseTable.Row<>(
                Rung.HANDSHAKE,
                "filtered",
                LIKELY,
                Case::udp,
                "no answer: a firewall drops the packets, no forward leads to the listener, or the listener is off",
                "check udp 500 and udp 4500 on the way, and check that the listener runs"));
        out.add(new CauseTable.Row<>(
                Rung.HANDSHAKE,
                "no-tls",
                POSSIBLE,
                c -> !c.udp(),
                "another service answers there, not TLS, or only TLS versions that Tender does not speak",
                "check what listens on that port"));
        out.add(CauseTable.<Case>serverCertificateEnded(c -> c.fault(ServerTrust.Kind.ENDED)));
        out.add(CauseTable.<Case>serverCertificateNotYet(c -> c.fault(ServerTrust.Kind.NOT_YET)));
        out.add(
                new CauseTable.Row<>(
                        Rung.TRUST,
                        "server-self-signed",
                        CERTAIN,
                        c -> c.fault(ServerTrust.Kind.SELF_SIGNED),
                        "the server's certificate is self-signed: anybody on the path can create one with the same name",
                        "compare its fingerprint with the one that the listener itself shows, or install a certificate of a known authority on it"));
        out.add(new CauseTable.Row<>(
                Rung.TRUST,
                "server-name-differs",
                CERTAIN,
                c -> c.fault(ServerTrust.Kind.OTHER_NAME),
                "the server's certificate does not contain the name that was connected to",
                "install a certificate with the name that clients connect to"));
        out.add(new CauseTable.Row<>(
                Rung.TRUST,
                "server-foreign-authority",
                LIKELY,
                c -> c.fault(ServerTrust.Kind.FOREIGN),
                "the server's certificate is signed by an unknown authority; clients ask people whether they trust it",
                "install a certificate of a known authority on the listener"));
        return out;
    }

    public static Ladder judge(ReachabilityProbe probe, ProbeSeen seen, Optional<TrialContext> known) {
        ServerTrust trust = seen.chain().isEmpty()
                ? new ServerTrust(List.of())
                : ServerTrust.ofTls(seen.chain(), probe.authorities(), probe.name(), probe.now());
        Case facts = new Case(probe, seen, trust, known);
        return Ladder.climb(
                List.of(Rung.values()),
                rung -> verdict(rung, facts),
                seen::millis,
                rung -> detail(rung, facts),
                rung -> TABLE.at(rung, facts, known, LogLine.OF_ANY));
    }

    private static Verdict holds(boolean yes) {
        return yes ? Verdict.OK : Verdict.FAILS;
    }

    private static Verdict verdict(Rung rung, Case c) {
        return switch (rung) {
            case NAME ->
                holds(c.seen().name() == Observation.Name.LITERAL || c.seen().name() == Observation.Name.RESOLVED);
            case ADDRESS -> holds(c.seen().path() != Observation.Path.UNREACHABLE);
            case PORT ->
                c.seen().path() == Observation.Path.ANSWERED
                        ? Verdict.OK
                        : c.udp() && c.seen().path() == Observation.Path.SILENT ? Verdict.OPEN : Verdict.FAILS;
            case HANDSHAKE -> holds(c.seen().answer().isPresent());
            case TRUST ->
                c.probe().kind() == ReachabilityProbe.Kind.TLS
                        ? holds(c.trust().fatal().isEmpty())
                        : Verdict.NOT_TRIED;
            default -> Verdict.NOT_TRIED; // that takes the maker's own client, or somebody's account
        };
    }

    private static String detail(Rung rung, Case c) {
        return switch (rung) {
            case NAME ->
                c.seen().name() == Observation.Name.LITERAL
                        ? "an address, no name to look up"
                        : c.probe().at().host()
                                + c.seen().dialled().map(a -> " is " + a).orElse("");
            case ADDRESS -> c.seen().dialled().map(Object::toString).orElse("");
            case PORT ->
                c.probe().at().transport().word() + " " + c.probe().at().port();
            case HANDSHAKE -> c.seen().answer().orElse("no answer that is understood");
            case TRUST -> trust(c);
            default -> "";
        };
    }

    private static String trust(Case c) {
        if (c.seen().chain().isEmpty()) {
            return "";
        }
        String faults =
                c.trust().faults().stream().map(ServerTrust.Fault::detail).collect(Collectors.joining("; "));
        CertificateFacts own = CertificateFacts.of(c.seen().chain().get(0));
        return ServerTrust.who(c.seen().chain()) + ", until " + own.ends()
                + (faults.isEmpty() ? "" : ": " + faults)
                + "; SHA-256 of the certificate " + own.fingerprint() + ", of its public key "
                + own.key().digest();
    }
}
