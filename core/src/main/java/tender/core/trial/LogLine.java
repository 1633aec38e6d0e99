package tender.core.trial;

import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * What lines in a VPN server's or client's log mean: one table, read by trials in the moment they fail and by whoever pastes
 * a log.
 */
public enum LogLine {
    CLIENT_REVOKED(
            "VERIFY ERROR.*certificate (has been )?revoked|certificate was revoked|certificate status is revoked",
            Rung.AUTHENTICATION,
            "certificate-revoked",
            Certainty.CERTAIN,
            "the certificate was revoked",
            "issue a new profile for this device, if it should still get in"),
    LIST_EXPIRED(
            "CRL has expired|crl is (stale|expired)",
            Rung.AUTHENTICATION,
            "revocation-list-expired",
            Certainty.CERTAIN,
            "the gateway's list of revoked certificates has ended, so it lets nobody in",
            "renew the list at the gateway: tender authority revocations"),
    CERTIFICATE_EXPIRED(
            "VERIFY ERROR.*certificate has expired|certificate_expired|certificate expired|subject certificate invalid.*(expired|notAfter)",
            Rung.AUTHENTICATION,
            "certificate-expired",
            Certainty.CERTAIN,
            "a certificate has ended",
            "renew the profile, or the server's certificate where it is that one"),
    CERTIFICATE_NOT_YET(
            "certificate is not yet valid",
            Rung.AUTHENTICATION,
            "certificate-not-yet",
            Certainty.CERTAIN,
            "a certificate does not count yet: one of the clocks is wrong",
            "set the clock of the machine that says so"),
    WRONG_USE(
            "unsupported certificate purpose|unsuitable certificate purpose|extended key usage .*(verification failed|mismatch)|VERIFY (EKU|KU) ERROR",
            Rung.AUTHENTICATION,
            "certificate-use",
            Certainty.CERTAIN,
            "a certificate is made for another use, such as a server's shown by a client",
            "issue a certificate for the right use"),
    FOREIGN(
            "unable to get (local )?issuer certificate|self-signed certificate in (certificate )?chain|unknown ca|no trusted .*public key found|no issuer certificate found",
            Rung.AUTHENTICATION,
            "foreign-authority",
            Certainty.CERTAIN,
            "a certificate is signed by an authority that the other side does not believe",
            "the file is stale or the authority was replaced: hand out the newest revision"),
    NAME_DIFFERS(
            "VERIFY X509NAME ERROR|constraint check failed: identity",
            Rung.TRUST,
            "server-name-differs",
            Certainty.CERTAIN,
            "the server's certificate does not contain the name that the file requires",
            "see that this is the right server; then correct its certificate"),
    CONTROL_CHANNEL_KEY_DIFFERS(
            "tls-crypt unwrap error|tls-crypt-v2 .*(failed|error)|TLS Error: cannot locate HMAC|packet HMAC authentication failed|Unroutable control packet|bad packet ID",
            Rung.HANDSHAKE,
            "control-channel-key-differs",
            Certainty.CERTAIN,
            "control packets are protected by another key, or another digest, than the other side has",
            "hand out the newest revision: the control-channel key was changed"),
    PASSWORD_WANTED(
            "Auth Username/Password was not provided by peer",
            Rung.AUTHENTICATION,
            "password-wanted",
            Certainty.CERTAIN,
            "the server wants a name and password, and the file asks for none",
            "hand out the newest revision, whose client asks for them"),
    PASSWORD_REFUSED(
            "AUTH_FAILED|Auth Username/Password verification failed|EAP.*(failed|MSCHAPv2.*failed)|verification failed for peer",
            Rung.AUTHENTICATION,
            "password-refused",
            Certainty.LIKELY,
            "name or password, or the one-time code, was refused",
            "check the account on the gateway or in its directory"),
    SECRET_DIFFERS(
            "tried \\d+ shared keys? for .*, but MAC mismatched|PSK mismatch|the shared secret is wrong",
            Rung.AUTHENTICATION,
            "secret-differs",
            Certainty.CERTAIN,
            "the shared secrets of the two sides differ",
            "hand out the newest settings, or correct the secret at the gateway"),
    IDENTITY_UNKNOWN(
            "no matching peer config found|no config found for|no IKE config found for the identity",
            Rung.AUTHENTICATION,
            "identity-unknown",
            Certainty.CERTAIN,
            "the gateway has no connection for who calls, or for the name that is called",
            "compare both identities in the file with the listener's"),
    OTHER_WAY(
            "constraint requires .* authentication, but|non-matching authentication done|peer requested EAP, config unacceptable",
            Rung.AUTHENTICATION,
            "other-way-wanted",
            Certainty.CERTAIN,
            "the gateway requires a different authentication method: certificate, password or shared secret",
            "hand out the newest revision, which is made for the listener as it is"),
    NO_IKE_PROPOSAL(
            "received proposals (inacceptable|unacceptable)|no proposal chosen for IKE",
            Rung.HANDSHAKE,
            "cipher-mismatch",
            Certainty.CERTAIN,
            "the two sides have no algorithms in common",
            "let the file and the listener offer a common set"),
    NO_SHARED_CIPHER(
            "Data channel cipher negotiation failed|no shared cipher|NO_PROPOSAL_CHOSEN|no (acceptable )?proposal (found|chosen)|no IKE config found",
            Rung.AUTHENTICATION,
            "cipher-mismatch",
            Certainty.CERTAIN,
            "the two sides have no cipher in common",
            "let the profile and the listener offer a common one, such as AES-256-GCM"),
    TLS_TOO_OLD(
            "unsupported protocol|no protocols available|wrong version number|tlsv1 alert protocol version|version too low",
            Rung.TRUST,
            "tls-version",
            Certainty.CERTAIN,
            "the two sides have no TLS version in common",
            "update the older side"),
    NEVER_FINISHED(
            "TLS key negotiation failed to occur within|TLS handshake failed|handshake timeout",
            Rung.HANDSHAKE,
            "handshake-unfinished",
            Certainty.POSSIBLE,
            "packets get lost on the way in one direction, or the other side drops what it does not like",
            "see that the port is forwarded and let through, then compare keys and certificates"),
    COMPRESSION_DIFFERS(
            "Bad (LZO|compression stub) |bad .*decompression header|comp-lzo.*(mismatch|inconsistent)|Compression .*not allowed",
            Rung.TUNNEL_ADDRESS,
            "compression-differs",
            Certainty.CERTAIN,
            "one side compresses and the other does not",
            "take compression out on both sides"),
    DATA_KEYS_DIFFER(
            "Authenticate/Decrypt packet error|cipher final failed",
            Rung.TUNNEL_ADDRESS,
            "data-keys-differ",
            Certainty.LIKELY,
            "packets do not open: cipher or digest differ, or two clients share one certificate",
            "compare cipher and auth of both sides; give each device a certificate of its own"),
    SHARED_PROFILE(
            "MULTI: new connection by client .* will cause previous active sessions",
            Rung.AUTHENTICATION,
            "profile-shared",
            Certainty.CERTAIN,
            "two devices use one profile and push each other out",
            "give each device a profile of its own"),
    NO_ADDRESS_LEFT(
            "no free --ifconfig-pool addresses|ifconfig-pool.*(exhausted|full)|pool .* is full|no virtual IP found",
            Rung.TUNNEL_ADDRESS,
            "pool-full",
            Certainty.CERTAIN,
            "the listener has no tunnel address left",
            "widen its tunnel network, or withdraw unused profiles"),
    SERVER_FULL(
            "new connection would exceed the maximum number of clients|max-clients",
            Rung.AUTHENTICATION,
            "server-full",
            Certainty.CERTAIN,
            "the listener takes no more callers",
            "raise its limit"),
    PORT_TAKEN(
            "Address already in use",
            Rung.PORT,
            "port-taken",
            Certainty.CERTAIN,
            "another program holds the port",
            "move one of the two"),
    NAME_UNKNOWN(
            "Cannot resolve host address|RESOLVE: Cannot|Name or service not known|unable to resolve",
            Rung.NAME,
            "name-unknown",
            Certainty.CERTAIN,
            "the name of the endpoint cannot be looked up",
            "correct the name, or publish it"),
    REFUSED(
            "Connection refused|ECONNREFUSED|port unreachable",
            Rung.PORT,
            "port-refused",
            Certainty.LIKELY,
            "nothing listens on that port",
            "compare the port with the listener's, and check that the listener runs"),
    NO_ROUTE(
            "Network is unreachable|No route to host",
            Rung.ADDRESS,
            "no-way-there",
            Certainty.CERTAIN,
            "this machine has no way to that address",
            "check this machine's own line"),
    WRONG_IKE_PASSWORD(
            "MAC mismatched|AUTHENTICATION_FAILED|authentication of .* failed|no shared key found",
            Rung.AUTHENTICATION,
            "authentication-failed",
            Certainty.LIKELY,
            "the other side does not accept who calls: secret, certificate or identity",
            "compare identity and secret of both sides"),
    UNANSWERED(
            "Handshake for peer .* did not complete after \\d+ seconds, retrying",
            Rung.HANDSHAKE,
            "handshake-unanswered",
            Certainty.POSSIBLE,
            "the gateway does not answer: unknown key, wrong port, or a filter between",
            "tender trial run tells which"),
    KEY_LOCKED(
            "private key password|bad decrypt|mac verify failure|Cannot load (private key|certificate) file|PKCS#?12.*(unsupported|failed)",
            Rung.TRUST,
            "key-locked",
            Certainty.LIKELY,
            "the key does not open: wrong passphrase, or locked in a way this program no longer reads",
            "hand the profile out again with a key store of the modern form"),
    RESTARTED(
            "SIGUSR1\\[soft,|RESTART|Connection reset, restarting",
            Rung.AUTHENTICATION,
            "connection-restarts",
            Certainty.POSSIBLE,
            "the connection is begun again and again",
            "the line before it in the log says why");

    private final Pattern pattern;
    private final Rung rung;
    private final Cause cause;

    LogLine(String pattern, Rung rung, String code, Certainty certainty, String what, String remedy) {
        this.pattern = Pattern.compile(pattern, Pattern.CASE_INSENSITIVE);
        this.rung = rung;
        this.cause = new Cause(code, certainty, what, remedy);
    }

    /** What the log of a gateway can say of a trial over WireGuard; in it stand what its other listeners met, too. */
    static final Set<LogLine> OF_WIREGUARD =
            Collections.unmodifiableSet(EnumSet.of(PORT_TAKEN, NAME_UNKNOWN, REFUSED, NO_ROUTE));

    static final Set<LogLine> OF_OPENVPN = Collections.unmodifiableSet(EnumSet.complementOf(
            EnumSet.of(SECRET_DIFFERS, IDENTITY_UNKNOWN, OTHER_WAY, NO_IKE_PROPOSAL, WRONG_IKE_PASSWORD, UNANSWERED)));
    static final Set<LogLine> OF_IKE = Collections.unmodifiableSet(EnumSet.complementOf(EnumSet.of(
            CONTROL_CHANNEL_KEY_DIFFERS,
            PASSWORD_WANTED,
            TLS_TOO_OLD,
            NEVER_FINISHED,
            COMPRESSION_DIFFERS,
            DATA_KEYS_DIFFER,
            SHARED_PROFILE,
            SERVER_FULL,
            UNANSWERED,
            RESTARTED)));
    static final Set<LogLine> OF_ANY = Collections.unmodifiableSet(EnumSet.allOf(LogLine.class));

    private static final int MAX_LINES = 10_000;
    private static final int MAX_LINE = 400;

    /** What a line says, and where it stands. */
    public record Read(int number, String line, LogLine meaning) {}

    public Rung rung() {
        return rung;
    }

    public Cause cause() {
        return cause;
    }

    /** Lines that mean something, each meaning once with the last line that says it: surest first, then the more telling. */
    public static List<Read> read(List<String> lines) {
        List<Read> out = new ArrayList<>();
        for (int i = 0; i < Math.min(lines.size(), MAX_LINES); i++) {
            String line = lines.get(i).length() > MAX_LINE ? lines.get(i).substring(0, MAX_LINE) : lines.get(i);
            for (LogLine meaning : values()) {
                if (meaning.pattern.matcher(line).find()) {
                    out.removeIf(r -> r.meaning() == meaning);
                    out.add(new Read(i + 1, line.strip(), meaning));
                    break;
                }
            }
        }
        out.sort(java.util.Comparator.comparing((Read r) -> r.meaning().cause.certainty())
                .thenComparing(Read::meaning));
        return out;
    }
}
