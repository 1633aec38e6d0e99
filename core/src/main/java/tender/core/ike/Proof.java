package tender.core.ike;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.MessageDigest;
import java.security.Signature;
import java.security.spec.MGF1ParameterSpec;
import java.security.spec.PKCS8EncodedKeySpec;
import java.security.spec.PSSParameterSpec;
import java.security.spec.X509EncodedKeySpec;
import java.util.Arrays;
import java.util.Map;
import org.bouncycastle.asn1.ASN1Encodable;
import org.bouncycastle.asn1.ASN1ObjectIdentifier;
import org.bouncycastle.asn1.DERNull;
import org.bouncycastle.asn1.pkcs.PrivateKeyInfo;
import org.bouncycastle.asn1.pkcs.RSASSAPSSparams;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.asn1.x509.SubjectPublicKeyInfo;
import org.bouncycastle.cert.X509CertificateHolder;
import org.bouncycastle.crypto.params.ECPrivateKeyParameters;
import org.bouncycastle.crypto.util.PrivateKeyFactory;
import tender.core.certificate.CertificateKey;
import tender.core.credential.RevealSecret;
import tender.core.wire.MalformedException;

/** The proof of who one is (RFC 7296 §2.15): a signature (RFC 7427 where both sides can), or by a shared secret. */
record Proof(int method, byte[] data) {
    static final int RSA = 1;
    static final int SHARED = 2;
    static final int ECDSA_256 = 9;
    static final int ECDSA_384 = 10;
    static final int ECDSA_521 = 11;
    static final int SIGNATURE = 14;
    private static final byte[] PAD = "Key Pad for IKEv2".getBytes(StandardCharsets.US_ASCII);
    private static final Map<String, String> DIGESTS = Map.of(
            "1.3.14.3.2.26", "SHA-1",
            "2.16.840.1.101.3.4.2.1", "SHA-256",
            "2.16.840.1.101.3.4.2.2", "SHA-384",
            "2.16.840.1.101.3.4.2.3", "SHA-512");
    private static final String ANY_RSA = "1.2.840.113549.1.1";
    private static final String EC = "1.2.840.10045.2.1";
    private static final String ED25519 = "1.3.101.112";
    private static final String SHA256_RSA = "1.2.840.113549.1.1.11";
    private static final String SHA256_EC = "1.2.840.10045.4.3.2";
    private static final String SHA384_EC = "1.2.840.10045.4.3.3";
    private static final String SHA512_EC = "1.2.840.10045.4.3.4";
    private static final Map<String, String> OF_RSA = Map.of(
            "1.2.840.113549.1.1.5",
            "SHA1withRSA",
            SHA256_RSA,
            "SHA256withRSA",
            "1.2.840.113549.1.1.12",
            "SHA384withRSA",
            "1.2.840.113549.1.1.13",
            "SHA512withRSA");
    private static final String RSA_PSS = "1.2.840.113549.1.1.10";

    /** Who says what: the first message, the other's nonce, and the identity as it is sent. */
    static byte[] octets(byte[] message, byte[] nonce, Prf prf, byte[] proofKey, byte[] identity) {
        return Bytes.join(message, nonce, prf.of(proofKey, identity));
    }

    static Proof shared(Prf prf, byte[] secret, byte[] octets) {
        return new Proof(SHARED, prf.of(prf.of(secret, PAD), octets));
    }

    Payload payload() {
        return new Payload(Payload.AUTHENTICATION, Bytes.join(new byte[] {(byte) method, 0, 0, 0}, data));
    }

    static Proof read(Payload payload) {
        byte[] body = payload.body();
        if (body.length < 4) {
            throw new MalformedException("proof", "", "it is too short");
        }
        return new Proof(body[0] & 0xff, Arrays.copyOfRange(body, 4, body.length));
    }

    /** @param modern whether the other side said which hashes it takes (RFC 7427 §4) */
    static Proof signed(CertificateKey key, byte[] octets, boolean modern) {
        try {
            byte[] pkcs8 = key.privateKey().reveal(RevealSecret.TO_HANDSHAKE);
            PrivateKeyInfo info = PrivateKeyInfo.getInstance(pkcs8);
            String kind = info.getPrivateKeyAlgorithm().getAlgorithm().getId();
            if (kind.startsWith(ANY_RSA)) {
                byte[] value = rsa(modern ? "SHA256withRSA" : "SHA1withRSA", pkcs8, octets);
                return modern ? named(SHA256_RSA, DERNull.INSTANCE, value) : new Proof(RSA, value);
            }
            if (!kind.equals(EC)) {
                return named(ED25519, null, EllipticSignature.ED25519.sign(pkcs8, octets));
            }
            if (modern) {
                return named(SHA256_EC, null, new EllipticSignature(256, false).sign(pkcs8, octets));
            }
            int bits = ((ECPrivateKeyParameters) PrivateKeyFactory.createKey(info))
                    .getParameters()
                    .getN()
                    .bitLength();
            int hash = bits > 384 ? 512 : bits > 256 ? 384 : 256;
            int method = bits > 384 ? ECDSA_521 : bits > 256 ? ECDSA_384 : ECDSA_256;
            return new Proof(method, new EllipticSignature(hash, true).sign(pkcs8, octets));
        } catch (GeneralSecurityException | IOException e) {
            throw new MalformedException("key", "", "the profile's key cannot sign: " + e.getMessage());
        }
    }

    /** A signature that says by which algorithm it was made (RFC 7427 §3). */
    private static Proof named(String algorithm, ASN1Encodable parameters, byte[] value) throws IOException {
        ASN1ObjectIdentifier oid = new ASN1ObjectIdentifier(algorithm);
        byte[] identifier = (parameters == null
                        ? new AlgorithmIdentifier(oid)
                        : new AlgorithmIdentifier(oid, parameters))
                .getEncoded("DER");
        return new Proof(SIGNATURE, Bytes.join(new byte[] {(byte) identifier.length}, identifier, value));
    }

    private static byte[] rsa(String name, byte[] pkcs8, byte[] octets) throws GeneralSecurityException {
        Signature signature = Signature.getInstance(name);
        signature.initSign(KeyFactory.getInstance("RSA").generatePrivate(new PKCS8EncodedKeySpec(pkcs8)));
        signature.update(octets);
        return signature.sign();
    }

    /** Compares in a time that tells nothing of where they differ. */
    boolean is(Proof other) {
        return method == other.method && MessageDigest.isEqual(data, other.data);
    }

    /** Whether the key of this certificate made the proof; also false where it cannot be told. */
    boolean isBy(byte[] certificate, byte[] octets) {
        try {
            SubjectPublicKeyInfo key = new X509CertificateHolder(certificate).getSubjectPublicKeyInfo();
            return switch (method) {
                case RSA -> verified(Signature.getInstance("SHA1withRSA"), key, octets, data);
                case ECDSA_256 -> new EllipticSignature(256, true).verify(key, octets, data);
                case ECDSA_384 -> new EllipticSignature(384, true).verify(key, octets, data);
                case ECDSA_521 -> new EllipticSignature(512, true).verify(key, octets, data);
                case SIGNATURE -> isNamedBy(key, octets);
                default -> false;
            };
        } catch (GeneralSecurityException | IOException | RuntimeException e) {
            return false;
        }
    }

    private boolean isNamedBy(SubjectPublicKeyInfo key, byte[] octets) throws GeneralSecurityException, IOException {
        int length = data[0] & 0xff;
        AlgorithmIdentifier told = AlgorithmIdentifier.getInstance(Arrays.copyOfRange(data, 1, 1 + length));
        byte[] value = Arrays.copyOfRange(data, 1 + length, data.length);
        String kind = key.getAlgorithm().getAlgorithm().getId();
        return switch (told.getAlgorithm().getId()) {
            case SHA256_EC -> kind.equals(EC) && new EllipticSignature(256, false).verify(key, octets, value);
            case SHA384_EC -> kind.equals(EC) && new EllipticSignature(384, false).verify(key, octets, value);
            case SHA512_EC -> kind.equals(EC) && new EllipticSignature(512, false).verify(key, octets, value);
            case ED25519 -> kind.equals(ED25519) && EllipticSignature.ED25519.verify(key, octets, value);
            default -> verified(signature(told), key, octets, value);
        };
    }

    private static boolean verified(Signature signature, SubjectPublicKeyInfo key, byte[] octets, byte[] value)
            throws GeneralSecurityException, IOException {
        signature.initVerify(KeyFactory.getInstance("RSA").generatePublic(new X509EncodedKeySpec(key.getEncoded())));
        signature.update(octets);
        return signature.verify(value);
    }

    private static Signature signature(AlgorithmIdentifier told) throws GeneralSecurityException {
        String oid = told.getAlgorithm().getId();
        if (!oid.equals(RSA_PSS)) {
            String name = OF_RSA.get(oid);
            if (name == null) {
                throw new GeneralSecurityException("an unknown signature");
            }
            return Signature.getInstance(name);
        }
        RSASSAPSSparams params = RSASSAPSSparams.getInstance(told.getParameters());
        String digest = DIGESTS.get(params.getHashAlgorithm().getAlgorithm().getId());
        Signature out = Signature.getInstance("RSASSA-PSS");
        out.setParameter(new PSSParameterSpec(
                digest,
                "MGF1",
                new MGF1ParameterSpec(digest),
                params.getSaltLength().intValue(),
                1));
        return out;
    }
}
