package tender.core.trial;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Optional;
import tender.core.network.IpAddress;

/** A UDP datagram (RFC 768) inside an IPv4 packet, as it goes through a tunnel. */
public record UdpPacket(IpAddress source, int sourcePort, IpAddress target, int targetPort, byte[] payload) {
    private static final int IP_HEADER = 20;
    private static final int UDP_HEADER = 8;
    private static final int PROTOCOL_UDP = 17;

    public byte[] encode() {
        int length = UDP_HEADER + payload.length;
        byte[] udp = ByteBuffer.allocate(length)
                .putShort((short) sourcePort)
                .putShort((short) targetPort)
                .putShort((short) length)
                .putShort((short) 0)
                .put(payload)
                .array();
        int sum = IcmpEcho.checksum(udp, pseudo(length));
        ByteBuffer.wrap(udp).putShort(6, (short) (sum == 0 ? 0xffff : sum));
        ByteBuffer out = ByteBuffer.allocate(IP_HEADER + length)
                .putShort((short) 0x4500)
                .putShort((short) (IP_HEADER + length))
                .putInt(0x4000)
                .put((byte) 64)
                .put((byte) PROTOCOL_UDP)
                .putShort((short) 0)
                .put(source.toBytes())
                .put(target.toBytes())
                .put(udp);
        out.putShort(10, (short) IcmpEcho.checksum(Arrays.copyOf(out.array(), IP_HEADER), 0));
        return out.array();
    }

    private int pseudo(int length) {
        return IcmpEcho.sum(source.toBytes()) + IcmpEcho.sum(target.toBytes()) + PROTOCOL_UDP + length;
    }

    /** Reads an inside packet, which may be padded; empty when it is not a whole datagram with a right checksum. */
    public static Optional<UdpPacket> decode(byte[] packet) {
        if (packet.length < IP_HEADER + UDP_HEADER || packet[0] >>> 4 != 4 || packet[9] != PROTOCOL_UDP) {
            return Optional.empty();
        }
        ByteBuffer in = ByteBuffer.wrap(packet);
        int header = (packet[0] & 0x0f) * 4;
        int total = in.getShort(2) & 0xffff;
        boolean fragment = (in.getShort(6) & 0x3fff) != 0;
        if (header < IP_HEADER || total > packet.length || total < header + UDP_HEADER || fragment) {
            return Optional.empty();
        }
        int length = in.getShort(header + 4) & 0xffff;
        if (length < UDP_HEADER || header + length > total) {
            return Optional.empty();
        }
        UdpPacket out = new UdpPacket(
                IpAddress.ofBytes(Arrays.copyOfRange(packet, 12, 16)),
                in.getShort(header) & 0xffff,
                IpAddress.ofBytes(Arrays.copyOfRange(packet, 16, 20)),
                in.getShort(header + 2) & 0xffff,
                Arrays.copyOfRange(packet, header + UDP_HEADER, header + length));
        byte[] udp = Arrays.copyOfRange(packet, header, header + length);
        boolean summed = in.getShort(header + 6) != 0;
        return !summed || IcmpEcho.checksum(udp, out.pseudo(length)) == 0 ? Optional.of(out) : Optional.empty();
    }
}
