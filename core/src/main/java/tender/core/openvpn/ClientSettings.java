package tender.core.openvpn;

import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.certificate.PrivateKeyFile;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Transport;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.wire.MalformedException;

/**
 * What a client needs to connect, out of a profile with all its parts inside.
 *
 * @param call what is called: one of the file's
 * @param authorities the certificates that the server's is held against
 * @param ciphers what is offered to the server
 * @param fallback the cipher where the server speaks of none
 * @param digest of packets where the cipher does not authenticate, and of tls-auth
 * @param framing what stands around packets where the file speaks of compression
 * @param asksCode whether a one-time code is asked for beside the password
 * @param user name and password, where the listener asks for them
 * @param pull what is taken of the server's options
 */
public record ClientSettings(
        OpenVpnClient.Call call,
        ControlChannelKey controlChannelKey,
        List<byte[]> authorities,
        Optional<Identity> identity,
        List<String> ciphers,
        Optional<String> fallback,
        String digest,
        Framing framing,
        boolean asksPassword,
        boolean asksCode,
        Optional<Login> user,
        PullRules pull) {
    private static final List<String> USUAL = List.of("AES-256-GCM", "AES-128-GCM", "CHACHA20-POLY1305");

    /** Certificates, the client's own first, and the key. */
    public record Identity(List<byte[]> chain, CertificateKey key) {}

    /** @param code a one-time code of that moment, where one was given */
    public record Login(String name, Secret password, Optional<Secret> code) {
        public Login(String name, Secret password) {
            this(name, password, Optional.empty());
        }

        /** As it is sent: with the code beside it where the file asks for one, each of them encoded. */
        Secret sent(boolean asksCode) {
            if (!asksCode || code.isEmpty()) {
                return password;
            }
            Base64.Encoder encoder = Base64.getEncoder();
            return Secret.of("SCRV1:" + encoder.encodeToString(password.reveal(RevealSecret.TO_HANDSHAKE)) + ":"
                    + encoder.encodeToString(code.get().reveal(RevealSecret.TO_HANDSHAKE)));
        }

        /** The answer to a question that the server asked when it refused the password: {@code CRV1:flags:state:name:text}. */
        Optional<Login> answering(String refusal) {
            String[] parts = refusal.split(":", 5);
            if (!refusal.startsWith("AUTH_FAILED,CRV1:") || parts.length < 5 || code.isEmpty()) {
                return Optional.empty();
            }
            return Optional.of(new Login(
                    name,
                    Secret.of("CRV1::" + parts[2] + "::" + code.get().revealText(RevealSecret.TO_HANDSHAKE)),
                    Optional.empty()));
        }
    }

    /** How the control channel is wrapped, with the text of the key. */
    public record ControlChannelKey(String kind, Secret key, Optional<Integer> direction) {
        public static final ControlChannelKey NONE = new ControlChannelKey("none", Secret.of(""), Optional.empty());
    }

    /** What a person or a store adds to the file. */
    public record Added(Optional<Login> login, Optional<String> passphrase) {
        public static final Added NOTHING = new Added(Optional.empty(), Optional.empty());
    }

    /** Throws where the file lacks a part that it names, or its key stays locked. */
    public static ClientSettings of(OpenVpnClient file, OpenVpnClient.Call call, Added added) {
        List<String> ciphers = offered(file.file());
        if (ciphers.isEmpty()) {
            throw new MalformedException(
                    "cipher", "cipher", "none of the file's ciphers is tried: " + String.join(", ", file.ciphers()));
        }
        return new ClientSettings(
                call,
                file.controlChannelKey().map(ClientSettings::controlChannelKey).orElse(ControlChannelKey.NONE),
                file.authority()
                        .map(m -> certificates(text(m, "ca")))
                        .or(() -> file.keyStore()
                                .map(m -> store(m, added))
                                .map(o -> o.certificates().stream()
                                        .filter(c -> CertificateFacts.of(c).role() == CertificateFacts.Role.AUTHORITY)
                                        .toList()))
                        .orElse(List.of()),
                identity(file, added),
                ciphers,
                file.file()
                        .last("data-ciphers-fallback")
                        .or(() -> file.file().last("cipher"))
                        .flatMap(d -> d.word(0))
                        .filter(DataChannel::knows),
                file.digest(),
                framing(file),
                file.asksPassword(),
                file.file().has("static-challenge"),
                file.asksPassword() ? added.login().or(() -> login(file.file())) : Optional.empty(),
                PullRules.of(file.file()));
    }

    private static Optional<Login> login(OpenVpnFile file) {
        return Optional.of(file.login()).filter(l -> l.size() > 1).map(l -> new Login(l.get(0), Secret.of(l.get(1))));
    }

    /** As OpenVPN 2.6 offers them: a {@code cipher} line alone changes nothing of it; {@code ?} marks what may be missing. */
    private static List<String> offered(OpenVpnFile file) {
        return file.last("data-ciphers")
                .or(() -> file.last("ncp-ciphers"))
                .flatMap(d -> d.word(0))
                .map(list -> Stream.of(list.split(":"))
                        .map(c -> c.replaceFirst("^\\?", ""))
                        .filter(DataChannel::knows)
                        .toList())
                .orElse(USUAL);
    }

    /** Where both are said, {@code compress} counts. */
    private static Framing framing(OpenVpnClient file) {
        return Stream.of("compress", "comp-lzo")
                .flatMap(name -> file.file().last(name).stream())
                .map(d -> Stream.concat(Stream.of(d.name()), d.words().stream()).toList())
                .flatMap(words -> Framing.of(words).stream())
                .findFirst()
                .orElse(Framing.NONE);
    }

    /** The same, with the answer to a question that the server asked; empty where it asked none, or no code was given. */
    public Optional<ClientSettings> answering(String refusal) {
        return user.flatMap(u -> u.answering(refusal))
                .map(answer -> new ClientSettings(
                        call,
                        controlChannelKey,
                        authorities,
                        identity,
                        ciphers,
                        fallback,
                        digest,
                        framing,
                        asksPassword,
                        false,
                        Optional.of(answer),
                        pull));
    }

    /** The same over another transport. */
    public ClientSettings over(Transport transport) {
        return with(
                new OpenVpnClient.Call(call.host(), call.port(), transport, call.line()), controlChannelKey, digest);
    }

    /** The same with another control-channel key. */
    public ClientSettings wrapped(ControlChannelKey other, String itsDigest) {
        return with(call, other, itsDigest);
    }

    private ClientSettings with(OpenVpnClient.Call called, ControlChannelKey wrapped, String by) {
        return new ClientSettings(
                called,
                wrapped,
                authorities,
                identity,
                ciphers,
                fallback,
                by,
                framing,
                asksPassword,
                asksCode,
                user,
                pull);
    }

    private static String text(OpenVpnClient.Part m, String what) {
        return m.text()
                .orElseThrow(() -> new MalformedException(
                        "part", "line " + m.line(), what + " stands in another file, " + m.name() + "; put it in"));
    }

    private static ControlChannelKey controlChannelKey(OpenVpnClient.ControlChannelKey w) {
        return new ControlChannelKey(
                w.kind(),
                Secret.of(text(w.key(), "tls-" + w.kind())),
                w.direction().map(Integer::valueOf));
    }

    private static List<byte[]> certificates(String pem) {
        return PemText.read(pem).blocks().stream()
                .filter(b -> b.label().equals("CERTIFICATE"))
                .map(PemText.Block::der)
                .toList();
    }

    private static KeyStoreFile.Opened store(OpenVpnClient.Part m, Added added) {
        byte[] content = Base64.getMimeDecoder().decode(text(m, "pkcs12"));
        return KeyStoreFile.of(content)
                .open(added.passphrase().orElse(""))
                .orElseThrow(() ->
                        new MalformedException("passphrase", "pkcs12", "the key store is locked; say its passphrase"));
    }

    private static Optional<Identity> identity(OpenVpnClient file, Added added) {
        if (file.keyStore().isPresent()) {
            KeyStoreFile.Opened opened = store(file.keyStore().get(), added);
            return opened.key().map(key -> new Identity(opened.certificates(), key));
        }
        if (file.certificate().isEmpty()) {
            return Optional.empty();
        }
        List<byte[]> chain = certificates(text(file.certificate().get(), "cert"));
        PrivateKeyFile key = file.key()
                .map(m -> text(m, "key"))
                .flatMap(t -> PemText.read(t).blocks().stream()
                        .filter(b -> PrivateKeyFile.isKey(b.label()))
                        .findFirst())
                .map(PrivateKeyFile::of)
                .orElseThrow(() -> new MalformedException("key", "key", "the file has a certificate and no key"));
        CertificateKey opened = key.key()
                .or(() -> added.passphrase().flatMap(key::open))
                .orElseThrow(
                        () -> new MalformedException("passphrase", "key", "the key is locked; say its passphrase"));
        return Optional.of(new Identity(chain, opened));
    }

    ControlChannelProtection control() {
        String text = controlChannelKey.key().revealText(RevealSecret.TO_HANDSHAKE);
        return switch (controlChannelKey.kind()) {
            case "auth" -> ControlChannelProtection.auth(text, controlChannelKey.direction(), digest);
            case "crypt" -> ControlChannelProtection.crypt(text);
            case "crypt-v2" -> ControlChannelProtection.cryptV2(text);
            default -> ControlChannelProtection.none();
        };
    }

    boolean overTcp() {
        return call.transport() == Transport.TCP;
    }
}
