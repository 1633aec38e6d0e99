package tender.core.certificate;

import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import org.bouncycastle.asn1.x500.RDN;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.asn1.x500.style.BCStyle;
import org.bouncycastle.asn1.x500.style.IETFUtils;
import org.bouncycastle.asn1.x509.AuthorityKeyIdentifier;
import org.bouncycastle.asn1.x509.BasicConstraints;
import org.bouncycastle.asn1.x509.ExtendedKeyUsage;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.asn1.x509.Extensions;
import org.bouncycastle.asn1.x509.GeneralName;
import org.bouncycastle.asn1.x509.GeneralNames;
import org.bouncycastle.asn1.x509.KeyPurposeId;
import org.bouncycastle.asn1.x509.SubjectKeyIdentifier;
import org.bouncycastle.cert.X509CertificateHolder;
import org.bouncycastle.operator.DefaultSignatureNameFinder;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;
import tender.core.wire.Sha256;

/**
 * What a certificate says (RFC 5280).
 *
 * @param names DNS names, addresses and mail addresses it is for, beside its common name
 * @param fingerprint SHA-256 over the whole certificate, hexadecimal
 * @param keyId the subject's key identifier, empty where there is none
 * @param issuerKeyId the issuer's, empty where there is none
 */
public record CertificateFacts(
        String subject,
        String commonName,
        String issuer,
        String serial,
        List<String> names,
        Instant starts,
        Instant ends,
        KeyFacts key,
        Role role,
        String signature,
        String fingerprint,
        String keyId,
        String issuerKeyId) {
    /** What it may be used for. */
    public enum Role {
        AUTHORITY,
        SERVER,
        CLIENT,
        SERVER_AND_CLIENT,
        UNSTATED;

        public String words() {
            return switch (this) {
                case AUTHORITY -> "an authority's";
                case SERVER -> "a server's";
                case CLIENT -> "a person's or device's";
                case SERVER_AND_CLIENT -> "a server's or client's";
                case UNSTATED -> "of no stated role";
            };
        }
    }

    private static final int MAX_NAMES = 100;

    /**
     * @param der of one certificate (RFC 5280 §4.1)
     * @throws MalformedException where it is damaged, or its key of a kind that is not known
     */
    public static CertificateFacts of(byte[] der) {
        try {
            X509CertificateHolder c = new X509CertificateHolder(der);
            Extensions extensions = c.getExtensions();
            return new CertificateFacts(
                    text(c.getSubject()),
                    commonName(c.getSubject()),
                    text(c.getIssuer()),
                    c.getSerialNumber().toString(16),
                    names(extensions),
                    c.getNotBefore().toInstant(),
                    c.getNotAfter().toInstant(),
                    KeyFacts.of(c.getSubjectPublicKeyInfo()),
                    role(extensions),
                    new DefaultSignatureNameFinder().getAlgorithmName(c.getSignatureAlgorithm()),
                    Sha256.hex(c.getEncoded()),
                    Optional.ofNullable(SubjectKeyIdentifier.fromExtensions(extensions))
                            .map(k -> HexFormat.of().formatHex(k.getKeyIdentifier()))
                            .orElse(""),
                    Optional.ofNullable(AuthorityKeyIdentifier.fromExtensions(extensions))
                            .map(AuthorityKeyIdentifier::getKeyIdentifierOctets)
                            .map(HexFormat.of()::formatHex)
                            .orElse(""));
        } catch (IOException | RuntimeException e) {
            throw e instanceof MalformedException m
                    ? m
                    : new MalformedException("certificate", "", "the certificate is damaged");
        }
    }

    /** Whether it states what its key may be used for (RFC 5280 §4.2.1.3), as OpenVPN's check of a server's role asks. */
    public static boolean statesKeyUsage(byte[] der) {
        try {
            return new X509CertificateHolder(der).getExtension(Extension.keyUsage) != null;
        } catch (IOException | RuntimeException e) {
            throw new MalformedException("certificate", "", "the certificate is damaged");
        }
    }

    static String text(X500Name name) {
        return printable(name.toString());
    }

    /** The common name, or an empty text. */
    static String commonName(X500Name name) {
        RDN[] all = name.getRDNs(BCStyle.CN);
        return all.length == 0
                ? ""
                : printable(IETFUtils.valueToString(all[0].getFirst().getValue()));
    }

    private static String printable(String text) {
        String plain = text.replaceAll("[\\p{Cntrl}\\p{Cf}]", " ");
        return plain.length() > 300 ? plain.substring(0, 300) : plain;
    }

    static List<String> names(Extensions extensions) {
        GeneralNames all =
                extensions == null ? null : GeneralNames.fromExtensions(extensions, Extension.subjectAlternativeName);
        List<String> out = new ArrayList<>();
        if (all != null) {
            Arrays.stream(all.getNames()).limit(MAX_NAMES).forEach(n -> name(n).ifPresent(out::add));
        }
        return List.copyOf(out);
    }

    private static Optional<String> name(GeneralName name) {
        return switch (name.getTagNo()) {
            case GeneralName.dNSName, GeneralName.rfc822Name ->
                Optional.of(printable(name.getName().toString()));
            case GeneralName.iPAddress -> {
                byte[] bytes = org.bouncycastle.asn1.ASN1OctetString.getInstance(name.getName())
                        .getOctets();
                yield bytes.length == 4 || bytes.length == 16
                        ? Optional.of(IpAddress.ofBytes(bytes).toString())
                        : Optional.empty();
            }
            default -> Optional.empty();
        };
    }

    private static Role role(Extensions extensions) {
        if (extensions == null) {
            return Role.UNSTATED;
        }
        BasicConstraints basic = BasicConstraints.fromExtensions(extensions);
        if (basic != null && basic.isCA()) {
            return Role.AUTHORITY;
        }
        ExtendedKeyUsage usage = ExtendedKeyUsage.fromExtensions(extensions);
        if (usage == null) {
            return Role.UNSTATED;
        }
        boolean server = usage.hasKeyPurposeId(KeyPurposeId.id_kp_serverAuth);
        boolean client = usage.hasKeyPurposeId(KeyPurposeId.id_kp_clientAuth);
        return server && client ? Role.SERVER_AND_CLIENT : server ? Role.SERVER : client ? Role.CLIENT : Role.UNSTATED;
    }

    public boolean isSelfSigned() {
        return subject.equals(issuer) && (issuerKeyId.isEmpty() || issuerKeyId.equals(keyId));
    }

    /** Whether this one's issuer is the other, by name and key identifier; the signature is checked elsewhere. */
    public boolean isIssuedBy(CertificateFacts authority) {
        return issuer.equals(authority.subject)
                && (issuerKeyId.isEmpty() || authority.keyId.isEmpty() || issuerKeyId.equals(authority.keyId));
    }

    /** Whether its signature rests on a broken digest. */
    public boolean isWeaklySigned() {
        String s = signature.toUpperCase(java.util.Locale.ROOT);
        return s.contains("MD5") || s.contains("SHA1") || s.contains("MD2");
    }

    public Optional<String> anyName() {
        return commonName.isEmpty() ? names.stream().findFirst() : Optional.of(commonName);
    }
}
