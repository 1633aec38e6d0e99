package tender.core.ike;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.Signature;
import java.security.spec.MGF1ParameterSpec;
import java.security.spec.PKCS8EncodedKeySpec;
import java.security.spec.PSSParameterSpec;
import java.security.spec.X509EncodedKeySpec;
import java.util.Arrays;
import java.util.Map;
import org.bouncycastle.asn1.pkcs.PrivateKeyInfo;
import org.bouncycastle.asn1.pkcs.RSASSAPSSparams;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.cert.X509CertificateHolder;
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
    private static final Map<String, String> ALGORITHMS = Map.of(
            "1.2.840.113549.1.1.5", "SHA1withRSA",
            "1.2.840.113549.1.1.11", "SHA256withRSA",
            "1.2.840.113549.1.1.12", "SHA384withRSA",
            "1.2.840.113549.1.1.13", "SHA512withRSA",
            "1.2.840.10045.4.3.2", "SHA256withECDSA",
            "1.2.840.10045.4.3.3", "SHA384withECDSA",
            "1.2.840.10045.4.3.4", "SHA512withECDSA",
            "1.3.101.112", "Ed25519");
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
            AlgorithmIdentifier kind = PrivateKeyInfo.getInstance(pkcs8).getPrivateKeyAlgorithm();
            String oid = kind.getAlgorithm().getId();
            boolean rsa = oid.startsWith("1.2.840.113549.1.1");
            boolean ec = oid.equals("1.2.840.10045.2.1");
            PrivateKey own = KeyFactory.getInstance(rsa ? "RSA" : ec ? "EC" : "Ed25519")
                    .generatePrivate(new PKCS8EncodedKeySpec(pkcs8));
            if (!modern && (rsa || ec)) {
                int bits = ec
                        ? ((java.security.interfaces.ECPrivateKey) own)
                                .getParams()
                                .getOrder()
                                .bitLength()
                        : 0;
                String hash = bits > 384 ? "512" : bits > 256 ? "384" : "256";
                String name = rsa ? "SHA1withRSA" : "SHA" + hash + "withECDSAinP1363Format";
                int method = rsa ? RSA : bits > 384 ? ECDSA_521 : bits > 256 ? ECDSA_384 : ECDSA_256;
                return new Proof(method, sign(name, own, octets));
            }
            String algorithm = rsa ? "1.2.840.113549.1.1.11" : ec ? "1.2.840.10045.4.3.2" : "1.3.101.112";
            byte[] identifier = (rsa
                            ? new AlgorithmIdentifier(
                                    new org.bouncycastle.asn1.ASN1ObjectIdentifier(algorithm),
                                    org.bouncycastle.asn1.DERNull.INSTANCE)
                            : new AlgorithmIdentifier(new org.bouncycastle.asn1.ASN1ObjectIdentifier(algorithm)))
                    .getEncoded("DER");
            return new Proof(
                    SIGNATURE,
                    Bytes.join(
                            new byte[] {(byte) identifier.length},
                            identifier,
                            sign(ALGORITHMS.get(algorithm), own, octets)));
        } catch (GeneralSecurityException | IOException e) {
            throw new MalformedException("key", "", "the profile's key cannot sign: " + e.getMessage());
        }
    }

    private static byte[] sign(String name, PrivateKey key, byte[] octets) throws GeneralSecurityException {
        Signature signature = Signature.getInstance(name);
        signature.initSign(key);
        signature.update(octets);
        return signature.sign();
    }

    /** Whether the key of this certificate made the proof; also false where it cannot be told. */
    boolean isBy(byte[] certificate, byte[] octets) {
        try {
            X509CertificateHolder holder = new X509CertificateHolder(certificate);
            String kind = holder.getSubjectPublicKeyInfo()
                    .getAlgorithm()
                    .getAlgorithm()
                    .getId();
            String family =
                    kind.startsWith("1.2.840.113549.1.1") ? "RSA" : kind.equals("1.2.840.10045.2.1") ? "EC" : "Ed25519";
            PublicKey key = KeyFactory.getInstance(family)
                    .generatePublic(new X509EncodedKeySpec(
                            holder.getSubjectPublicKeyInfo().getEncoded()));
            Signature signature;
            byte[] value = data;
            switch (method) {
                case RSA -> signature = Signature.getInstance("SHA1withRSA");
                case ECDSA_256 -> signature = Signature.getInstance("SHA256withECDSAinP1363Format");
                case ECDSA_384 -> signature = Signature.getInstance("SHA384withECDSAinP1363Format");
                case ECDSA_521 -> signature = Signature.getInstance("SHA512withECDSAinP1363Format");
                case SIGNATURE -> {
                    int length = data[0] & 0xff;
                    AlgorithmIdentifier told = AlgorithmIdentifier.getInstance(Arrays.copyOfRange(data, 1, 1 + length));
                    value = Arrays.copyOfRange(data, 1 + length, data.length);
                    signature = signature(told);
                }
                default -> {
                    return false;
                }
            }
            signature.initVerify(key);
            signature.update(octets);
            return signature.verify(value);
        } catch (GeneralSecurityException | IOException | RuntimeException e) {
            return false;
        }
    }

    private static Signature signature(AlgorithmIdentifier told) throws GeneralSecurityException {
        String oid = told.getAlgorithm().getId();
        if (!oid.equals(RSA_PSS)) {
            String name = ALGORITHMS.get(oid);
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
