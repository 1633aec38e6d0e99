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
            "Which kind of tunnel this is.",
            "It decides the client program, the doors to open and the secrets that are needed.",
            "wireguard, openvpn or ikev2"),
    TRANSPORT(
            "transport",
            ValueKind.TRANSPORT,
            CLIENTS,
            Restart.LISTENER,
            "What carries the tunnel's packets: UDP is quick, TCP passes where only the web is let out.",
            "TCP inside TCP slows down badly on lossy lines.",
            "udp, and tcp 443 beside it for strict places"),
    PORT(
            "port",
            ValueKind.PORT,
            CLIENTS,
            Restart.LISTENER,
            "The door that callers knock at; listener, filter, forward and file must all say the same.",
            "Changing it makes every file with the old number useless.",
            "the type's usual port, or 443 for places that block much"),
    BIND(
            "bind",
            ValueKind.WORD,
            GATEWAY,
            Restart.LISTENER,
            "The interface or address that the listener waits on; any means all of them.",
            "Bound to the inside it looks healthy and refuses everyone outside.",
            "any, or the outside interface"),
    TUNNELS(
            "tunnels",
            ValueKind.NETWORKS,
            CLIENTS,
            Restart.LISTENER,
            "The network that connected devices get their addresses from.",
            "It must overlap no network of any office, nor what hotels and homes use.",
            "a small private network nobody else uses, such as 10.99.4.0/24"),
    INSIDE_ADDRESS(
            "inside-address",
            ValueKind.ADDRESS,
            GATEWAY,
            Restart.LISTENER,
            "The gateway's own address inside the tunnel.",
            "Nothing; it answers the first echo when a connection is tested.",
            "the first address of the tunnel network"),
    REACH(
            "reach",
            ValueKind.NETWORKS,
            CLIENTS,
            Restart.LISTENER,
            "What connected people may reach; 0.0.0.0/0 and ::/0 send everything through the office.",
            "Too little and the server they need is missing; everything loads the office's line.",
            "the office networks people work with"),
    DNS(
            "dns",
            ValueKind.ADDRESSES,
            CLIENTS,
            Restart.LISTENER,
            "The name servers that connected devices ask.",
            "Without one, inside names fail while pings by address work.",
            "the office's own name server, reachable through the tunnel"),
    CIPHERS(
            "ciphers",
            ValueKind.WORDS,
            CLIENTS,
            Restart.LISTENER,
            "How the tunnel's content is locked, in order of preference.",
            "Old ones can be broken; a list that a client knows none of stops the handshake.",
            "AES-256-GCM, CHACHA20-POLY1305"),
    DIGEST(
            "digest",
            ValueKind.WORD,
            CLIENTS,
            Restart.LISTENER,
            "How each packet is protected against being altered where the cipher does not do it itself.",
            "A file that says another digest meets complete silence.",
            "SHA256"),
    TLS_MINIMUM(
            "tls-minimum",
            ValueKind.WORD,
            GATEWAY,
            Restart.LISTENER,
            "The oldest version of the handshake's protocol that is accepted.",
            "Below 1.2 known attacks work; very old clients need an update.",
            "1.2"),
    WRAPPING(
            "wrapping",
            ValueKind.WORD,
            CLIENTS,
            Restart.LISTENER,
            "A key shared by all that hides the listener from strangers: none, auth, crypt or crypt-v2.",
            "Every file needs the key; a wrong one meets silence.",
            "crypt"),
    COMPRESSION(
            "compression",
            ValueKind.YES_NO,
            CLIENTS,
            Restart.LISTENER,
            "Squeezes packets before locking them.",
            "What is secret can be guessed from the sizes, and it gains little today.",
            "no"),
    CLIENT_CERTIFICATE(
            "client-certificate",
            ValueKind.YES_NO,
            CLIENTS,
            Restart.LISTENER,
            "Whether every device must show a certificate of its own.",
            "Without it a stolen password is enough to get in.",
            "yes"),
    SERVER_NAMES(
            "server-names",
            ValueKind.WORDS,
            CLIENTS,
            Restart.LISTENER,
            "The names in the listener's own certificate, which clients compare.",
            "A name that is not among them makes clients warn or refuse.",
            "the name that clients call"),
    CERTIFICATE_ENDS(
            "certificate-ends",
            ValueKind.INSTANT,
            GATEWAY,
            Restart.LISTENER,
            "When the listener's own certificate ends.",
            "After that nobody gets in, all at once.",
            "renewed a month ahead"),
    KEY_BITS(
            "key-bits",
            ValueKind.NUMBER,
            GATEWAY,
            Restart.LISTENER,
            "The length of the certificate's RSA key; elliptic keys are told as their RSA equal.",
            "Short keys can be broken; very long ones only slow the handshake.",
            "2048 or more"),
    REVOCATION_ENDS(
            "revocation-ends",
            ValueKind.INSTANT,
            GATEWAY,
            Restart.RELOAD,
            "Until when the list of revoked certificates counts.",
            "When it runs out the listener refuses everyone, revoked or not.",
            "renewed a week ahead"),
    AUTHORITY(
            "authority",
            ValueKind.WORD,
            CLIENTS,
            Restart.LISTENER,
            "The fingerprint of the authority whose certificates are believed.",
            "With a new authority every certificate of the old one stops working.",
            "the company's own"),
    PUBLIC_KEY(
            "public-key",
            ValueKind.TEXT,
            CLIENTS,
            Restart.LISTENER,
            "The listener's public key, which every file holds.",
            "A new key makes every file with the old one useless.",
            "kept for years, replaced when its private half may be known"),
    ACCOUNTS(
            "accounts",
            ValueKind.WORD,
            GATEWAY,
            Restart.RELOAD,
            "Where names and passwords are kept: none, local, directory or radius.",
            "A person who leaves must be closed there, and only there.",
            "the one place where leavers are closed"),
    SECOND_FACTOR(
            "second-factor",
            ValueKind.YES_NO,
            GATEWAY,
            Restart.RELOAD,
            "Whether a one-time code is asked for beside the password.",
            "Everyone must be enrolled before it is turned on, or they are locked out.",
            "yes where passwords are used"),
    LIMIT_TOTAL(
            "limit-total",
            ValueKind.NUMBER,
            GATEWAY,
            Restart.RELOAD,
            "How many may be connected at once; 0 means no limit.",
            "The next one is refused without a reason.",
            "at least as many as hold files"),
    LIMIT_PER_ACCOUNT(
            "limit-per-account",
            ValueKind.NUMBER,
            GATEWAY,
            Restart.RELOAD,
            "How many devices one account may connect at once; 0 means no limit.",
            "Somebody's second device cuts or is refused.",
            "as many as a person has devices"),
    SHARED_SECRET(
            "shared-secret",
            ValueKind.YES_NO,
            CLIENTS,
            Restart.LISTENER,
            "Whether one secret is shared by all callers.",
            "One leak touches everybody, and changing it means telling everybody.",
            "no: a certificate or key for each device"),
    MTU(
            "mtu",
            ValueKind.NUMBER,
            CLIENTS,
            Restart.LISTENER,
            "The largest packet inside the tunnel, in bytes.",
            "Too large and big transfers hang while pings work.",
            "1420 for WireGuard, 1400 where lines are unknown"),
    PEERS(
            "peers",
            ValueKind.NUMBER,
            SEEN,
            Restart.NONE,
            "How many devices the gateway's own settings admit.",
            "Each is a way in that somebody holds.",
            "those that Tender knows"),
    IN_FORCE(
            "in-force",
            ValueKind.YES_NO,
            SEEN,
            Restart.NONE,
            "Whether the running listener does what its file says.",
            "What is written but not taken up surprises at the next restart.",
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
    void check(String value) {
        try {
            kind.check(value);
        } catch (MalformedException e) {
            throw e.at(word);
        }
    }
}
