package tender.core.trial;

import java.io.IOException;
import java.math.BigInteger;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.security.spec.PKCS8EncodedKeySpec;
import java.time.Duration;
import java.time.Instant;
import java.util.Date;
import java.util.List;
import java.util.Optional;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.asn1.x509.BasicConstraints;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.asn1.x509.KeyUsage;
import org.bouncycastle.asn1.x509.SubjectPublicKeyInfo;
import org.bouncycastle.cert.X509CertificateHolder;
import org.bouncycastle.cert.X509v3CertificateBuilder;
import org.bouncycastle.cert.jcajce.JcaX509ExtensionUtils;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.jcajce.JcaContentSignerBuilder;
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

    /** An authority whose certificate another one signed. */
    public static Authority under(Authority by, String name) {
        CertificateKey key = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        try {
            X509CertificateHolder issuer = new X509CertificateHolder(by.certificate());
            SubjectPublicKeyInfo info = SubjectPublicKeyInfo.getInstance(key.publicKey());
            JcaX509ExtensionUtils utilities = new JcaX509ExtensionUtils();
            X509v3CertificateBuilder builder = new X509v3CertificateBuilder(
                    issuer.getSubject(),
                    BigInteger.valueOf(RANDOM.nextLong() >>> 1),
                    Date.from(NOW.minus(Duration.ofDays(50))),
                    Date.from(NOW.plus(Duration.ofDays(200))),
                    new X500Name("CN=" + name),
                    info);
            builder.addExtension(Extension.basicConstraints, true, new BasicConstraints(true));
            builder.addExtension(Extension.keyUsage, true, new KeyUsage(KeyUsage.keyCertSign | KeyUsage.cRLSign));
            builder.addExtension(Extension.subjectKeyIdentifier, false, utilities.createSubjectKeyIdentifier(info));
            builder.addExtension(
                    Extension.authorityKeyIdentifier, false, utilities.createAuthorityKeyIdentifier(issuer));
            PrivateKey signs = KeyFactory.getInstance("EC")
                    .generatePrivate(
                            new PKCS8EncodedKeySpec(by.key().privateKey().reveal(RevealSecret.TO_HANDSHAKE)));
            byte[] certificate = builder.build(new JcaContentSignerBuilder("SHA256withECDSA").build(signs))
                    .getEncoded();
            return Authority.of(certificate, key, RANDOM);
        } catch (GeneralSecurityException | IOException | OperatorCreationException e) {
            throw new IllegalStateException(e);
        }
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
