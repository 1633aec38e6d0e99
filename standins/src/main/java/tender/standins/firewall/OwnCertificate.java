package tender.standins.firewall;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.KeyStore;
import java.security.SecureRandom;
import java.security.cert.Certificate;
import java.security.spec.ECGenParameterSpec;
import java.time.Duration;
import java.time.Instant;
import java.util.Date;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.cert.jcajce.JcaX509CertificateConverter;
import org.bouncycastle.cert.jcajce.JcaX509v3CertificateBuilder;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.jcajce.JcaContentSignerBuilder;

/** The firewall's self-signed certificate: made on first use, kept in a file. */
final class OwnCertificate {
    private static final char[] PASSWORD = "stand-in".toCharArray();
    private static final Duration LIFE = Duration.ofDays(3650);

    private OwnCertificate() {}

    static SSLContext at(Path file) throws IOException, GeneralSecurityException {
        KeyStore store = KeyStore.getInstance("PKCS12");
        if (Files.exists(file)) {
            try (InputStream in = Files.newInputStream(file)) {
                store.load(in, PASSWORD);
            }
        } else {
            store.load(null, null);
            make(store);
            try (OutputStream out = Files.newOutputStream(file)) {
                store.store(out, PASSWORD);
            }
        }
        KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        keys.init(store, PASSWORD);
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(keys.getKeyManagers(), null, null);
        return context;
    }

    private static void make(KeyStore store) throws GeneralSecurityException {
        KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
        generator.initialize(new ECGenParameterSpec("secp256r1"));
        KeyPair pair = generator.generateKeyPair();
        X500Name name = new X500Name("CN=firewall");
        Instant now = Instant.now();
        try {
            Certificate certificate = new JcaX509CertificateConverter()
                    .getCertificate(new JcaX509v3CertificateBuilder(
                                    name,
                                    new BigInteger(64, new SecureRandom()),
                                    Date.from(now.minusSeconds(60)),
                                    Date.from(now.plus(LIFE)),
                                    name,
                                    pair.getPublic())
                            .build(new JcaContentSignerBuilder("SHA256withECDSA").build(pair.getPrivate())));
            store.setKeyEntry("key", pair.getPrivate(), PASSWORD, new Certificate[] {certificate});
        } catch (OperatorCreationException e) {
            throw new GeneralSecurityException(e);
        }
    }
}
