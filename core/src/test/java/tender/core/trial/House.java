package tender.core.trial;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;

/** Two houses' authorities and what they sign, as of one moment. */
public final class House {
    public static final SecureRandom RANDOM = new SecureRandom();
    public static final Instant NOW = Instant.parse("2026-11-24T10:00:00Z");
    public static final String SERVER = "orrin.skerrivane.example";
    public static final Authority OURS = authority("Skerrivane Ferries");
    public static final Authority OTHER = authority("Another house");

    /** A certificate and its key. */
    public record Pair(byte[] certificate, CertificateKey key) {
        public String pem() {
            return PemText.write("CERTIFICATE", certificate);
        }

        public String keyPem() {
            return PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
        }
    }

    private House() {}

    private static Authority authority(String name) {
        return Authority.make(
                name,
                CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
                NOW.minus(Duration.ofDays(100)),
                NOW.plus(Duration.ofDays(300)),
                RANDOM);
    }

    /** @param from and to in days from the moment */
    public static Pair signed(Authority by, Authority.Purpose purpose, String name, int from, int to) {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        return new Pair(
                by.sign(
                        purpose,
                        name,
                        List.of(name),
                        key.publicKey(),
                        NOW.plus(Duration.ofDays(from)),
                        NOW.plus(Duration.ofDays(to)),
                        Optional.empty(),
                        RANDOM),
                key);
    }

    /** What a server shows, its own first. */
    public static List<byte[]> shown(Authority by, String name, int from, int to) {
        return List.of(signed(by, Authority.Purpose.SERVER, name, from, to).certificate());
    }
}
