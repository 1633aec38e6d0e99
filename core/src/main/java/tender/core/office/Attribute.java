package tender.core.office;

import static tender.core.office.Attribute.Concerns.CLIENTS;
import static tender.core.office.Attribute.Concerns.GATEWAY;
import static tender.core.office.Attribute.Concerns.SEEN;

import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import tender.core.wire.MalformedException;

/**
 * Every attribute of a listener, decided here once: its word, what its value looks like, whether a client's file depends
 * on it, what restarts when it changes, and its explanation in plain words.
 */
public enum Attribute {
    PROTOCOL(
            "protocol",
            ValueKind.PROTOCOL,
            CLIENTS,
            Restart.LISTENER,
            "The VPN protocol.",
            "It decides the client program, the ports to open and the credentials.",
            "wireguard, openvpn or ikev2"),
    TRANSPORT(
            "transport",
            ValueKind.TRANSPORT,
            CLIENTS,
            Restart.LISTENER,
            "The transport of the tunnel: UDP is fast; TCP works where only web traffic is allowed.",
            "TCP over TCP is slow on lines that lose packets.",
            "udp, with a second listener on tcp 443 for restricted networks"),
    PORT(
            "port",
            ValueKind.PORT,
            CLIENTS,
            Restart.LISTENER,
            "The port that clients connect to. Listener, firewall rule, forward and client file must all use the same one.",
            "If it changes, every file with the old port stops working.",
            "the protocol's usual port, or 443 for restricted networks"),
    BIND(
            "bind",
            ValueKind.WORD,
            GATEWAY,
            Restart.LISTENER,
            "The interface or address that the listener is bound to; any means all.",
            "If it is bound to the inside, it looks healthy but nobody outside can connect.",
            "any, or the outside interface"),
    TUNNEL_NETWORK(
            "tunnel-network",
            ValueKind.NETWORKS,
            CLIENTS,
            Restart.LISTENER,
            "The network from which clients get their tunnel addresses.",
            "It must not overlap an office network, or networks that are common in hotels and homes.",
            "a small private network that nothing else uses, such as 10.99.4.0/24"),
    INSIDE_ADDRESS(
            "inside-address",
            ValueKind.ADDRESS,
            GATEWAY,
            Restart.LISTENER,
            "The gateway's own address inside the tunnel.",
            "Nothing; trials ping it first.",
            "the first address of the tunnel network"),
    REACH(
            "reach",
            ValueKind.NETWORKS,
            CLIENTS,
            Restart.LISTENER,
            "The networks that go through the tunnel; 0.0.0.0/0 and ::/0 are a full tunnel.",
            "Too small, and the server that people need is missing; a full tunnel loads the office's uplink.",
            "the office networks that people work with"),
    DNS(
            "dns",
            ValueKind.ADDRESSES,
            CLIENTS,
            Restart.LISTENER,
            "The DNS servers that clients use.",
            "Without one, names inside do not resolve, although addresses answer.",
            "the office's own DNS server, reachable through the tunnel"),
    CIPHERS(
            "ciphers",
            ValueKind.WORDS,
            CLIENTS,
            Restart.LISTENER,
            "The ciphers that encrypt the tunnel, in order of preference.",
            "Old ciphers can be broken; if the client knows none of the list, the handshake fails.",
            "AES-256-GCM, CHACHA20-POLY1305"),
    DIGEST(
            "digest",
            ValueKind.WORD,
            CLIENTS,
            Restart.LISTENER,
            "The digest that authenticates packets if the cipher does not do so itself.",
            "A client with another digest gets no answer.",
            "SHA256"),
    TLS_MINIMUM(
            "tls-minimum",
            ValueKind.WORD,
            GATEWAY,
            Restart.LISTENER,
            "The oldest TLS version that the listener accepts.",
            "Below 1.2, known attacks work; very old clients need an update.",
            "1.2"),
    CONTROL_CHANNEL_KEY(
            "control-channel-key",
            ValueKind.WORD,
            CLIENTS,
            Restart.LISTENER,
            "The control-channel key that hides the listener from scanners: none, auth (tls-auth), crypt (tls-crypt) or crypt-v2.",
            "Every client needs the key; with a wrong key it gets no answer.",
            "crypt"),
    COMPRESSION(
            "compression",
            ValueKind.YES_NO,
            CLIENTS,
            Restart.LISTENER,
            "Whether packets are compressed before they are encrypted.",
            "Packet sizes can reveal secrets, and it gains little today.",
            "no"),
    CLIENT_CERTIFICATE(
            "client-certificate",
            ValueKind.YES_NO,
            CLIENTS,
            Restart.LISTENER,
            "Whether every client needs its own certificate.",
            "Without it, a stolen password is enough to connect.",
            "yes"),
    SERVER_NAMES(
            "server-names",
            ValueKind.WORDS,
            CLIENTS,
            Restart.LISTENER,
            "The names in the listener's certificate, which clients check.",
            "If the name that clients connect to is not among them, clients warn or refuse.",
            "the name that clients connect to"),
    CERTIFICATE_EXPIRES(
            "certificate-expires",
            ValueKind.INSTANT,
            GATEWAY,
            Restart.LISTENER,
            "When the listener's certificate expires.",
            "After that, nobody can connect.",
            "renewed a month ahead"),
    KEY_BITS(
            "key-bits",
            ValueKind.NUMBER,
            GATEWAY,
            Restart.LISTENER,
            "The length of the certificate's RSA key; EC keys are shown as the equivalent RSA length.",
            "Short keys can be broken; very long keys slow the handshake.",
            "2048 or more"),
    REVOCATION_LIST_EXPIRES(
            "revocation-list-expires",
            ValueKind.INSTANT,
            GATEWAY,
            Restart.RELOAD,
            "When the revocation list expires.",
            "After that, the listener refuses every certificate, revoked or not.",
            "renewed a week ahead"),
    AUTHORITY(
            "authority",
            ValueKind.WORD,
            CLIENTS,
            Restart.LISTENER,
            "The fingerprint of the certificate authority that the listener trusts.",
            "With a new authority, every certificate of the old one stops working.",
            "your own authority"),
    PUBLIC_KEY(
            "public-key",
            ValueKind.TEXT,
            CLIENTS,
            Restart.LISTENER,
            "The listener's public key, which is in every client file.",
            "If it changes, every file with the old key stops working.",
            "kept for years, replaced when the private key may be known"),
    ACCOUNTS(
            "accounts",
            ValueKind.WORD,
            GATEWAY,
            Restart.RELOAD,
            "Where accounts are kept: none, local, directory or radius.",
            "When a person leaves, their account must be closed there.",
            "the one place where accounts of leavers are closed"),
    SECOND_FACTOR(
            "second-factor",
            ValueKind.YES_NO,
            GATEWAY,
            Restart.RELOAD,
            "Whether the listener asks for a one-time code in addition to the password.",
            "Enrol everyone before you turn it on, or they are locked out.",
            "yes if passwords are used"),
    LIMIT_TOTAL(
            "limit-total",
            ValueKind.NUMBER,
            GATEWAY,
            Restart.RELOAD,
            "How many clients may be connected at once; 0 means no limit.",
            "The listener refuses the next one without a reason.",
            "at least the number of issued profiles"),
    LIMIT_PER_ACCOUNT(
            "limit-per-account",
            ValueKind.NUMBER,
            GATEWAY,
            Restart.RELOAD,
            "How many devices one account may connect at once; 0 means no limit.",
            "The next device is refused, or disconnects another.",
            "as many devices as one person has"),
    SHARED_SECRET(
            "shared-secret",
            ValueKind.YES_NO,
            CLIENTS,
            Restart.LISTENER,
            "Whether all clients share one secret.",
            "If it leaks, everybody is affected; if it changes, everybody needs the new one.",
            "no: a certificate or key for each device"),
    MTU(
            "mtu",
            ValueKind.NUMBER,
            CLIENTS,
            Restart.LISTENER,
            "The largest packet inside the tunnel, in bytes.",
            "Too large, and big transfers hang although pings work.",
            "1420 for WireGuard, 1400 for unknown lines"),
    PEERS(
            "peers",
            ValueKind.NUMBER,
            SEEN,
            Restart.NONE,
            "How many clients the gateway's configuration has.",
            "Each is an access that somebody has.",
            "only those that Tender issued"),
    TLS_VERSION(
            "tls-version",
            ValueKind.WORD,
            SEEN,
            Restart.NONE,
            "The TLS version that a trial and the listener agreed on.",
            "Below 1.2, known attacks work.",
            "1.3"),
    ENDPOINT_ADDRESS(
            "endpoint-address",
            ValueKind.ADDRESS,
            SEEN,
            Restart.NONE,
            "The address at which a trial last got an answer from the listener.",
            "Nothing; if it is not the address you expect, the name points elsewhere.",
            "the office's outside address"),
    ACTIVE(
            "active",
            ValueKind.YES_NO,
            SEEN,
            Restart.NONE,
            "Whether the running listener uses the settings in its file.",
            "Settings that are written but not active take effect at the next restart.",
            "yes");

    /** Whom a change of the attribute concerns. */
    public enum Concerns {
        /** Files that were handed out depend on it. */
        CLIENTS,
        /** The gateway alone. */
        GATEWAY,
        /** Nobody sets it; it is seen. */
        SEEN
    }

    private static final Map<String, Attribute> BY_WORD = new HashMap<>();

    static {
        for (Attribute a : values()) {
            BY_WORD.put(a.word, a);
        }
    }

    private final String word;
    private final ValueKind kind;
    private final Concerns concerns;
    private final Restart restart;
    private final String does;
    private final String costs;
    private final String safe;

    Attribute(String word, ValueKind kind, Concerns concerns, Restart restart, String does, String costs, String safe) {
        this.word = word;
        this.kind = kind;
        this.concerns = concerns;
        this.restart = restart;
        this.does = does;
        this.costs = costs;
        this.safe = safe;
    }

    public static Optional<Attribute> ofWord(String word) {
        return Optional.ofNullable(BY_WORD.get(word));
    }

    /**
     * @param word in any case
     * @throws MalformedException where there is no such setting
     */
    public static Attribute parse(String word) {
        return ofWord(word.toLowerCase(Locale.ROOT))
                .orElseThrow(() -> new MalformedException(
                        "attribute", "", "no such setting of a listener; tender explain lists them"));
    }

    public String word() {
        return word;
    }

    public Concerns concerns() {
        return concerns;
    }

    public Restart restart() {
        return restart;
    }

    /** What it does, one sentence. */
    public String does() {
        return does;
    }

    /** What it costs or risks, one sentence. */
    public String costs() {
        return costs;
    }

    public String safe() {
        return safe;
    }

    /** Throws {@link MalformedException} naming this attribute where the text is no value of it. */
    public void check(String value) {
        try {
            kind.check(value);
        } catch (MalformedException e) {
            throw e.at(word);
        }
    }
}
