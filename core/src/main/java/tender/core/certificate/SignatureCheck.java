package tender.core.certificate;

import java.io.IOException;
import org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers;
import org.bouncycastle.asn1.x509.SubjectPublicKeyInfo;
import org.bouncycastle.asn1.x9.X9ObjectIdentifiers;
import org.bouncycastle.cert.CertException;
import org.bouncycastle.cert.X509CRLHolder;
import org.bouncycastle.cert.X509CertificateHolder;
import org.bouncycastle.crypto.util.PublicKeyFactory;
import org.bouncycastle.operator.ContentVerifierProvider;
import org.bouncycastle.operator.DefaultDigestAlgorithmIdentifierFinder;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.bc.BcECContentVerifierProviderBuilder;
import org.bouncycastle.operator.bc.BcEdDSAContentVerifierProviderBuilder;
import org.bouncycastle.operator.bc.BcRSAContentVerifierProviderBuilder;

/** Whether signatures are by a key: RSA, EC or Ed25519. A key of another kind has signed nothing that anybody here believes. */
public final class SignatureCheck {
    private SignatureCheck() {}

    static ContentVerifierProvider verifier(SubjectPublicKeyInfo key) throws IOException, OperatorCreationException {
        DefaultDigestAlgorithmIdentifierFinder digests = new DefaultDigestAlgorithmIdentifierFinder();
        var algorithm = key.getAlgorithm().getAlgorithm();
        var publicKey = PublicKeyFactory.createKey(key);
        if (algorithm.on(PKCSObjectIdentifiers.pkcs_1)) {
            return new BcRSAContentVerifierProviderBuilder(digests).build(publicKey);
        }
        return algorithm.equals(X9ObjectIdentifiers.id_ecPublicKey)
                ? new BcECContentVerifierProviderBuilder(digests).build(publicKey)
                : new BcEdDSAContentVerifierProviderBuilder().build(publicKey);
    }

    /** Whether one certificate is signed by the key of another that it names as its issuer. */
    public static boolean isSigned(X509CertificateHolder certificate, X509CertificateHolder by) {
        try {
            return certificate.getIssuer().equals(by.getSubject())
                    && certificate.isSignatureValid(verifier(by.getSubjectPublicKeyInfo()));
        } catch (IOException | CertException | OperatorCreationException | RuntimeException e) {
            return false;
        }
    }

    /** The same for certificates in DER. */
    public static boolean isSigned(byte[] certificate, byte[] by) {
        try {
            return isSigned(new X509CertificateHolder(certificate), new X509CertificateHolder(by));
        } catch (IOException | RuntimeException e) {
            return false;
        }
    }

    static boolean isSigned(X509CRLHolder list, byte[] by) {
        try {
            X509CertificateHolder authority = new X509CertificateHolder(by);
            return list.getIssuer().equals(authority.getSubject())
                    && list.isSignatureValid(verifier(authority.getSubjectPublicKeyInfo()));
        } catch (IOException | CertException | OperatorCreationException | RuntimeException e) {
            return false;
        }
    }
}
