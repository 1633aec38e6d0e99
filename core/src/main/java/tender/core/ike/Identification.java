package tender.core.ike;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Optional;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.cert.X509CertificateHolder;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/** Who one says one is (RFC 7296 §3.5), as it is sent. */
record Identification(int type, byte[] data) {
    private static final int IPV4 = 1;
    private static final int NAME = 2;
    private static final int MAIL = 3;
    private static final int IPV6 = 5;
    private static final int SUBJECT = 9;

    /** Reads it as settings write it: an address, a mail address, a distinguished name, else a name. */
    static Identification parse(String text) {
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

    static Identification read(byte[] body) {
        if (body.length < 4) {
            throw new MalformedException("identity", "", "it is too short");
        }
        return new Identification(body[0] & 0xff, Arrays.copyOfRange(body, 4, body.length));
    }

    boolean is(Identification other) {
        return type == other.type && Arrays.equals(data, other.data);
    }

    String words() {
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
