package tender.core.certificate;

import java.io.IOException;
import java.math.BigInteger;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Locale;
import org.bouncycastle.asn1.ASN1BitString;
import org.bouncycastle.asn1.DERBitString;
import org.bouncycastle.asn1.pkcs.PrivateKeyInfo;
import org.bouncycastle.asn1.sec.ECPrivateKey;
import org.bouncycastle.asn1.sec.SECObjectIdentifiers;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.asn1.x509.SubjectPublicKeyInfo;
import org.bouncycastle.asn1.x9.X9ObjectIdentifiers;
import org.bouncycastle.crypto.AsymmetricCipherKeyPair;
import org.bouncycastle.crypto.generators.ECKeyPairGenerator;
import org.bouncycastle.crypto.generators.Ed25519KeyPairGenerator;
import org.bouncycastle.crypto.generators.RSAKeyPairGenerator;
import org.bouncycastle.crypto.params.AsymmetricKeyParameter;
import org.bouncycastle.crypto.params.ECKeyGenerationParameters;
import org.bouncycastle.crypto.params.ECNamedDomainParameters;
import org.bouncycastle.crypto.params.ECPrivateKeyParameters;
import org.bouncycastle.crypto.params.ECPublicKeyParameters;
import org.bouncycastle.crypto.params.Ed25519KeyGenerationParameters;
import org.bouncycastle.crypto.params.Ed25519PrivateKeyParameters;
import org.bouncycastle.crypto.params.RSAKeyGenerationParameters;
import org.bouncycastle.crypto.params.RSAPrivateCrtKeyParameters;
import org.bouncycastle.crypto.util.PrivateKeyFactory;
import org.bouncycastle.crypto.util.PrivateKeyInfoFactory;
import org.bouncycastle.crypto.util.SubjectPublicKeyInfoFactory;
import org.bouncycastle.math.ec.FixedPointCombMultiplier;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;

/** A key pair for certificates: the private half in PKCS#8 (RFC 5958), the public half as certificates carry it. */
public record CertificateKey(Kind kind, Secret privateKey, byte[] publicKey) {
    public static final int LEAST_RSA_BITS = 2048;
    public static final int MOST_RSA_BITS = 8192;
    private static final ECNamedDomainParameters P256 = ECNamedDomainParameters.lookup(SECObjectIdentifiers.secp256r1);

    /** Kinds of keys that Tender makes. */
    public enum Kind {
        EC_P256("ec-p256", 3072),
        RSA_2048("rsa-2048", 2048),
        RSA_3072("rsa-3072", 3072),
        RSA_4096("rsa-4096", 4096),
        ED25519("ed25519", 3072);

        private final String word;
        private final int rsaBits;

        Kind(String word, int rsaBits) {
            this.word = word;
            this.rsaBits = rsaBits;
        }

        public String word() {
            return word;
        }

        /** The RSA key of about the same strength. */
        public int rsaBits() {
            return rsaBits;
        }

        public static Kind parse(String word) {
            for (Kind kind : values()) {
                if (kind.word.equals(word.toLowerCase(Locale.ROOT))) {
                    return kind;
                }
            }
            throw new MalformedException("key", "key", "ec-p256, rsa-2048, rsa-3072, rsa-4096 or ed25519");
        }
    }

    /** Makes a pair; RSA takes seconds. */
    public static CertificateKey generate(Kind kind, SecureRandom random) {
        AsymmetricCipherKeyPair pair = switch (kind) {
            case EC_P256 -> {
                ECKeyPairGenerator generator = new ECKeyPairGenerator();
                generator.init(new ECKeyGenerationParameters(P256, random));
                yield generator.generateKeyPair();
            }
            case ED25519 -> {
                Ed25519KeyPairGenerator generator = new Ed25519KeyPairGenerator();
                generator.init(new Ed25519KeyGenerationParameters(random));
                yield generator.generateKeyPair();
            }
            default -> {
                RSAKeyPairGenerator generator = new RSAKeyPairGenerator();
                generator.init(new RSAKeyGenerationParameters(BigInteger.valueOf(65_537), random, kind.rsaBits(), 100));
                yield generator.generateKeyPair();
            }
        };
        try {
            return new CertificateKey(
                    kind,
                    Secret.of(privateInfo(pair).getEncoded()),
                    SubjectPublicKeyInfoFactory.createSubjectPublicKeyInfo(pair.getPublic())
                            .getEncoded());
        } catch (IOException e) {
            throw new IllegalStateException("a fresh key cannot be encoded", e);
        }
    }

    /** The library's own form works out an elliptic key's public half once more, which costs as much as making the key. */
    private static PrivateKeyInfo privateInfo(AsymmetricCipherKeyPair pair) throws IOException {
        if (pair.getPrivate() instanceof ECPrivateKeyParameters ec) {
            byte[] point = ((ECPublicKeyParameters) pair.getPublic()).getQ().getEncoded(false);
            return new PrivateKeyInfo(
                    new AlgorithmIdentifier(X9ObjectIdentifiers.id_ecPublicKey, SECObjectIdentifiers.secp256r1),
                    new ECPrivateKey(P256.getN().bitLength(), ec.getD(), new DERBitString(point), null));
        }
        return plain(PrivateKeyInfoFactory.createPrivateKeyInfo(pair.getPrivate()));
    }

    /** Version 1 of the form, without the public half, which OpenSSL 3.0 does not read for Ed25519. */
    private static PrivateKeyInfo plain(PrivateKeyInfo info) throws IOException {
        return new PrivateKeyInfo(info.getPrivateKeyAlgorithm(), info.parsePrivateKey());
    }

    /** A key from its PKCS#8 form. */
    public static CertificateKey ofPrivate(Secret pkcs8) {
        try {
            PrivateKeyInfo info = PrivateKeyInfo.getInstance(pkcs8.reveal(RevealSecret.TO_ENCRYPT));
            AsymmetricKeyParameter key = PrivateKeyFactory.createKey(info);
            SubjectPublicKeyInfo derived = publicOf(key);
            if (key instanceof ECPrivateKeyParameters && !holds(info, derived)) {
                throw new MalformedException("key", "", "the public half in the key is another's");
            }
            return new CertificateKey(kind(key), pkcs8, derived.getEncoded());
        } catch (IOException | RuntimeException e) {
            throw e instanceof MalformedException m
                    ? m
                    : new MalformedException("key", "", "the private key is damaged");
        }
    }

    /** Whether a key on a curve says the public half that belongs to it (RFC 5915 §3), where it says one as a whole point. */
    private static boolean holds(PrivateKeyInfo info, SubjectPublicKeyInfo derived) throws IOException {
        ASN1BitString said = ECPrivateKey.getInstance(info.parsePrivateKey()).getPublicKey();
        byte[] own = derived.getPublicKeyData().getBytes();
        boolean whole = said != null && said.getBytes().length != (own.length + 1) / 2; // else one half of the point
        return !whole || Arrays.equals(said.getBytes(), own);
    }

    private static Kind kind(AsymmetricKeyParameter key) {
        if (key instanceof RSAPrivateCrtKeyParameters rsa) {
            int bits = rsa.getModulus().bitLength();
            return bits >= 4096 ? Kind.RSA_4096 : bits >= 3072 ? Kind.RSA_3072 : Kind.RSA_2048;
        }
        if (key instanceof Ed25519PrivateKeyParameters) {
            return Kind.ED25519;
        }
        if (key instanceof ECPrivateKeyParameters) {
            return Kind.EC_P256;
        }
        throw new MalformedException("key", "", "a kind of key that certificates are not made with here");
    }

    /** The public half that belongs to a private key. */
    static SubjectPublicKeyInfo publicOf(AsymmetricKeyParameter key) throws IOException {
        AsymmetricKeyParameter publicKey;
        if (key instanceof RSAPrivateCrtKeyParameters rsa) {
            publicKey = new org.bouncycastle.crypto.params.RSAKeyParameters(
                    false, rsa.getModulus(), rsa.getPublicExponent());
        } else if (key instanceof ECPrivateKeyParameters ec) {
            publicKey = new org.bouncycastle.crypto.params.ECPublicKeyParameters(
                    new FixedPointCombMultiplier()
                            .multiply(ec.getParameters().getG(), ec.getD())
                            .normalize(),
                    ec.getParameters());
        } else if (key instanceof Ed25519PrivateKeyParameters ed) {
            publicKey = ed.generatePublicKey();
        } else {
            throw new MalformedException("key", "", "a kind of key that is not known");
        }
        return SubjectPublicKeyInfoFactory.createSubjectPublicKeyInfo(publicKey);
    }

    AsymmetricKeyParameter signer() {
        try {
            return PrivateKeyFactory.createKey(privateKey.reveal(RevealSecret.TO_SIGN));
        } catch (IOException e) {
            throw new IllegalStateException("the key was read before", e);
        }
    }

    SubjectPublicKeyInfo info() {
        return SubjectPublicKeyInfo.getInstance(publicKey);
    }

    /** Digest of the public half, as {@link KeyFacts#digest()}. */
    public String digest() {
        return Sha256.hex(publicKey);
    }
}
