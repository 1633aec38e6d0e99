package tender.core.trial;

import static tender.core.trial.Certainty.CERTAIN;
import static tender.core.trial.Certainty.LIKELY;
import static tender.core.trial.Certainty.POSSIBLE;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Predicate;
import tender.core.certificate.CertificateFacts;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.OpenVpnSeen.Stage;

/**
 * The table of causes of OpenVPN trials. All rows that apply at the failing rung are given, surest first, together with what
 * the gateway's log says of that moment; a certain one hides the rest.
 */
final class OpenVpnCauses {
    /** What a row judges. */
    record Case(OpenVpnQuestion question, OpenVpnSeen seen, ServerTrust trust, Optional<Circumstances> evidence) {
        boolean known(Predicate<Circumstances> test) {
            return evidence.filter(test).isPresent();
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

        boolean tcp() {
            return question.endpoint().transport() == Transport.TCP;
        }

        boolean doorMoved() {
            return known(e -> e.listener()
                    .filter(l -> l.port()
                                    .filter(p -> !p.equals(question.endpoint().port()))
                                    .isPresent()
                            || l.transport() != question.endpoint().transport())
                    .isPresent());
        }

        boolean wrapped() {
            return !question.settings().wrapping().kind().equals("none");
        }

        boolean wrappingKindDiffers() {
            return known(e -> e.listener()
                    .flatMap(l -> l.get(Attribute.WRAPPING))
                    .filter(w -> !w.equals(question.settings().wrapping().kind()))
                    .isPresent());
        }

        boolean digestDiffers() {
            return question.settings().wrapping().kind().equals("auth")
                    && known(e -> e.listener()
                            .flatMap(l -> l.get(Attribute.DIGEST))
                            .filter(d -> !d.equalsIgnoreCase(question.settings().digest()))
                            .isPresent());
        }

        /** The file says that a code is asked for, or the server asked for one. */
        boolean codeMissing() {
            boolean given = question.settings()
                    .user()
                    .flatMap(ClientSettings.Login::code)
                    .isPresent();
            return !given
                    && question.settings().user().isPresent()
                    && (question.settings().asksCode() || said("CRV1:"));
        }

        boolean said(String words) {
            return seen.refused().filter(r -> r.contains(words)).isPresent();
        }

        boolean alert(String words) {
            return seen.broken()
                    .filter(b -> b.matches(".*alert of the server: (" + words + ").*"))
                    .isPresent();
        }

        /** With a cipher that does not authenticate, both sides protect packets by a digest that nobody agrees on. */
        boolean dataDigestDiffers() {
            return seen.cipher()
                            .filter(c -> c.toUpperCase(Locale.ROOT).endsWith("-CBC"))
                            .isPresent()
                    && seen.serverDigest()
                            .filter(d -> !d.equalsIgnoreCase(question.settings().digest()))
                            .isPresent();
        }

        /** Over UDP: the port answered, and then nothing listened on it any more. */
        boolean isGone() {
            return !tcp() && seen.closed();
        }

        /** The server's half was fine and then nothing came, or the line was closed: what a refused client sees. */
        boolean wentSilent() {
            return !isGone()
                    && question.ownKeyFits()
                    && !seen.chain().isEmpty()
                    && trust.fatal().isEmpty()
                    && seen.refused().isEmpty()
                    && !seen.came(Stage.UP);
        }
    }

    /** Whether the server speaks an older TLS than the file accepts. */
    static boolean isTooOld(OpenVpnQuestion question, OpenVpnSeen seen) {
        Optional<String> least = question.file().last("tls-version-min").flatMap(d -> d.word(0));
        return least.isPresent()
                && seen.tlsVersion()
                        .filter(v -> v.startsWith("TLS ") && v.substring(4).compareTo(least.get()) < 0)
                        .isPresent();
    }

    private static CauseTable.Row<Case> transportDiffers(Rung rung) {
        return new CauseTable.Row<>(
                rung,
                "transport-differs",
                CERTAIN,
                c -> c.seen().answersOtherwise(Otherwise.Kind.TRANSPORT),
                "the server answers on the same port over the other transport",
                "set the file's transport as told above: proto, or the last word of remote");
    }

    private static final String AGAIN =
            "make the file anew for the listener as it is now, and hand it out: tender profile renew PROFILE";

    static final CauseTable<Case> TABLE = new CauseTable<Case>(List.of(
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "proxy-refuses",
                            CERTAIN,
                            c -> c.seen().proxySays().isPresent(),
                            "the proxy that the file names lets nothing through to the server",
                            "see that the proxy allows this server and port, or take the proxy's line out of the file"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "proxy-shut",
                            CERTAIN,
                            c -> c.question().proxy().isPresent()
                                    && c.seen().proxySays().isEmpty()
                                    && c.seen().path() != Observation.Path.ANSWERED,
                            "the proxy that the file names does not answer",
                            "correct the proxy's line, or take it out of the file where the network needs none"),
                    transportDiffers(Rung.PORT),
                    transportDiffers(Rung.HANDSHAKE),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "other-service",
                            CERTAIN,
                            c -> c.seen().answersOtherwise(Otherwise.Kind.SERVICE),
                            "another service answers on that port, and no OpenVPN",
                            "set the port that the listener is on, or move that service"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "key-direction",
                            CERTAIN,
                            c -> c.seen().answersOtherwise(Otherwise.Kind.DIRECTION),
                            "the server answers when the tls-auth key is used in another direction than the file says",
                            "set the file's key-direction as told above; a server with 0 needs 1 in the file"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "digest-differs",
                            CERTAIN,
                            c -> c.seen().answersOtherwise(Otherwise.Kind.DIGEST),
                            "the server answers when the tls-auth key is used with another digest than the file says",
                            "set the file's auth as told above"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "wrapping-differs",
                            CERTAIN,
                            c -> c.seen().answersOtherwise(Otherwise.Kind.WRAPPING),
                            "the server answers when the file's wrapping key is used in another way, or not at all",
                            "write the key into the file as told above"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-differs",
                            CERTAIN,
                            Case::doorMoved,
                            "the listener is on another port or transport than the file calls",
                            AGAIN),
                    CauseTable.<Case>pathBlocked(
                            Rung.PORT, c -> c.known(e -> e.blocked().isPresent())),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-refused",
                            LIKELY,
                            c -> c.seen().path() == Observation.Path.REFUSED,
                            "nothing listens on that port: it is another, or the listener is off",
                            "compare the port with the listener's, and see that it runs"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-silent",
                            LIKELY,
                            c -> c.tcp() && c.seen().path() == Observation.Path.SILENT,
                            "connecting gets no answer: a filter drops it, or no forward leads to the listener",
                            "check the filter and the forwards on the way"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "port-differs",
                            CERTAIN,
                            Case::doorMoved,
                            "the listener is on another port or transport than the file calls",
                            AGAIN),
                    CauseTable.<Case>pathBlocked(
                            Rung.HANDSHAKE, c -> c.known(e -> e.blocked().isPresent())),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "wrapping-differs",
                            CERTAIN,
                            Case::wrappingKindDiffers,
                            "the listener wraps its control packets in another way than the file",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "digest-differs",
                            CERTAIN,
                            Case::digestDiffers,
                            "the listener protects control packets by another digest (auth) than the file",
                            "set the file's auth to the listener's"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "wrapping-differs",
                            LIKELY,
                            c -> c.tcp() && c.seen().closed(),
                            "the server takes the connection and closes it at the first packet: another wrapping key, none, or no OpenVPN there",
                            "compare the wrapping key with the listener's"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "no-openvpn",
                            POSSIBLE,
                            c -> c.tcp() && !c.seen().closed(),
                            "something takes the connection and does not speak OpenVPN",
                            "see what listens on that port"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "wrapping-differs",
                            LIKELY,
                            c -> !c.tcp(),
                            "no answer: towards another wrapping key or digest, or none where one is wanted, an OpenVPN server is silent",
                            "the gateway's log tells it: HMAC or unwrap errors"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "filtered",
                            LIKELY,
                            c -> !c.tcp() && c.evidence().isEmpty(),
                            "no answer: a filter drops the packets, or no forward leads to the listener",
                            "try from inside; if that works, the way from outside is shut"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "filtered",
                            POSSIBLE,
                            c -> !c.tcp() && c.evidence().isPresent(),
                            "a filter on the way drops the packets",
                            "try from inside; if that works, the way from outside is shut"),
                    CauseTable.<Case>clockIsOdd(Case::clockIsOdd),
                    CauseTable.<Case>serverCertificateEnded(c -> c.fault(ServerTrust.Kind.ENDED) && !c.clockIsOdd()),
                    CauseTable.<Case>serverCertificateNotYet(c -> c.fault(ServerTrust.Kind.NOT_YET) && !c.clockIsOdd()),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "stale-file",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.FOREIGN) && c.known(Circumstances::newerRevision),
                            "the file believes an authority that the server left; a newer revision exists",
                            "hand out the newest revision of the profile: tender handout prepare PROFILE"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "server-foreign-authority",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.FOREIGN) && !c.known(Circumstances::newerRevision),
                            "the server's certificate is signed by an authority that the file does not believe",
                            "see whether this is the right server; if it is, " + AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "server-name-differs",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.OTHER_NAME),
                            "the server's certificate has another name than the file wants",
                            "see that this is the right server; then give the listener a certificate with that name"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "server-certificate-use",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.NO_SERVER),
                            "the certificate is not made for a server",
                            "give the listener a certificate for a server"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "tls-version",
                            CERTAIN,
                            c -> c.alert("protocol_version") || isTooOld(c.question(), c.seen()),
                            "the two sides have no TLS version in common",
                            "update the older side"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "tls-mismatch",
                            CERTAIN,
                            c -> c.alert("handshake_failure|insufficient_security"),
                            "the two sides have no TLS cipher or signature in common",
                            "compare tls-cipher and the kinds of keys"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "tls-broken",
                            LIKELY,
                            c -> c.seen().broken().isPresent(),
                            "what comes is no right TLS: a server that is broken, or something between that changes packets",
                            "look at the gateway's log"),
                    CauseTable.serverGone(Rung.TRUST, Case::isGone),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "server-ends",
                            LIKELY,
                            c -> c.tcp()
                                    && c.seen().closed()
                                    && c.seen().broken().isEmpty()
                                    && c.seen().chain().isEmpty(),
                            "the server answered and then ended the connection, before it showed who it is",
                            "look at the gateway's log; try again"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "large-packets-lost",
                            POSSIBLE,
                            c -> c.seen().broken().isEmpty()
                                    && c.seen().chain().isEmpty()
                                    && !c.seen().closed(),
                            "the server answered the first packet and never showed its certificate: large packets may get lost",
                            "lower the packet size on the way, or try TCP"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "key-differs",
                            CERTAIN,
                            c -> !c.question().ownKeyFits(),
                            "the private key in the file is not its certificate's; clients do not even begin",
                            "find the pair that belongs together, or issue the profile anew: tender profile renew PROFILE"),
                    CauseTable.serverGone(Rung.AUTHENTICATION, Case::isGone),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "cipher-mismatch",
                            CERTAIN,
                            c -> c.said("cipher"),
                            "the server and the file have no data cipher in common",
                            "let both offer a common one, such as AES-256-GCM"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "password-missing",
                            CERTAIN,
                            c -> c.question().settings().asksPassword()
                                    && c.question().settings().user().isEmpty(),
                            "the file asks for a name and password, and none was given",
                            "give them: tender trial run --file FILE --user NAME"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "code-missing",
                            CERTAIN,
                            c -> c.said("AUTH_FAILED") && c.codeMissing(),
                            "a one-time code is asked for, and none was given",
                            "give it: tender trial run FILE --user NAME --code"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "password-refused",
                            CERTAIN,
                            c -> c.said("AUTH_FAILED")
                                    && c.question().settings().user().isPresent(),
                            "name, password or one-time code were refused",
                            "check the account at the gateway or its directory"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "password-wanted",
                            CERTAIN,
                            c -> !c.question().settings().asksPassword()
                                    && (c.said("AUTH_FAILED")
                                            || c.known(e -> e.listener()
                                                    .flatMap(l -> l.get(Attribute.ACCOUNTS))
                                                    .filter(a -> !a.equals("none"))
                                                    .isPresent())),
                            "the server lets nobody in without a name and password, and the file knows of none",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "server-restarts",
                            CERTAIN,
                            c -> c.said("RESTART") || c.said("HALT"),
                            "the server sends callers away for now",
                            "try again later, or see why it restarts"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-ended",
                            CERTAIN,
                            c -> c.own(o -> o.ends().isBefore(c.question().now())) || c.alert("certificate_expired"),
                            "the file's own certificate has ended",
                            "renew the profile and hand it out"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-not-yet",
                            CERTAIN,
                            c -> c.own(o -> o.starts().isAfter(c.question().now())),
                            "the file's own certificate does not count yet",
                            "wait, or compare the clocks"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-use",
                            CERTAIN,
                            c -> c.own(o -> o.role() == CertificateFacts.Role.SERVER)
                                    || c.alert("unsupported_certificate"),
                            "the file's own certificate is a server's",
                            "issue a client's"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-revoked",
                            CERTAIN,
                            c -> c.known(Circumstances::revoked) || c.alert("certificate_revoked"),
                            "the file's own certificate was revoked",
                            "issue a new profile, if this device should still get in"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-missing",
                            CERTAIN,
                            c -> c.seen().certificateAsked()
                                    && c.question().settings().identity().isEmpty(),
                            "the server wants a certificate, and the file has none",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "foreign-authority",
                            CERTAIN,
                            c -> c.alert("unknown_ca"),
                            "the server does not believe the authority of the file's own certificate",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "foreign-authority",
                            LIKELY,
                            c -> c.wentSilent() && !c.question().ownIsTheAuthoritys(),
                            "the file's own certificate is signed by another authority than the server's",
                            "issue a profile with the authority that the listener believes"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-revoked",
                            LIKELY,
                            c -> c.wentSilent()
                                    && c.question().ownIsTheAuthoritys()
                                    && c.question().settings().identity().isPresent(),
                            "the server says nothing more once it has seen the certificate, as it does towards one that was revoked",
                            "the gateway's list of the revoked or its log tells"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "refused",
                            POSSIBLE,
                            c -> c.seen().refused().isEmpty(),
                            "the server lets nobody in by a rule of its own: a script, a limit, a password it wants, or an ended list of the revoked",
                            "look at the gateway's log"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "pushed-option-rejected",
                            CERTAIN,
                            c -> c.said("pull-filter"),
                            "the file has the client end the connection over an option that the server pushes",
                            "take the pull-filter line out of the file, or the option out of the server's"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "takes-nothing",
                            CERTAIN,
                            c -> !c.question().settings().pull().pulls(),
                            "the file takes no address and no routes from the server: it has neither client nor pull",
                            "write client in place of tls-client, or hand out the newest revision of the profile"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "device-type-differs",
                            CERTAIN,
                            c -> c.seen().bridged() != c.question().bridges(),
                            "one side's tunnel carries packets (tun), the other's frames of Ethernet (tap)",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "no-address",
                            CERTAIN,
                            c -> c.seen().address().isEmpty(),
                            "the server gave no tunnel address",
                            "widen the listener's tunnel network"),
                    CauseTable.serverGone(Rung.TUNNEL_ADDRESS, Case::isGone),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "digest-differs",
                            CERTAIN,
                            Case::dataDigestDiffers,
                            "the server protects the tunnel's packets by another digest than the file",
                            "let auth say the same on both sides, or let both offer AES-256-GCM, which needs none"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "inside-filter",
                            LIKELY,
                            c -> true,
                            "the tunnel is up, but the gateway lets nothing through it or does not answer echo",
                            "check the gateway's filter for the tunnel's interface"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "data-keys-differ",
                            POSSIBLE,
                            c -> true,
                            "packets may not open on the other side: cipher, digest or compression differ",
                            "compare cipher, auth and compression of both sides")))
            .with(new CauseTable.Common<>(
                    c -> c.seen().name(),
                    c -> c.seen().path(),
                    c -> c.question().proxy().isPresent()
                            ? Optional.empty()
                            : c.seen().dialled(),
                    c -> !c.tcp(),
                    Case::evidence,
                    new CauseTable.Inside<>(
                            c -> c.question().insideHost().isPresent(),
                            c -> c.question()
                                    .insideHost()
                                    .filter(h ->
                                            c.question().reaches(h, c.seen().pushed()))
                                    .isPresent(),
                            c -> c.seen().gateway() == Observation.Echo.ANSWERED)));

    private OpenVpnCauses() {}
}
