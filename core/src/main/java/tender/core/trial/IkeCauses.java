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
import tender.core.office.Attribute;

/** The table of causes of IKEv2 trials. */
final class IkeCauses {
    /** What a row judges. */
    record Case(IkeQuestion question, IkeSeen seen, ServerTrust trust, Optional<Circumstances> known) {
        boolean known(Predicate<Circumstances> test) {
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
            return seen.broken().filter(b -> b.contains("the file wants")).isPresent();
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

    private static final String AGAIN =
            "make the file anew for the listener as it is now, and hand it out: tender profile renew PROFILE";

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
                            "udp 500 answers and udp 4500 does not: callers behind NAT, and that is nearly everyone, get no further",
                            "forward udp 4500 to the listener and let it through, beside udp 500"),
                    row(
                            Rung.PORT,
                            "ike-port-shut",
                            LIKELY,
                            Case::shutFirst,
                            "udp 4500 answers and udp 500 does not: clients begin at 500 and never get to 4500",
                            "forward udp 500 to the listener and let it through, beside udp 4500"),
                    CauseTable.<Case>pathBlocked(
                            Rung.PORT,
                            c -> c.blocked() && (c.onePortShut() || c.seen().path() != Observation.Path.ANSWERED)),
                    row(
                            Rung.PORT,
                            "port-refused",
                            LIKELY,
                            c -> c.seen().path() == Observation.Path.REFUSED,
                            "nothing listens on that port: the listener is off",
                            "see that the listener runs at the gateway"),
                    CauseTable.<Case>pathBlocked(Rung.HANDSHAKE, Case::blocked),
                    row(
                            Rung.HANDSHAKE,
                            "cipher-mismatch",
                            LIKELY,
                            c -> c.seen().said("NO_PROPOSAL_CHOSEN"),
                            "the server takes none of the algorithms that the file offers, or has no connection for this caller",
                            "let the listener offer a common set, such as aes256-sha256-modp2048"),
                    row(
                            Rung.HANDSHAKE,
                            "group-mismatch",
                            CERTAIN,
                            c -> c.seen().said("INVALID_KE_PAYLOAD"),
                            "the server wants a Diffie-Hellman group that the file does not offer",
                            "add the server's group to the file's proposals, or the file's to the server's"),
                    row(
                            Rung.HANDSHAKE,
                            "no-ikev2",
                            CERTAIN,
                            c -> c.seen().said("INVALID_MAJOR_VERSION"),
                            "the server does not speak IKE version 2",
                            "switch IKEv2 on at the gateway"),
                    row(
                            Rung.HANDSHAKE,
                            "handshake-refused",
                            LIKELY,
                            c -> c.seen().refused().isPresent()
                                    && !c.seen().said("NO_PROPOSAL_CHOSEN")
                                    && !c.seen().said("INVALID_KE_PAYLOAD")
                                    && !c.seen().said("INVALID_MAJOR_VERSION"),
                            "the server refuses the first message",
                            "the gateway's log tells why"),
                    row(
                            Rung.HANDSHAKE,
                            "filtered",
                            LIKELY,
                            c -> c.seen().refused().isEmpty() && c.known().isEmpty(),
                            "no answer on 500 or 4500: a network between lets neither through, or no forward leads to the listener",
                            "try from inside; if that works, the way from outside is shut"),
                    row(
                            Rung.HANDSHAKE,
                            "filtered",
                            POSSIBLE,
                            c -> c.seen().refused().isEmpty() && c.known().isPresent(),
                            "a filter on the way drops the packets",
                            "try from inside; if that works, the way from outside is shut"),
                    row(
                            Rung.HANDSHAKE,
                            "listener-off",
                            POSSIBLE,
                            c -> c.seen().refused().isEmpty(),
                            "the listener is off, or holds back because too many callers from here began and did not finish",
                            "see that it runs; wait half a minute and try again"),
                    row(
                            Rung.TRUST,
                            "other-proof",
                            CERTAIN,
                            Case::otherProof,
                            "the server does not prove itself in the way that the file wants",
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
                            "the server could not prove that the certificate is its own",
                            "this is no right server, or its key and certificate do not belong together: look at the gateway"),
                    CauseTable.<Case>clockIsOdd(Case::clockIsOdd),
                    CauseTable.<Case>serverCertificateEnded(c -> c.fault(ServerTrust.Kind.ENDED) && !c.clockIsOdd()),
                    CauseTable.<Case>serverCertificateNotYet(c -> c.fault(ServerTrust.Kind.NOT_YET) && !c.clockIsOdd()),
                    row(
                            Rung.TRUST,
                            "stale-file",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.FOREIGN) && c.known(Circumstances::newerRevision),
                            "the file believes an authority that the server left; a newer revision exists",
                            "hand out the newest revision of the profile: tender handout prepare PROFILE"),
                    row(
                            Rung.TRUST,
                            "server-foreign-authority",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.FOREIGN) && !c.known(Circumstances::newerRevision),
                            "the server's certificate is signed by an authority that the file does not believe",
                            "see whether this is the right server; if it is, " + AGAIN),
                    row(
                            Rung.TRUST,
                            "server-name-differs",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.OTHER_NAME),
                            "the server's certificate has another name than the file wants",
                            "see that this is the right server; then give the listener a certificate with that name"),
                    row(
                            Rung.TRUST,
                            "large-packets-lost",
                            LIKELY,
                            c -> c.seen().came(Stage.ANSWERED)
                                    && c.seen().broken().isEmpty()
                                    && c.seen().chain().isEmpty(),
                            "small packets pass and the larger ones that say who is who get no answer: they are lost on the way, or the server drops them",
                            "lower the packet size on the way; the gateway's log tells whether they came"),
                    row(
                            Rung.AUTHENTICATION,
                            "password-missing",
                            CERTAIN,
                            c -> c.question().byPassword()
                                    && c.question().settings().secret().isEmpty(),
                            "the file asks for a name and password, and no password was given",
                            "give it: tender trial run FILE --user NAME"),
                    row(
                            Rung.AUTHENTICATION,
                            "password-refused",
                            CERTAIN,
                            c -> c.seen().said("EAP: E=")
                                    || c.seen().said("EAP failure")
                                    || c.seen().said("know the password"),
                            "name or password were refused",
                            "check the account at the gateway or its directory"),
                    row(
                            Rung.AUTHENTICATION,
                            "password-wanted",
                            CERTAIN,
                            c -> !c.question().byPassword() && c.seen().said("(EAP)"),
                            "the server wants a name and password, and the file knows of none",
                            AGAIN),
                    row(
                            Rung.AUTHENTICATION,
                            "password-wanted",
                            LIKELY,
                            c -> c.unproven() && c.seen().asksPassword() && !c.explained(),
                            "the server does not let this one in, and asks others for a name and password",
                            AGAIN),
                    row(
                            Rung.AUTHENTICATION,
                            "other-way-wanted",
                            CERTAIN,
                            c -> c.seen().said("EAP method"),
                            "the server wants to know the person in a way that the file does not know",
                            "let the listener take passwords by MSCHAPv2, or issue a profile with a certificate"),
                    row(
                            Rung.AUTHENTICATION,
                            "certificate-ended",
                            CERTAIN,
                            c -> c.own(o -> o.ends().isBefore(c.question().now())),
                            "the file's own certificate has ended",
                            "renew the profile and hand it out"),
                    row(
                            Rung.AUTHENTICATION,
                            "certificate-not-yet",
                            CERTAIN,
                            c -> c.own(o -> o.starts().isAfter(c.question().now())),
                            "the file's own certificate does not count yet",
                            "wait, or compare the clocks"),
                    row(
                            Rung.AUTHENTICATION,
                            "certificate-revoked",
                            CERTAIN,
                            c -> c.known(Circumstances::revoked),
                            "the file's own certificate was revoked",
                            "issue a new profile, if this device should still get in"),
                    row(
                            Rung.AUTHENTICATION,
                            "own-name-differs",
                            CERTAIN,
                            c -> c.unproven() && c.ownNameDiffers(),
                            "the file says it is somebody whom its own certificate does not name",
                            "let id in the file's local section say what the certificate says, or leave it out"),
                    row(
                            Rung.AUTHENTICATION,
                            "secret-differs",
                            LIKELY,
                            c -> c.unproven() && c.question().bySecret() && !c.explained(),
                            "the server has another shared secret, or knows nobody by this name",
                            "compare the shared secret with the listener's"),
                    row(
                            Rung.AUTHENTICATION,
                            "foreign-authority",
                            LIKELY,
                            c -> c.unproven()
                                    && c.own(o -> true)
                                    && !c.explained()
                                    && !c.question().ownIsTheAuthoritys(),
                            "the file's own certificate is signed by another authority than the server's",
                            "issue a profile with the authority that the listener believes"),
                    row(
                            Rung.AUTHENTICATION,
                            "certificate-revoked",
                            LIKELY,
                            c -> c.unproven()
                                    && c.own(o -> true)
                                    && !c.explained()
                                    && c.question().ownIsTheAuthoritys(),
                            "the server refuses and gives no reason, as it does towards a certificate that was revoked",
                            "the gateway's list of the revoked or its log tells"),
                    row(
                            Rung.AUTHENTICATION,
                            "server-name-differs",
                            CERTAIN,
                            c -> c.unproven()
                                    && (c.serverNameDiffers()
                                            || c.seen().otherwiseNamed().isPresent()),
                            "the file wants a server by another name than the listener's",
                            AGAIN),
                    row(
                            Rung.AUTHENTICATION,
                            "identity-unknown",
                            POSSIBLE,
                            c -> c.unproven() && !c.explained(),
                            "the server has no connection for who the file says it is, or whom it calls",
                            "compare both identities with the listener's"),
                    row(
                            Rung.AUTHENTICATION,
                            "went-silent",
                            POSSIBLE,
                            c -> c.seen().refused().isEmpty(),
                            "the server stopped answering in the middle",
                            "the gateway's log tells why"),
                    row(
                            Rung.AUTHENTICATION,
                            "refused",
                            LIKELY,
                            c -> c.seen().refused().isPresent()
                                    && !c.unproven()
                                    && !c.seen().said("EAP"),
                            "the server refuses by a rule of its own",
                            "the gateway's log tells which"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "pool-full",
                            CERTAIN,
                            c -> c.seen().said("INTERNAL_ADDRESS_FAILURE"),
                            "the listener has no tunnel address left, or none for this caller",
                            "widen its tunnel network, or withdraw unused profiles"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "reach-refused",
                            CERTAIN,
                            c -> c.seen().said("TS_UNACCEPTABLE"),
                            "the listener lets nothing of the file's reach through",
                            "compare the profile's reach with the listener's networks"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "cipher-mismatch",
                            CERTAIN,
                            c -> c.seen().said("NO_PROPOSAL_CHOSEN"),
                            "the two sides have no algorithms for the tunnel in common",
                            "let both offer a common set, such as aes256gcm16"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "no-address",
                            CERTAIN,
                            c -> c.seen().refused().isEmpty()
                                    && c.seen().addresses().isEmpty(),
                            "the server gave no tunnel address",
                            "give the listener a network for its callers"),
                    row(
                            Rung.TUNNEL_ADDRESS,
                            "inside-filter",
                            LIKELY,
                            c -> !c.seen().addresses().isEmpty(),
                            "the tunnel is up, but nothing comes back through it: the gateway lets nothing pass, or packets of ESP are lost",
                            "check the gateway's filter, and that udp 4500 lets large packets through")))
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
