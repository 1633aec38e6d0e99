package tender.standins.listener;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.network.IpAddress;
import tender.core.trial.IcmpEcho;
import tender.core.trial.Stun;
import tender.core.trial.UdpPacket;
import tender.standins.device.Faults;

/**
 * What stands behind a device: hosts that answer echo, a name server that knows them, and the way out for those who send
 * everything through the tunnel.
 *
 * @param hosts that answer echo, the device's own inside addresses among them
 * @param nameServer inside; it answers for {@code names} alone
 * @param outside the device's own outside address, from which it asks STUN servers for its callers
 */
public record InsideWorld(
        Set<IpAddress> hosts, IpAddress nameServer, Map<String, IpAddress> names, InetAddress outside, Faults faults) {
    private static final int DNS_PORT = 53;
    /** Where a host gives back what it gets (RFC 862). */
    private static final int ECHO_PORT = 7;

    private static final int WAIT_MILLIS = 500;

    /** What comes back to a packet out of a tunnel. */
    public Optional<byte[]> answer(byte[] packet) {
        Optional<IcmpEcho> echo = IcmpEcho.decode(packet).filter(e -> !e.reply());
        if (echo.isPresent()) {
            return hosts.contains(echo.get().target()) && !faults.insideHostsSilent
                    ? Optional.of(echo.get().answer().encode())
                    : Optional.empty();
        }
        return UdpPacket.decode(packet).flatMap(this::answer);
    }

    private Optional<byte[]> answer(UdpPacket asked) {
        if (asked.targetPort() == ECHO_PORT && hosts.contains(asked.target()) && !faults.insideHostsSilent) {
            return Optional.of(
                    new UdpPacket(asked.target(), ECHO_PORT, asked.source(), asked.sourcePort(), asked.payload())
                            .encode());
        }
        Optional<byte[]> out = asked.targetPort() == Stun.PORT
                ? fromOutside(asked)
                : asked.targetPort() == DNS_PORT && asked.target().equals(nameServer)
                        ? named(asked.payload())
                        : Optional.empty();
        return out.map(payload -> new UdpPacket(
                        asked.target(), asked.targetPort(), asked.source(), asked.sourcePort(), payload)
                .encode());
    }

    /** Carried out as the device's own, as address translation does. */
    private Optional<byte[]> fromOutside(UdpPacket asked) {
        try (DatagramSocket socket = new DatagramSocket(new InetSocketAddress(outside, 0))) {
            socket.setSoTimeout(WAIT_MILLIS);
            socket.send(new DatagramPacket(
                    asked.payload(),
                    asked.payload().length,
                    InetAddress.getByAddress(asked.target().toBytes()),
                    asked.targetPort()));
            DatagramPacket answer = new DatagramPacket(new byte[2_048], 2_048);
            socket.receive(answer);
            return Optional.of(Arrays.copyOf(answer.getData(), answer.getLength()));
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    /** One question, one address or none (RFC 1035 §4). */
    private Optional<byte[]> named(byte[] question) {
        if (question.length < 17) {
            return Optional.empty();
        }
        StringBuilder name = new StringBuilder();
        int at = 12;
        while (at < question.length && question[at] != 0) {
            int length = question[at] & 0x3f;
            if (at + 1 + length >= question.length) {
                return Optional.empty();
            }
            name.append(name.length() == 0 ? "" : ".")
                    .append(new String(question, at + 1, length, StandardCharsets.US_ASCII));
            at += 1 + length;
        }
        int end = at + 5;
        if (end > question.length) {
            return Optional.empty();
        }
        Optional<IpAddress> known =
                Optional.ofNullable(names.get(name.toString().toLowerCase(java.util.Locale.ROOT)));
        ByteBuffer out = ByteBuffer.allocate(end + (known.isPresent() ? 16 : 0))
                .put(question, 0, 2)
                .putShort((short) (known.isPresent() ? 0x8180 : 0x8183))
                .putShort((short) 1)
                .putShort((short) (known.isPresent() ? 1 : 0))
                .putInt(0)
                .put(question, 12, end - 12);
        known.ifPresent(address -> out.putShort((short) 0xc00c)
                .putShort((short) 1)
                .putShort((short) 1)
                .putInt(60)
                .putShort((short) 4)
                .put(address.toBytes()));
        return Optional.of(out.array());
    }
}
