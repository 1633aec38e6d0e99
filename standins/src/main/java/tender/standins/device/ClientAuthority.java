package tender.standins.device;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** The authority that a device made for itself, some years ago, and what it signs. */
public final class ClientAuthority {
    public static final Duration LIFE = Duration.ofDays(700);
    private static final Duration AGE = Duration.ofDays(300);
    private static final SecureRandom RANDOM = new SecureRandom();

    private final Authority authority;
    private final Instant now;

    public ClientAuthority(String name, Instant now) {
        this.now = now;
        this.authority = Authority.make(name, key(), now.minus(AGE), now.plus(LIFE), RANDOM);
    }

    private ClientAuthority(Authority authority, Instant now) {
        this.authority = authority;
        this.now = now;
    }

    /** The one that is kept in a folder, made on first use. */
    public static ClientAuthority in(Path folder, String name, Instant now) throws IOException {
        Path certificate = folder.resolve("authority.pem");
        Path key = folder.resolve("authority-key.pem");
        if (!Files.exists(key)) {
            Files.createDirectories(folder);
            ClientAuthority made = new ClientAuthority(name, now);
            Files.writeString(certificate, made.certificate());
            Files.writeString(
                    key,
                    PemText.write(
                            "PRIVATE KEY", made.authority.key().privateKey().reveal(RevealSecret.TO_WRITE_FILE)));
            return made;
        }
        return new ClientAuthority(
                Authority.of(
                        PemText.read(Files.readString(certificate))
                                .blocks()
                                .get(0)
                                .der(),
                        CertificateKey.ofPrivate(Secret.of(PemText.read(Files.readString(key))
                                .blocks()
                                .get(0)
                                .der())),
                        RANDOM),
                now);
    }

    public byte[] der() {
        return authority.certificate();
    }

    /** A server's certificate for a key, with an end of its own. */
    public byte[] server(CertificateKey key, List<String> names, Instant ends) {
        Instant from = ends.isBefore(now) ? ends.minus(AGE) : now.minus(AGE);
        return authority.sign(
                Authority.Purpose.SERVER, names.get(0), names, key.publicKey(), from, ends, Optional.empty(), RANDOM);
    }

    /** A certificate and its key as PEM texts. */
    public record Pair(String certificate, String key) {}

    private static CertificateKey key() {
        return CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
    }

    public String certificate() {
        return pem(authority.certificate());
    }

    public Pair server(String name) {
        return sign(Authority.Purpose.SERVER, name, List.of(name), LIFE.minusDays(30));
    }

    /** @param life from now; a negative one ended already */
    public Pair client(String name, Duration life) {
        return sign(Authority.Purpose.CLIENT, name, List.of(), life);
    }

    private Pair sign(Authority.Purpose purpose, String name, List<String> names, Duration life) {
        CertificateKey key = key();
        byte[] certificate = authority.sign(
                purpose, name, names, key.publicKey(), now.minus(AGE), now.plus(life), Optional.empty(), RANDOM);
        return new Pair(
                pem(certificate), PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE)));
    }

    private static String pem(byte[] certificate) {
        return PemText.write("CERTIFICATE", certificate);
    }
}
