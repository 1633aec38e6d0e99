package tender.core.ike;

import java.io.IOException;
import org.bouncycastle.asn1.x509.SubjectPublicKeyInfo;
import org.bouncycastle.crypto.CryptoException;
import org.bouncycastle.crypto.Digest;
import org.bouncycastle.crypto.Signer;
import org.bouncycastle.crypto.digests.SHA256Digest;
import org.bouncycastle.crypto.digests.SHA384Digest;
import org.bouncycastle.crypto.digests.SHA512Digest;
import org.bouncycastle.crypto.params.AsymmetricKeyParameter;
import org.bouncycastle.crypto.signers.DSADigestSigner;
import org.bouncycastle.crypto.signers.ECDSASigner;
import org.bouncycastle.crypto.signers.Ed25519Signer;
import org.bouncycastle.crypto.signers.HMacDSAKCalculator;
import org.bouncycastle.crypto.signers.PlainDSAEncoding;
import org.bouncycastle.crypto.signers.StandardDSAEncoding;
import org.bouncycastle.crypto.util.PrivateKeyFactory;
import org.bouncycastle.crypto.util.PublicKeyFactory;

/**
 * Signatures by elliptic keys. The library's are several times as fast as the JDK's, and a trial waits for two of each side.
 *
 * @param hashBits 256, 384 or 512; 0 for Ed25519, which has its own
 * @param plain whether the two numbers stand side by side (RFC 4754) and not as a sequence
 */
record EllipticSignature(int hashBits, boolean plain) {
    static final EllipticSignature ED25519 = new EllipticSignature(0, false);

    byte[] sign(byte[] pkcs8, byte[] octets) throws IOException {
        Signer signer = signer();
        signer.init(true, PrivateKeyFactory.createKey(pkcs8));
        signer.update(octets, 0, octets.length);
        try {
            return signer.generateSignature();
        } catch (CryptoException e) {
            throw new IOException("the key cannot sign", e);
        }
    }

    boolean verify(SubjectPublicKeyInfo key, byte[] octets, byte[] value) throws IOException {
        AsymmetricKeyParameter known = PublicKeyFactory.createKey(key);
        Signer signer = signer();
        signer.init(false, known);
        signer.update(octets, 0, octets.length);
        return signer.verifySignature(value);
    }

    private Signer signer() {
        return hashBits == 0
                ? new Ed25519Signer()
                : new DSADigestSigner(
                        new ECDSASigner(new HMacDSAKCalculator(digest())), // RFC 6979: nothing random to get wrong
                        digest(),
                        plain ? PlainDSAEncoding.INSTANCE : StandardDSAEncoding.INSTANCE);
    }

    private Digest digest() {
        return switch (hashBits) {
            case 512 -> new SHA512Digest();
            case 384 -> new SHA384Digest();
            default -> new SHA256Digest();
        };
    }
}
