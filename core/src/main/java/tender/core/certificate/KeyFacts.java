package tender.core.certificate;

import java.io.IOException;
import org.bouncycastle.asn1.x509.SubjectPublicKeyInfo;
import org.bouncycastle.crypto.params.AsymmetricKeyParameter;
import org.bouncycastle.crypto.params.DSAPublicKeyParameters;
import org.bouncycastle.crypto.params.ECPublicKeyParameters;
import org.bouncycastle.crypto.params.Ed25519PublicKeyParameters;
import org.bouncycastle.crypto.params.Ed448PublicKeyParameters;
import org.bouncycastle.crypto.params.RSAKeyParameters;
import org.bouncycastle.crypto.util.PublicKeyFactory;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;

/**
 * What a public key is.
 *
 * @param bits as its kind counts them
 * @param rsaBits the RSA key of about the same strength (NIST SP 800-57, table 2)
 * @param digest of the whole public key, by which a certificate and a private key are matched
 */
public record KeyFacts(String algorithm, int bits, int rsaBits, String digest) {
    /** @param der of a SubjectPublicKeyInfo */
    public static KeyFacts of(byte[] der) {
        try {
            return of(SubjectPublicKeyInfo.getInstance(der));
        } catch (IllegalArgumentException e) {
            throw new MalformedException("public-key", "", "no sound public key");
        }
    }

    static KeyFacts of(SubjectPublicKeyInfo info) {
        try {
            AsymmetricKeyParameter key = PublicKeyFactory.createKey(info);
            String digest = Sha256.hex(info.getEncoded());
            if (key instanceof RSAKeyParameters rsa) {
                int bits = rsa.getModulus().bitLength();
                return new KeyFacts("RSA", bits, bits, digest);
            }
            if (key instanceof ECPublicKeyParameters ec) {
                int bits = ec.getParameters().getCurve().getFieldSize();
                return new KeyFacts("EC", bits, bits >= 384 ? 7680 : bits >= 256 ? 3072 : bits * 8, digest);
            }
            if (key instanceof DSAPublicKeyParameters dsa) {
                int bits = dsa.getParameters().getP().bitLength();
                return new KeyFacts("DSA", bits, bits, digest);
            }
            if (key instanceof Ed25519PublicKeyParameters) {
                return new KeyFacts("Ed25519", 256, 3072, digest);
            }
            if (key instanceof Ed448PublicKeyParameters) {
                return new KeyFacts("Ed448", 456, 7680, digest);
            }
            throw new MalformedException("key", "", "a kind of key that is not known");
        } catch (IOException | RuntimeException e) {
            throw e instanceof MalformedException m
                    ? m
                    : new MalformedException("key", "", "the public key is damaged");
        }
    }

    /** Such as RSA 2048 or EC 256. */
    public String words() {
        return algorithm + (algorithm.startsWith("Ed") ? "" : " " + bits);
    }
}
