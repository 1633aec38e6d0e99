package tender.core.trial;

import static tender.core.trial.Certainty.CERTAIN;
import static tender.core.trial.Certainty.LIKELY;
import static tender.core.trial.Certainty.POSSIBLE;

import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import tender.core.certificate.CertificateFacts;
import tender.core.ike.Identification;
import tender.core.ike.IkeClient.Stage;
import tender.core.ike.IkeSettings;
import tender.core.office.Attribute;

/** The table of causes of IKEv2 trials. */
final class IkeCauses {
    /** What a row judges. */
    record Case(IkeQuestion question, IkeSeen seen, ServerTrust trust, Optional<TrialContext> known) {
        boolean known(Predicate<TrialContext> test) {
            return known.filter(test).isPresent();
        }

        boolean fault(ServerTrust.Kind kind) {
            return trust.fatal().stream().anyMatch(f -> f.kind() == kind);
        }

        boolean clockIsOdd() {
            return ServerTrust.clockIsOdd(
                    seen.chain(), question.settings().authorities(), question.own(), question.now());
        }

        boolean own(Predicate<CertificateFacts> test) {
            return question.own().filter(test).isPresent();
        }

        boolean blocked() {
            return known(k -> k.blocked().isPresent());
        }

        /** One of the two ports answers and the other does not. */
        boolean onePortShut() {
            return shutFirst() || shutSecond();
        }

        boolean shutFirst() {
            return question.ports().size() == 2
                    && seen.path() != Observation.Path.ANSWERED
                    && seen.natPath() == Observation.Path.ANSWERED;
        }

        boolean shutSecond() {
            return seen.path() == Observation.Path.ANSWERED
                    && (seen.natPath() == Observation.Path.SILENT || seen.natPath() == Observation.Path.REFUSED);
        }

        boolean isGone() {
            return seen.came(Stage.ANSWERED) && seen.path() == Observation.Path.REFUSED;
        }

        boolean otherProof() {
            return seen.broken()
                    .filter(b -> b.contains(IkeSettings.REQUIRES_OTHER))
                    .isPresent();
        }

        /** Whether the file says it is somebody that its own certificate does not name. */
        boolean ownNameDiffers() {
            return question.settings().proof().equals("pubkey")
                    && question.settings().identity().isPresent()
                    && question.settings().chain().stream()
                            .findFirst()
                            .filter(own -> !Identification.parse(
                                            question.settings().identity().get())
                                    .isOf(own))
                            .isPresent();
        }

        /** Whether it was found out why the server refuses and gives no reason. */
        boolean explained() {
            return ownNameDiffers() || seen.otherwiseNamed().isPresent();
        }

        boolean unproven() {
            return seen.said("AUTHENTICATION_FAILED");
        }

        boolean serverNameDiffers() {
            return question.settings()
                    .server()
                    .filter(wanted -> known(k -> k.listener()
                            .map(l -> l.words(Attribute.SERVER_NAMES))
                            .filter(names -> !names.isEmpty() && !names.contains(wanted))
                            .isPresent()))
                    .isPresent();
        }
    }

    private static final String AGAIN = "renew the profile and hand it out: tender profile renew PROFILE";

    private static CauseTable.Row<Case> row(
            Rung rung, String code, Certainty certainty, Predicate<Case> applies, String what, String remedy) {
        return new CauseTable.Row<>(rung, code, certainty, applies, what, remedy);
    }

    static final CauseTable<Case> TABLE = new CauseTable<>(List.of(
                    CauseTable.serverGone(Rung.PORT, Case::isGone),
                    row(
                            Rung.PORT,
                            "nat-port-shut",
                            LIKELY,
                            Case::shutSecond,
                            "udp 500 answers, udp 4500 does not: clients behind NAT, which is nearly everyone, cannot connect",
                            "forward and allow udp 4500 to the listener as well as udp 500"),
                    row(
                            Rung.PORT,
                            "ike-port-shut",
                            LIKELY,
                            Case::shutFirst,
                            "udp 4500 answers, udp 500 does not: clients start at 500 and never get to 4500",
                            "forward and allow udp 500 to the listener as well as udp 4500"),
                    CauseTable.<Case>pathBlocked(
                            Rung.PORT,
                            c -> c.blocked() && (c.onePortShut() || c.seen().path() != Observation.Path.ANSWERED)),
                    row(
                            Rung.PORT,
                            "port-refused",
                            LIKELY,
                            c -> c.seen().path() == Observation.Path.REFUSED,
                            "nothing listens on that port: the listener is off",
                            "check that the listener runs on the gateway"),
                    CauseTable.<Case>pathBlocked(Rung.HANDSHAKE, Case::blocked),
                    row(
                            Rung.HANDSHAKE,
                            "cipher-mismatch",
                            LIKELY,
                            c -> c.seen().said("NO_PROPOSAL_CHOSEN"),
                            "the server accepts none of the file's algorithms, or has no connection for this client",
                            "offer a common set on the listener, such as aes256-sha256-modp2048"),
                    row(
                            Rung.HANDSHAKE,
                            "group-mismatch",
                            CERTAIN,
                            c -> c.seen().said("INVALID_KE_PAYLOAD"),
                            "the server requires a Diffie-Hellman group that the file does not offer",
                            "add the server's group to the file's proposals, or the file's to the server's"),
                    row(
                            Rung.HANDSHAKE,
                            "no-ikev2",
                            CERTAIN,
                            c -> c.seen().said("INVALID_MAJOR_VERSION"),
                            "the server does not speak IKE version 2",
                            "turn on IKEv2 on the gateway"),
                    row(
                            Rung.HANDSHAKE,
                            "handshake-refused",
                            LIKELY,
                            c -> c.seen().refused().isPresent()
                                    && !c.seen().said("NO_PROPOSAL_CHOSEN")
                                    && !c.seen().said("INVALID_KE_PAYLOAD")
                                    && !c.seen().said("INVALID_MAJOR_VERSION"),
                            "the server refuses the first message",
                            "check the gateway's log for the reason"),
                    row(
                            Rung.HANDSHAKE,
                            "filtered",
                            LIKELY,
                            c -> c.seen().refused().isEmpty() && c.known().isEmpty(),
                            "no answer on 500 or 4500: a network on the way blocks both, or no forward leads to the listener",
                            "try from inside; if that works, the path from outside is blocked"),
                    row(
                            Rung.HANDSHAKE,
                            "filtered",
                            POSSIBLE,
                            c -> c.seen().refused().isEmpty() && c.known().isPresent(),
                            "a firewall on the way drops the packets",
                            "try from inside; if that works, the path from outside is blocked"),
                    row(
                            Rung.HANDSHAKE,
                            "listener-off",
                            POSSIBLE,
                            c -> c.seen().refused().isEmpty(),
                            "the listener is off, or does not answer because too many handshakes from here were not finished",
                            "check that it runs; wait half a minute and try again"),
                    row(
                            Rung.TRUST,
                            "other-proof",
                            CERTAIN,
                            Case::otherProof,
                            "the server does not authenticate by the method that the file requires",
                            "see that this is the right server; then let the file's remote section want what the listener shows"),
                    row(
                            Rung.TRUST,
                            "secret-differs",
                            CERTAIN,
                            c -> c.seen().broken().isPresent()
                                    && !c.otherProof()
                                    && c.seen().chain().isEmpty()
                                    && c.question().bySecret(),
                            "the server has another shared secret",
                            "compare the shared secret with the listener's"),
                    row(
                            Rung.TRUST,
                            "server-proof-wrong",
                            CERTAIN,
                            c -> c.seen().broken().isPresent()
                                    && !c.otherProof()
                                    && !c.question().bySecret(),
                            "the server could not prove that it has the certificate's key",
                            "this is not the real server, or its key and certificate do not belong together: check the gateway"),
                    CauseTable.<Case>clockIsOdd(Case::clockIsOdd),
                    CauseTable.<Case>serverCertificateEnded(c -> c.fault(ServerTrust.Kind.ENDED) && !c.clockIsOdd()),
                    CauseTable.<Case>serverCertificateNotYet(c -> c.fault(ServerTrust.Kind.NOT_YET) && !c.clockIsOdd()),
                    row(
                            Rung.TRUST,
                            "stale-file",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.FOREIGN) && c.known(TrialContext::newerRevision),
                            "the file trusts an authority that the server no longer uses; a newer revision exists",
                            "hand out the newest revision of the profile: tender handout prepare PROFILE"),
                    row(
                            Rung.TRUST,
                            "server-foreign-authority",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.FOREIGN) && !c.known(TrialContext::newerRevision),
                            "the server's certificate is signed by an authority that the file does not trust",
                            "see whether this is the right server; if it is, " + AGAIN),
                    row(
                            Rung.TRUST,
                            "server-name-differs",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.OTHER_NAME),
                            "the server's certificate does not contain the name that the file requires",
                            "check that this is the right server; then install a certificate with that name"),
                    row(
                            Rung.TRUST,
                            "large-packets-lost",
                            LIKELY,
                            c -> c.seen().came(Stage.ANSWERED)
                                    && c.seen().broken().isEmpty()
                                    && c.seen().chain().isEmpty(),
                            "small packets pass, but the larger authentication packets get no answer: they are lost on the way, or the server drops them",
                            "lower the MTU on the way; the gateway's log shows whether they arrived"),
                    row(
                            Rung.AUTHENTICATION,
                            "password-missing",
                            CERTAIN,
                            c -> c.question().byPassword()
                                    && c.question().settings().secret().isEmpty(),
                            "the file needs a name and password, and no password was given",
                            "give it: tender trial run FILE --user NAME"),
                    row(
                            Rung.AUTHENTICATION,
                            "password-refused",
                            CERTAIN,
                            c -> c.seen().said("EAP: E=")
                                    || c.seen().said("EAP failure")
                                    || c.seen().said("know the password"),
                            "the name or password was refused",
                            "check the account on the gateway or in its directory"),
                    row(
                            Rung.AUTHENTICATION,
                            "password-wanted",
                            CERTAIN,
                            c -> !c.question().byPassword() && c.seen().said("(EAP)"),
                            "the server asks for a name and password, and the file does not",
                            AGAIN),
                    row(
                            Rung.AUTHENTICATION,
                            "password-wanted",
                            LIKELY,
                            c -> c.unproven() && c.seen().asksPassword() && !c.explained(),
                            "the server refuses this client, and asks others for a name and password",
                            AGAIN),
                    row(
                            Rung.AUTHENTICATION,
                            "other-way-wanted",
                            CERTAIN,
                            c -> c.seen().said("EAP method"),
                            "the server requires an authentication method that this file does not provide",
                            "enable MSCHAPv2 passwords on the listener, or issue a profile with a certificate"),
                    row(
                            Rung.AUTHENTICATION,
                            "certificate-expired",
                            CERTAIN,
                            c -> c.own(o -> o.ends().isBefore(c.question().now())),
                            "the file's certificate has expired",
                            "renew the profile and hand it out"),
                    row(
                            Rung.AUTHENTICATION,
                            "certificate-not-yet",
                            CERTAIN,
                            c -> c.own(o -> o.starts().isAfter(c.question().now())),
                            "the file's certificate is not valid yet",
                            "wait, or check the clocks"),
                    row(
                            Rung.AUTHENTICATION,
                            "certificate-revoked",
                            CERTAIN,
                            c -> c.known(TrialContext::revoked),
                            "the file's certificate is revoked",
                            "issue a new profile if this device may still connect"),
                    row(
                            Rung.AUTHENTICATION,
                            "own-name-differs",
                            CERTAIN,
                            c -> c.unproven() && c.ownNameDiffers(),
                            "the file's identity is not in its certificate",
                            "set id in the file's local section to a name in the certificate, or remove it"),
                    row(
                            Rung.AUTHENTICATION,
                            "secret-differs",
                            LIKELY,
                            c -> c.unproven() && c.question().bySecret() && !c.explained(),
                            "the server has another shared secret, or does not know this name",
                            "compare the shared secret with the listener's"),
                    row(
                            Rung.AUTHENTICATION,
                            "foreign-authority",
                            LIKELY,
                            c -> c.unproven()
                                    && c.own(o -> true)
                                    && !c.explained()
                                    && !c.question().ownIsTheAuthoritys(),
                            "the file's certificate is signed by another authority than the server trusts",
                            "issue a profile with the authority that the listener trusts"),
                    row(
                            Rung.AUTHENTICATION,
                            "certificate-revoked",
                            LIKELY,
                            c -> c.unproven()
                                    && c.own(o -> true)
                                    && !c.explained()
                                    && c.question().ownIsTheAuthoritys(),
                            "the server refuses without a reason, as it does for a revoked certificate",
                            "check the gateway's revocation list and log"),
                    row(
                            Rung.AUTHENTICATION,
                            "server-name-differs",
                            CERTAIN,
                            c -> c.unproven()
                                    && (c.serverNameDiffers()
                                            || c.seen().otherwiseNamed().isPresent()),
                            "the file requires another server name than the listener has",
                            AGAIN),
                    row(
                            Rung.AUTHENTICATION,
                            "identity-unknown",
                            POSSIBLE,
                            c -> c.unproven() && !c.explained(),
                            "the server has no connection for the file's identities",
                            "compare both identities with the listener's"),
                    row(
                            Rung.AUTHENTICATION,
                            "went-silent",
                            POSSIBLE,
                            c -> c.seen().refused().isEmpty(),
                            "the server stopped answering during the handshake",
                            "check the gateway's log for the reason"),
                    row(
                            Rung.AUTHENTICATION,
                            "refused",
                            LIKELY,
                            c -> c.seen().refused().isPresent()
                                    && !c.unproven()
                                    && !c.seen().said("EAP"),
                            "the server refuses by a rule of its own",
                            "check the gateway's log for the rule"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "pool-full",
                            CERTAIN,
                            c -> c.seen().said("INTERNAL_ADDRESS_FAILURE"),
                            "the listener has no free tunnel address, or none for this client",
                            "widen its tunnel network, or withdraw unused profiles"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "reach-refused",
                            CERTAIN,
                            c -> c.seen().said("TS_UNACCEPTABLE"),
                            "the listener allows none of the file's reach",
                            "compare the profile's reach with the listener's networks"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "cipher-mismatch",
                            CERTAIN,
                            c -> c.seen().said("NO_PROPOSAL_CHOSEN"),
                            "the two sides have no tunnel algorithms in common",
                            "offer a common set on both sides, such as aes256gcm16"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "no-address",
                            CERTAIN,
                            c -> c.seen().refused().isEmpty()
                                    && c.seen().addresses().isEmpty(),
                            "the server gave no tunnel address",
                            "set a tunnel network on the listener"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "inside-filter",
                            LIKELY,
                            c -> !c.seen().addresses().isEmpty(),
                            "the tunnel is up, but nothing comes back: the gateway blocks traffic, or ESP packets are lost",
                            "check the gateway's firewall rules, and that large packets pass on udp 4500")))
            .with(new CauseTable.Common<>(
                    c -> c.seen().name(),
                    c -> c.seen().path(),
                    c -> c.seen().dialled(),
                    c -> true,
                    Case::known,
                    new CauseTable.Inside<>(
                            c -> c.question().insideHost().isPresent(),
                            c -> c.question()
                                    .insideHost()
                                    .filter(h -> c.question().reaches(h, c.seen()))
                                    .isPresent(),
                            c -> c.seen().gateway() == Observation.Echo.ANSWERED)));

    private IkeCauses() {}
}
