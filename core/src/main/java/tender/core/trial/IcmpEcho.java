package tender.core.trial;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Optional;
import tender.core.network.IpAddress;

/** ICMP echo inside an IP packet: RFC 792 in RFC 791 packets, RFC 4443 §4 in RFC 8200 packets. */
public record IcmpEcho(
        IpAddress source, IpAddress target, boolean reply, int identifier, int sequence, byte[] payload) {
    private static final int V4_HEADER = 20;
    private static final int V6_HEADER = 40;
    private static final int ICMP_HEADER = 8;
    private static final int PROTOCOL_ICMP = 1;
    private static final int PROTOCOL_ICMPV6 = 58;
    private static final int TTL = 64;
    private static final int DONT_FRAGMENT = 0x4000;

    public IcmpEcho {
        if (source.family() != target.family()) {
            throw new IllegalStateException("source and target are of different families");
        }
    }

    /** The answer a host gives to this request. */
    public IcmpEcho answer() {
        return new IcmpEcho(target, source, true, identifier, sequence, payload);
    }

    public byte[] encode() {
        byte[] icmp = icmp();
        return source.isV4() ? v4(icmp) : v6(icmp);
    }

    private byte[] icmp() {
        boolean v4 = source.isV4();
        int type = v4 ? (reply ? 0 : 8) : (reply ? 129 : 128);
        byte[] out = ByteBuffer.allocate(ICMP_HEADER + payload.length)
                .put((byte) type)
                .put((byte) 0)
                .putShort((short) 0)
                .putShort((short) identifier)
                .putShort((short) sequence)
                .put(payload)
                .array();
        int sum = checksum(out, v4 ? 0 : pseudoHeader(out.length));
        out[2] = (byte) (sum >>> 8);
        out[3] = (byte) sum;
        return out;
    }

    private byte[] v4(byte[] icmp) {
        ByteBuffer out = ByteBuffer.allocate(V4_HEADER + icmp.length)
                .put((byte) 0x45)
                .put((byte) 0)
                .putShort((short) (V4_HEADER + icmp.length))
                .putShort((short) 0)
                .putShort((short) DONT_FRAGMENT)
                .put((byte) TTL)
                .put((byte) PROTOCOL_ICMP)
                .putShort((short) 0)
                .put(source.toBytes())
                .put(target.toBytes())
                .put(icmp);
        out.putShort(10, (short) checksum(Arrays.copyOf(out.array(), V4_HEADER), 0));
        return out.array();
    }

    private byte[] v6(byte[] icmp) {
        return ByteBuffer.allocate(V6_HEADER + icmp.length)
                .putInt(0x60000000)
                .putShort((short) icmp.length)
                .put((byte) PROTOCOL_ICMPV6)
                .put((byte) TTL)
                .put(source.toBytes())
                .put(target.toBytes())
                .put(icmp)
                .array();
    }

    /** RFC 4443 §2.3: the checksum also covers addresses, length and next header. */
    private int pseudoHeader(int length) {
        return sum(source.toBytes()) + sum(target.toBytes()) + length + PROTOCOL_ICMPV6;
    }

    /** Reads an inside packet, which may be padded; empty when it is not a whole echo with a right checksum. */
    public static Optional<IcmpEcho> decode(byte[] packet) {
        if (packet.length >= V4_HEADER && packet[0] >>> 4 == 4) {
            return decodeV4(packet);
        }
        return packet.length >= V6_HEADER && (packet[0] & 0xf0) == 0x60 ? decodeV6(packet) : Optional.empty();
    }

    private static Optional<IcmpEcho> decodeV4(byte[] packet) {
        int header = (packet[0] & 0x0f) * 4;
        int total = u16(packet, 2);
        boolean fragment = (u16(packet, 6) & 0x3fff) != 0;
        if (header < V4_HEADER
                || total > packet.length
                || total < header + ICMP_HEADER
                || fragment
                || packet[9] != PROTOCOL_ICMP
                || checksum(Arrays.copyOf(packet, header), 0) != 0) {
            return Optional.empty();
        }
        byte[] icmp = Arrays.copyOfRange(packet, header, total);
        IpAddress from = IpAddress.ofBytes(Arrays.copyOfRange(packet, 12, 16));
        IpAddress to = IpAddress.ofBytes(Arrays.copyOfRange(packet, 16, 20));
        return checksum(icmp, 0) == 0 ? message(from, to, icmp, 8, 0) : Optional.empty();
    }

    private static Optional<IcmpEcho> decodeV6(byte[] packet) {
        int length = u16(packet, 4);
        if (packet[6] != PROTOCOL_ICMPV6 || V6_HEADER + length > packet.length || length < ICMP_HEADER) {
            return Optional.empty();
        }
        byte[] icmp = Arrays.copyOfRange(packet, V6_HEADER, V6_HEADER + length);
        IpAddress from = IpAddress.ofBytes(Arrays.copyOfRange(packet, 8, 24));
        IpAddress to = IpAddress.ofBytes(Arrays.copyOfRange(packet, 24, 40));
        int pseudo = sum(from.toBytes()) + sum(to.toBytes()) + length + PROTOCOL_ICMPV6;
        return checksum(icmp, pseudo) == 0 ? message(from, to, icmp, 128, 129) : Optional.empty();
    }

    private static Optional<IcmpEcho> message(IpAddress from, IpAddress to, byte[] icmp, int request, int reply) {
        int type = icmp[0] & 0xff;
        if (type != request && type != reply || icmp[1] != 0) {
            return Optional.empty();
        }
        byte[] payload = Arrays.copyOfRange(icmp, ICMP_HEADER, icmp.length);
        return Optional.of(new IcmpEcho(from, to, type == reply, u16(icmp, 4), u16(icmp, 6), payload));
    }

    private static int u16(byte[] bytes, int at) {
        return (bytes[at] & 0xff) << 8 | bytes[at + 1] & 0xff;
    }

    static int sum(byte[] bytes) {
        int sum = 0;
        for (int i = 0; i < bytes.length; i += 2) {
            sum += (bytes[i] & 0xff) << 8 | (i + 1 < bytes.length ? bytes[i + 1] & 0xff : 0);
        }
        return sum;
    }

    /** RFC 1071. */
    static int checksum(byte[] bytes, int start) {
        int sum = start + sum(bytes);
        while (sum >>> 16 != 0) {
            sum = (sum & 0xffff) + (sum >>> 16);
        }
        return ~sum & 0xffff;
    }
}
