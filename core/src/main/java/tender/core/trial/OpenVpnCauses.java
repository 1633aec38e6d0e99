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
    record Case(OpenVpnQuestion question, OpenVpnSeen seen, ServerTrust trust, Optional<TrialContext> evidence) {
        boolean known(Predicate<TrialContext> test) {
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

        boolean portMoved() {
            return known(e -> e.listener()
                    .filter(l -> l.port()
                                    .filter(p -> !p.equals(question.endpoint().port()))
                                    .isPresent()
                            || l.transport() != question.endpoint().transport())
                    .isPresent());
        }

        boolean wrapped() {
            return !question.settings().controlChannelKey().kind().equals("none");
        }

        boolean controlChannelKeyTypeDiffers() {
            return known(e -> e.listener()
                    .flatMap(l -> l.get(Attribute.CONTROL_CHANNEL_KEY))
                    .filter(w ->
                            !w.equals(question.settings().controlChannelKey().kind()))
                    .isPresent());
        }

        boolean digestDiffers() {
            return question.settings().controlChannelKey().kind().equals("auth")
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

    private static final String AGAIN = "renew the profile and hand it out: tender profile renew PROFILE";

    static final CauseTable<Case> TABLE = new CauseTable<Case>(List.of(
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "proxy-refuses",
                            CERTAIN,
                            c -> c.seen().proxySays().isPresent(),
                            "the proxy in the file does not connect to the server",
                            "check that the proxy allows this server and port, or remove the proxy line from the file"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "proxy-shut",
                            CERTAIN,
                            c -> c.question().proxy().isPresent()
                                    && c.seen().proxySays().isEmpty()
                                    && c.seen().path() != Observation.Path.ANSWERED,
                            "the proxy in the file does not answer",
                            "correct the proxy line, or remove it if the network needs no proxy"),
                    transportDiffers(Rung.PORT),
                    transportDiffers(Rung.HANDSHAKE),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "other-service",
                            CERTAIN,
                            c -> c.seen().answersOtherwise(Otherwise.Kind.SERVICE),
                            "another service answers on that port, not OpenVPN",
                            "set the listener's port, or move that service"),
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
                            "control-channel-key-differs",
                            CERTAIN,
                            c -> c.seen().answersOtherwise(Otherwise.Kind.CONTROL_CHANNEL_KEY),
                            "the server answers if the file's control-channel key is used as another type, or not at all",
                            "write the key into the file as told above"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-differs",
                            CERTAIN,
                            Case::portMoved,
                            "the listener is on another port or transport than in the file",
                            AGAIN),
                    CauseTable.<Case>pathBlocked(
                            Rung.PORT, c -> c.known(e -> e.blocked().isPresent())),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-refused",
                            LIKELY,
                            c -> c.seen().path() == Observation.Path.REFUSED,
                            "nothing listens on that port: it is the wrong port, or the listener is off",
                            "compare the port with the listener's, and check that the listener runs"),
                    new CauseTable.Row<Case>(
                            Rung.PORT,
                            "port-silent",
                            LIKELY,
                            c -> c.tcp() && c.seen().path() == Observation.Path.SILENT,
                            "no answer to the connection: a firewall drops it, or no forward leads to the listener",
                            "check the firewall rules and forwards on the way"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "port-differs",
                            CERTAIN,
                            Case::portMoved,
                            "the listener is on another port or transport than in the file",
                            AGAIN),
                    CauseTable.<Case>pathBlocked(
                            Rung.HANDSHAKE, c -> c.known(e -> e.blocked().isPresent())),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "control-channel-key-differs",
                            CERTAIN,
                            Case::controlChannelKeyTypeDiffers,
                            "the listener uses another control-channel key type than the file",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "digest-differs",
                            CERTAIN,
                            Case::digestDiffers,
                            "the listener uses another digest (auth) for control packets than the file",
                            "set the file's auth to the listener's"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "control-channel-key-differs",
                            LIKELY,
                            c -> c.tcp() && c.seen().closed(),
                            "the server accepts the connection and closes it at the first packet: the control-channel key differs or is missing, or it is not OpenVPN",
                            "compare the control-channel key with the listener's"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "no-openvpn",
                            POSSIBLE,
                            c -> c.tcp() && !c.seen().closed(),
                            "another service answers there, not OpenVPN",
                            "check what listens on that port"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "control-channel-key-differs",
                            LIKELY,
                            c -> !c.tcp(),
                            "no answer: an OpenVPN server ignores clients whose tls-auth/tls-crypt key or digest is wrong or missing",
                            "check the gateway's log for HMAC or unwrap errors"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "filtered",
                            LIKELY,
                            c -> !c.tcp() && c.evidence().isEmpty(),
                            "no answer: a firewall drops the packets, or no forward leads to the listener",
                            "try from inside; if that works, the path from outside is blocked"),
                    new CauseTable.Row<Case>(
                            Rung.HANDSHAKE,
                            "filtered",
                            POSSIBLE,
                            c -> !c.tcp() && c.evidence().isPresent(),
                            "a firewall on the way drops the packets",
                            "try from inside; if that works, the path from outside is blocked"),
                    CauseTable.<Case>clockIsOdd(Case::clockIsOdd),
                    CauseTable.<Case>serverCertificateEnded(c -> c.fault(ServerTrust.Kind.ENDED) && !c.clockIsOdd()),
                    CauseTable.<Case>serverCertificateNotYet(c -> c.fault(ServerTrust.Kind.NOT_YET) && !c.clockIsOdd()),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "stale-file",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.FOREIGN) && c.known(TrialContext::newerRevision),
                            "the file trusts an authority that the server no longer uses; a newer revision exists",
                            "hand out the newest revision of the profile: tender handout prepare PROFILE"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "server-foreign-authority",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.FOREIGN) && !c.known(TrialContext::newerRevision),
                            "the server's certificate is signed by an authority that the file does not trust",
                            "see whether this is the right server; if it is, " + AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "server-name-differs",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.OTHER_NAME),
                            "the server's certificate does not contain the name that the file requires",
                            "check that this is the right server; then install a certificate with that name"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "server-certificate-use",
                            CERTAIN,
                            c -> c.fault(ServerTrust.Kind.NO_SERVER),
                            "the certificate is not a server certificate",
                            "install a server certificate on the listener"),
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
                            "compare tls-cipher and the key types"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "tls-broken",
                            LIKELY,
                            c -> c.seen().broken().isPresent(),
                            "the answer is not valid TLS: the server is broken, or something on the path changes packets",
                            "check the gateway's log"),
                    CauseTable.serverGone(Rung.TRUST, Case::isGone),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "server-ends",
                            LIKELY,
                            c -> c.tcp()
                                    && c.seen().closed()
                                    && c.seen().broken().isEmpty()
                                    && c.seen().chain().isEmpty(),
                            "the server answered, then closed the connection before it sent its certificate",
                            "check the gateway's log; try again"),
                    new CauseTable.Row<Case>(
                            Rung.TRUST,
                            "large-packets-lost",
                            POSSIBLE,
                            c -> c.seen().broken().isEmpty()
                                    && c.seen().chain().isEmpty()
                                    && !c.seen().closed(),
                            "the server answered the first packet but never sent its certificate: large packets may get lost",
                            "lower the MTU on the way, or try TCP"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "key-differs",
                            CERTAIN,
                            c -> !c.question().ownKeyFits(),
                            "the private key in the file does not belong to its certificate; clients do not start",
                            "use the key and certificate that belong together, or renew the profile: tender profile renew PROFILE"),
                    CauseTable.serverGone(Rung.AUTHENTICATION, Case::isGone),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "cipher-mismatch",
                            CERTAIN,
                            c -> c.said("cipher"),
                            "the server and the file have no cipher in common",
                            "offer a common cipher on both sides, such as AES-256-GCM"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "password-missing",
                            CERTAIN,
                            c -> c.question().settings().asksPassword()
                                    && c.question().settings().user().isEmpty(),
                            "the file needs a name and password, and none was given",
                            "give them: tender trial run --file FILE --user NAME"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "code-missing",
                            CERTAIN,
                            c -> c.said("AUTH_FAILED") && c.codeMissing(),
                            "the server asks for a one-time code, and none was given",
                            "give it: tender trial run FILE --user NAME --code"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "password-refused",
                            CERTAIN,
                            c -> c.said("AUTH_FAILED")
                                    && c.question().settings().user().isPresent(),
                            "the name, password or one-time code was refused",
                            "check the account on the gateway or in its directory"),
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
                            "the server requires a name and password, and the file does not ask for them",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "server-restarts",
                            CERTAIN,
                            c -> c.said("RESTART") || c.said("HALT"),
                            "the server is refusing clients for now",
                            "try again later, or find out why it restarts"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-expired",
                            CERTAIN,
                            c -> c.own(o -> o.ends().isBefore(c.question().now())) || c.alert("certificate_expired"),
                            "the file's certificate has expired",
                            "renew the profile and hand it out"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-not-yet",
                            CERTAIN,
                            c -> c.own(o -> o.starts().isAfter(c.question().now())),
                            "the file's certificate is not valid yet",
                            "wait, or check the clocks"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-use",
                            CERTAIN,
                            c -> c.own(o -> o.role() == CertificateFacts.Role.SERVER)
                                    || c.alert("unsupported_certificate"),
                            "the file's certificate is a server certificate",
                            "issue a client certificate"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-revoked",
                            CERTAIN,
                            c -> c.known(TrialContext::revoked) || c.alert("certificate_revoked"),
                            "the file's certificate is revoked",
                            "issue a new profile if this device may still connect"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-missing",
                            CERTAIN,
                            c -> c.seen().certificateAsked()
                                    && c.question().settings().identity().isEmpty(),
                            "the server requires a client certificate, and the file has none",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "foreign-authority",
                            CERTAIN,
                            c -> c.alert("unknown_ca"),
                            "the server does not trust the authority of the file's certificate",
                            AGAIN),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "foreign-authority",
                            LIKELY,
                            c -> c.wentSilent() && !c.question().ownIsTheAuthoritys(),
                            "the file's certificate is signed by another authority than the server trusts",
                            "issue a profile with the authority that the listener trusts"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "certificate-revoked",
                            LIKELY,
                            c -> c.wentSilent()
                                    && c.question().ownIsTheAuthoritys()
                                    && c.question().settings().identity().isPresent(),
                            "the server stops answering after it has seen the certificate, as it does for a revoked one",
                            "check the gateway's revocation list and log"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "refused",
                            POSSIBLE,
                            c -> c.seen().refused().isEmpty(),
                            "the server refuses by a rule of its own: a script, a limit, a required password, or an expired revocation list",
                            "check the gateway's log"),
                    new CauseTable.Row<Case>(
                            Rung.AUTHENTICATION,
                            "pushed-option-rejected",
                            CERTAIN,
                            c -> c.said("pull-filter"),
                            "a pull-filter in the file rejects an option that the server pushes, and the client disconnects",
                            "remove the pull-filter line from the file, or the option from the server"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "takes-nothing",
                            CERTAIN,
                            c -> !c.question().settings().pull().pulls(),
                            "the file accepts no address and no routes from the server: it has neither client nor pull",
                            "replace tls-client with client, or hand out the newest revision of the profile"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "device-type-differs",
                            CERTAIN,
                            c -> c.seen().bridged() != c.question().bridges(),
                            "one side uses a tun device (IP packets), the other a tap device (Ethernet frames)",
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
                            "the server uses another digest for the tunnel's packets than the file",
                            "set the same auth on both sides, or offer AES-256-GCM on both, which needs none"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "inside-filter",
                            LIKELY,
                            c -> true,
                            "the tunnel is up, but the gateway blocks its traffic or does not answer ping",
                            "check the gateway's firewall rules for the tunnel interface"),
                    new CauseTable.Row<Case>(
                            Rung.TUNNEL_ADDRESS,
                            "data-keys-differ",
                            POSSIBLE,
                            c -> true,
                            "the other side may not be able to decrypt packets: cipher, digest or compression differ",
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
