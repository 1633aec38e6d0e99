package tender.core.ike;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import tender.core.network.IpAddress;
import tender.core.wire.ByteCursor;

/** What a server gives a caller for the tunnel (RFC 7296 §3.15): addresses, and name servers. */
public record Assigned(List<IpAddress> addresses, List<IpAddress> dns) {
    private static final int REQUEST = 1;
    private static final int REPLY = 2;
    private static final int ADDRESS_V4 = 1;
    private static final int DNS_V4 = 3;
    private static final int ADDRESS_V6 = 8;
    private static final int DNS_V6 = 10;

    static final Assigned NOTHING = new Assigned(List.of(), List.of());

    public Assigned {
        addresses = List.copyOf(addresses);
        dns = List.copyOf(dns);
    }

    /** Asks for addresses of these families, and for name servers. */
    static Payload request(boolean v4, boolean v6) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(new byte[] {REQUEST, 0, 0, 0});
        if (v4) {
            attribute(out, ADDRESS_V4, new byte[0]);
            attribute(out, DNS_V4, new byte[0]);
        }
        if (v6) {
            attribute(out, ADDRESS_V6, new byte[0]);
            attribute(out, DNS_V6, new byte[0]);
        }
        return new Payload(Payload.CONFIGURATION, out.toByteArray());
    }

    Payload reply() {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(new byte[] {REPLY, 0, 0, 0});
        for (IpAddress a : addresses) {
            attribute(
                    out,
                    a.isV4() ? ADDRESS_V4 : ADDRESS_V6,
                    a.isV4() ? a.toBytes() : Bytes.join(a.toBytes(), new byte[] {(byte) 128}));
        }
        dns.forEach(d -> attribute(out, d.isV4() ? DNS_V4 : DNS_V6, d.toBytes()));
        return new Payload(Payload.CONFIGURATION, out.toByteArray());
    }

    private static void attribute(ByteArrayOutputStream out, int type, byte[] value) {
        out.writeBytes(ByteBuffer.allocate(4)
                .putShort((short) type)
                .putShort((short) value.length)
                .array());
        out.writeBytes(value);
    }

    static Assigned read(Payload payload) {
        ByteCursor in = new ByteCursor(payload.body());
        in.skip(4);
        List<IpAddress> addresses = new ArrayList<>();
        List<IpAddress> dns = new ArrayList<>();
        while (in.remaining() >= 4) {
            int type = in.u16() & 0x7fff;
            byte[] value = in.bytes(in.u16());
            if (type == ADDRESS_V4 && value.length == 4) {
                addresses.add(IpAddress.ofBytes(value));
            } else if (type == ADDRESS_V6 && value.length >= 16) {
                addresses.add(IpAddress.ofBytes(Arrays.copyOf(value, 16)));
            } else if (type == DNS_V4 && value.length == 4 || type == DNS_V6 && value.length == 16) {
                dns.add(IpAddress.ofBytes(value));
            }
        }
        return new Assigned(addresses, dns);
    }

    public Optional<IpAddress> address(IpAddress.Family family) {
        return addresses.stream().filter(a -> a.family() == family).findFirst();
    }
}
