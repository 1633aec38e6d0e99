package tender.core.ike;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.cert.X509CertificateHolder;
import tender.core.certificate.CertificateFacts;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/** Who one says one is (RFC 7296 §3.5), as it is sent. */
public record Identification(int type, byte[] data) {
    private static final int IPV4 = 1;
    private static final int NAME = 2;
    private static final int MAIL = 3;
    private static final int IPV6 = 5;
    private static final int SUBJECT = 9;
    private static final int KEY_ID = 11;
    private static final Map<String, Integer> KINDS = Map.of(
            "fqdn:", NAME,
            "dns:", NAME,
            "email:", MAIL,
            "rfc822:", MAIL,
            "userfqdn:", MAIL,
            "keyid:", KEY_ID);

    /**
     * Reads it as strongSwan's settings write it: the kind before a colon where it is told, else an address, a mail address, a
     * distinguished name or a name.
     */
    public static Identification parse(String text) {
        int colon = text.indexOf(':') + 1;
        Integer kind = KINDS.get(text.substring(0, colon).toLowerCase(Locale.ROOT));
        if (kind != null) {
            return new Identification(kind, text.substring(colon).getBytes(StandardCharsets.UTF_8));
        }
        if (text.matches("(?i)(ipv4|ipv6|asn1dn):.*")) {
            return parse(text.substring(colon));
        }
        Optional<IpAddress> address = address(text);
        if (address.isPresent()) {
            return new Identification(
                    address.get().isV4() ? IPV4 : IPV6, address.get().toBytes());
        }
        if (text.contains("=")) {
            try {
                return new Identification(SUBJECT, new X500Name(text).getEncoded());
            } catch (IOException | IllegalArgumentException e) {
                throw new MalformedException("id", "id", "no distinguished name");
            }
        }
        String name = text.startsWith("@") ? text.substring(1) : text;
        return new Identification(
                !text.startsWith("@") && text.contains("@") ? MAIL : NAME, name.getBytes(StandardCharsets.UTF_8));
    }

    private static Optional<IpAddress> address(String text) {
        try {
            return Optional.of(IpAddress.parse(text));
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    static Identification ofSubject(byte[] certificate) {
        try {
            return new Identification(
                    SUBJECT, new X509CertificateHolder(certificate).getSubject().getEncoded());
        } catch (IOException e) {
            throw new MalformedException("certificate", "", "it cannot be read");
        }
    }

    byte[] body() {
        return Bytes.join(new byte[] {(byte) type, 0, 0, 0}, data);
    }

    public static Identification read(byte[] body) {
        if (body.length < 4) {
            throw new MalformedException("identity", "", "it is too short");
        }
        return new Identification(body[0] & 0xff, Arrays.copyOfRange(body, 4, body.length));
    }

    /** Whether a certificate is somebody's: as one of its names, or as its subject. */
    public boolean isOf(byte[] certificate) {
        if (type == SUBJECT) {
            try {
                return X500Name.getInstance(data).equals(new X509CertificateHolder(certificate).getSubject());
            } catch (IOException | IllegalArgumentException e) {
                return false;
            }
        }
        return CertificateFacts.of(certificate).names().stream().anyMatch(n -> n.equalsIgnoreCase(words()));
    }

    /** Whether both mean the same one. */
    public boolean means(Identification other) {
        return type == other.type && words().equalsIgnoreCase(other.words());
    }

    boolean is(Identification other) {
        return type == other.type && Arrays.equals(data, other.data);
    }

    public String words() {
        try {
            return switch (type) {
                case IPV4, IPV6 -> IpAddress.ofBytes(data).toString();
                case SUBJECT -> X500Name.getInstance(data).toString();
                default -> new String(data, StandardCharsets.UTF_8).replaceAll("\\p{Cntrl}", "?");
            };
        } catch (RuntimeException e) {
            return "an identity that cannot be read";
        }
    }
}
