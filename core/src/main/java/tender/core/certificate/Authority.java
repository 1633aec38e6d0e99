package tender.core.certificate;

import java.io.IOException;
import java.math.BigInteger;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Date;
import java.util.List;
import java.util.Optional;
import org.bouncycastle.asn1.ASN1ObjectIdentifier;
import org.bouncycastle.asn1.edec.EdECObjectIdentifiers;
import org.bouncycastle.asn1.pkcs.PKCSObjectIdentifiers;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.asn1.x500.X500NameBuilder;
import org.bouncycastle.asn1.x500.style.BCStyle;
import org.bouncycastle.asn1.x509.AlgorithmIdentifier;
import org.bouncycastle.asn1.x509.AuthorityKeyIdentifier;
import org.bouncycastle.asn1.x509.BasicConstraints;
import org.bouncycastle.asn1.x509.CRLDistPoint;
import org.bouncycastle.asn1.x509.CRLNumber;
import org.bouncycastle.asn1.x509.DistributionPoint;
import org.bouncycastle.asn1.x509.DistributionPointName;
import org.bouncycastle.asn1.x509.ExtendedKeyUsage;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.asn1.x509.GeneralName;
import org.bouncycastle.asn1.x509.GeneralNames;
import org.bouncycastle.asn1.x509.KeyPurposeId;
import org.bouncycastle.asn1.x509.KeyUsage;
import org.bouncycastle.asn1.x509.SubjectPublicKeyInfo;
import org.bouncycastle.asn1.x9.X9ObjectIdentifiers;
import org.bouncycastle.cert.X509CertificateHolder;
import org.bouncycastle.cert.X509v2CRLBuilder;
import org.bouncycastle.cert.X509v3CertificateBuilder;
import org.bouncycastle.cert.bc.BcX509ExtensionUtils;
import org.bouncycastle.operator.ContentSigner;
import org.bouncycastle.operator.DefaultDigestAlgorithmIdentifierFinder;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.bc.BcECContentSignerBuilder;
import org.bouncycastle.operator.bc.BcEdECContentSignerBuilder;
import org.bouncycastle.operator.bc.BcRSAContentSignerBuilder;
import org.bouncycastle.pkcs.PKCS10CertificationRequest;
import org.bouncycastle.pkcs.PKCS10CertificationRequestBuilder;
import tender.core.network.Host;
import tender.core.wire.MalformedException;

/**
 * A certificate authority (RFC 5280): its certificate and key, and what it signs. Serial numbers are random, 128 bits. Several
 * threads may sign at once: each signature has a signer of its own, since the library's keep what they are given.
 */
public final class Authority {
    private static final Duration EARLIER = Duration.ofMinutes(5); // for clocks that are a little behind
    private static final int SERIAL_BITS = 127;

    /** What a certificate is asked for. */
    public enum Purpose {
        SERVER,
        CLIENT
    }

    /** A revoked certificate's serial, when, and why by its number in RFC 5280 §5.3.1. */
    public record Revoked(String serial, Instant at, int reason) {}

    private final byte[] certificate;
    private final X509CertificateHolder holder;
    private final CertificateKey key;
    private final AuthorityKeyIdentifier keyId;
    private final SecureRandom random;

    private Authority(byte[] certificate, CertificateKey key, SecureRandom random) {
        this.certificate = certificate;
        this.key = key;
        this.random = random;
        try {
            this.holder = new X509CertificateHolder(certificate);
        } catch (IOException e) {
            throw new MalformedException("authority", "certificate", "the authority's certificate is damaged");
        }
        this.keyId = new BcX509ExtensionUtils().createAuthorityKeyIdentifier(holder);
    }

    /** An authority of one's own; its key is made by the caller, who may show progress. */
    public static Authority make(String name, CertificateKey key, Instant from, Instant until, SecureRandom random) {
        X500Name subject = name(name);
        X509v3CertificateBuilder builder = new X509v3CertificateBuilder(
                subject, serial(random), Date.from(from.minus(EARLIER)), Date.from(until), subject, key.info());
        try {
            BcX509ExtensionUtils utilities = new BcX509ExtensionUtils();
            builder.addExtension(Extension.basicConstraints, true, new BasicConstraints(0));
            builder.addExtension(Extension.keyUsage, true, new KeyUsage(KeyUsage.keyCertSign | KeyUsage.cRLSign));
            builder.addExtension(
                    Extension.subjectKeyIdentifier, false, utilities.createSubjectKeyIdentifier(key.info()));
            return new Authority(builder.build(signer(key, random)).getEncoded(), key, random);
        } catch (IOException e) {
            throw new IllegalStateException("a certificate cannot be encoded", e);
        }
    }

    /** One that exists; refuses a key that is not the certificate's, and a certificate that is no authority's. */
    public static Authority of(byte[] certificate, CertificateKey key, SecureRandom random) {
        CertificateFacts facts = CertificateFacts.of(certificate);
        if (facts.role() != CertificateFacts.Role.AUTHORITY) {
            throw new MalformedException(
                    "authority", "certificate", "is " + facts.role().words() + " and may sign no others");
        }
        if (!facts.key().digest().equals(key.digest())) {
            throw new MalformedException("authority", "key", "is not the key of this certificate");
        }
        return new Authority(certificate, key, random);
    }

    public byte[] certificate() {
        return certificate.clone();
    }

    public CertificateKey key() {
        return key;
    }

    /**
     * A certificate for somebody's public key.
     *
     * @param publicKey as certificates carry it
     * @param names DNS names and addresses clients compare; may be empty for a person's
     * @param revocations where the list of revoked certificates is published, if it is
     */
    public byte[] sign(
            Purpose purpose,
            String commonName,
            List<String> names,
            byte[] publicKey,
            Instant from,
            Instant until,
            Optional<String> revocations,
            SecureRandom random) {
        SubjectPublicKeyInfo subjectKey = SubjectPublicKeyInfo.getInstance(publicKey);
        X509v3CertificateBuilder builder = new X509v3CertificateBuilder(
                holder.getSubject(),
                serial(random),
                Date.from(from.minus(EARLIER)),
                Date.from(until),
                name(commonName),
                subjectKey);
        try {
            boolean server = purpose == Purpose.SERVER;
            boolean rsa = subjectKey.getAlgorithm().getAlgorithm().equals(PKCSObjectIdentifiers.rsaEncryption);
            builder.addExtension(Extension.basicConstraints, true, new BasicConstraints(false));
            builder.addExtension(
                    Extension.keyUsage,
                    true,
                    new KeyUsage(
                            server && rsa
                                    ? KeyUsage.digitalSignature | KeyUsage.keyEncipherment
                                    : KeyUsage.digitalSignature));
            builder.addExtension(
                    Extension.extendedKeyUsage,
                    false,
                    new ExtendedKeyUsage(server ? KeyPurposeId.id_kp_serverAuth : KeyPurposeId.id_kp_clientAuth));
            builder.addExtension(
                    Extension.subjectKeyIdentifier,
                    false,
                    new BcX509ExtensionUtils().createSubjectKeyIdentifier(subjectKey));
            builder.addExtension(Extension.authorityKeyIdentifier, false, keyId);
            if (!names.isEmpty()) {
                builder.addExtension(Extension.subjectAlternativeName, false, names(names));
            }
            if (revocations.isPresent()) {
                builder.addExtension(Extension.cRLDistributionPoints, false, published(revocations.get()));
            }
            return builder.build(signer(key, random)).getEncoded();
        } catch (IOException e) {
            throw new IllegalStateException("a certificate cannot be encoded", e);
        }
    }

    /** The list of revoked certificates, which names the authority's key: some servers ignore one that does not. */
    public byte[] revocations(List<Revoked> revoked, long number, Instant from, Instant next) {
        X509v2CRLBuilder builder = new X509v2CRLBuilder(holder.getSubject(), Date.from(from.minus(EARLIER)));
        builder.setNextUpdate(Date.from(next));
        revoked.forEach(r -> builder.addCRLEntry(new BigInteger(r.serial(), 16), Date.from(r.at()), r.reason()));
        try {
            builder.addExtension(Extension.authorityKeyIdentifier, false, keyId);
            builder.addExtension(Extension.cRLNumber, false, new CRLNumber(BigInteger.valueOf(number)));
            return builder.build(signer(key, random)).getEncoded();
        } catch (IOException e) {
            throw new IllegalStateException("a revocation list cannot be encoded", e);
        }
    }

    /** A request for a certificate (RFC 2986), as a device makes it that keeps its key. */
    public static byte[] request(String commonName, CertificateKey key, SecureRandom random) {
        try {
            return new PKCS10CertificationRequestBuilder(name(commonName), key.info())
                    .build(signer(key, random))
                    .getEncoded();
        } catch (IOException e) {
            throw new IllegalStateException("a request cannot be encoded", e);
        }
    }

    /** The public key of a request whose signature is good. */
    public static byte[] publicKeyOf(byte[] request) {
        if (!RequestFacts.of(request).signed()) {
            throw new MalformedException("request", "", "its signature is not by its key");
        }
        try {
            return new PKCS10CertificationRequest(request)
                    .getSubjectPublicKeyInfo()
                    .getEncoded();
        } catch (IOException e) {
            throw new MalformedException("request", "", "the request is damaged");
        }
    }

    private static BigInteger serial(SecureRandom random) {
        return new BigInteger(SERIAL_BITS, random).setBit(SERIAL_BITS - 1);
    }

    private static X500Name name(String commonName) {
        if (commonName.isBlank()
                || commonName.length() > 64
                || commonName.chars().anyMatch(Character::isISOControl)) {
            throw new MalformedException("name", "commonName", "1 to 64 printable characters");
        }
        return new X500NameBuilder(BCStyle.INSTANCE)
                .addRDN(BCStyle.CN, commonName)
                .build();
    }

    private static GeneralNames names(List<String> names) {
        List<GeneralName> out = new ArrayList<>();
        for (String name : names) {
            boolean literal = Host.parse(name) instanceof Host.Literal;
            out.add(new GeneralName(literal ? GeneralName.iPAddress : GeneralName.dNSName, name));
        }
        return new GeneralNames(out.toArray(new GeneralName[0]));
    }

    private static CRLDistPoint published(String url) {
        GeneralNames where = new GeneralNames(new GeneralName(GeneralName.uniformResourceIdentifier, url));
        return new CRLDistPoint(
                new DistributionPoint[] {new DistributionPoint(new DistributionPointName(where), null, null)});
    }

    private static ContentSigner signer(CertificateKey key, SecureRandom random) {
        try {
            return switch (key.kind()) {
                case EC_P256 ->
                    new BcECContentSignerBuilder(algorithm(X9ObjectIdentifiers.ecdsa_with_SHA256), digest())
                            .setSecureRandom(random)
                            .build(key.signer());
                case ED25519 ->
                    new BcEdECContentSignerBuilder(algorithm(EdECObjectIdentifiers.id_Ed25519)).build(key.signer());
                default ->
                    new BcRSAContentSignerBuilder(
                                    new AlgorithmIdentifier(
                                            PKCSObjectIdentifiers.sha256WithRSAEncryption,
                                            org.bouncycastle.asn1.DERNull.INSTANCE),
                                    digest())
                            .build(key.signer());
            };
        } catch (OperatorCreationException e) {
            throw new IllegalStateException("a key that was read cannot sign", e);
        }
    }

    private static AlgorithmIdentifier algorithm(ASN1ObjectIdentifier id) {
        return new AlgorithmIdentifier(id);
    }

    private static AlgorithmIdentifier digest() {
        return new DefaultDigestAlgorithmIdentifierFinder().find("SHA-256");
    }
}
