package tender.io.trial;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Base64;
import tender.core.credential.RevealSecret;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings.Login;
import tender.core.trial.Proxy;

/**
 * What is said to a proxy before the stream is the server's: CONNECT (RFC 9110 §9.3.6) with Basic (RFC 7617), or SOCKS 5
 * (RFC 1928) with name and password (RFC 1929). The proxy is told the server's name as the file has it, and looks it up.
 */
final class ProxyWay {
    private static final int MAX_HEAD = 8_192;
    private static final byte SOCKS = 5;
    private static final byte CONNECT = 1;
    private static final byte ASSOCIATE = 3;
    private static final byte V4 = 1;
    private static final byte NAME = 3;
    private static final byte V6 = 4;
    private static final byte OPEN = 0;
    private static final byte BY_PASSWORD = 2;

    /** A stream before it carries packets. */
    interface Stream {
        void write(byte[] bytes) throws IOException;

        /** So many bytes, or fails. */
        byte[] read(int count) throws IOException;
    }

    /** The proxy's own no. */
    static final class Refused extends IOException {
        private static final long serialVersionUID = 1L;

        Refused(String says) {
            super(says);
        }
    }

    private ProxyWay() {}

    /** Opens the way for a stream to the target. */
    static void connect(Proxy proxy, Endpoint target, Stream stream) throws IOException {
        if (proxy.kind() == Proxy.Kind.HTTP) {
            http(proxy, target, stream);
        } else {
            greet(proxy, stream);
            request(CONNECT, address(target), stream);
        }
    }

    /** Opens the way for datagrams; gives where they are to be sent. It is open as long as the stream is. */
    static InetSocketAddress associate(Proxy proxy, Stream stream, InetAddress proxyAddress) throws IOException {
        greet(proxy, stream);
        byte[] anyone = {V4, 0, 0, 0, 0, 0, 0};
        InetSocketAddress relay = request(ASSOCIATE, anyone, stream);
        return relay.getAddress().isAnyLocalAddress() ? new InetSocketAddress(proxyAddress, relay.getPort()) : relay;
    }

    /** What stands before each datagram (RFC 1928 §7). */
    static byte[] before(Endpoint target) {
        return join(new byte[3], address(target));
    }

    /** A datagram without what stands before it; null where it is none. */
    static byte[] without(byte[] datagram) {
        if (datagram.length < 5 || datagram[2] != 0) {
            return null;
        }
        int length = switch (datagram[3]) {
            case V4 -> 4;
            case V6 -> 16;
            case NAME -> 1 + (datagram[4] & 0xff);
            default -> datagram.length;
        };
        int from = 4 + length + 2;
        return from > datagram.length ? null : Arrays.copyOfRange(datagram, from, datagram.length);
    }

    private static void http(Proxy proxy, Endpoint target, Stream stream) throws IOException {
        String place = (target.host() instanceof Host.Literal l && !l.address().isV4()
                        ? "[" + l.address() + "]"
                        : target.host().toString())
                + ":" + target.port();
        StringBuilder head = new StringBuilder("CONNECT " + place + " HTTP/1.1\r\nHost: " + place + "\r\n");
        proxy.login()
                .ifPresent(l -> head.append("Proxy-Authorization: Basic ")
                        .append(Base64.getEncoder()
                                .encodeToString(join(
                                        (l.name() + ":").getBytes(StandardCharsets.UTF_8),
                                        l.password().reveal(RevealSecret.TO_HANDSHAKE))))
                        .append("\r\n"));
        stream.write(head.append("\r\n").toString().getBytes(StandardCharsets.UTF_8));
        ByteArrayOutputStream in = new ByteArrayOutputStream();
        while (!in.toString(StandardCharsets.ISO_8859_1).endsWith("\r\n\r\n")) {
            if (in.size() > MAX_HEAD) {
                throw new Refused("what answers there is no HTTP proxy");
            }
            in.writeBytes(stream.read(1));
        }
        String said =
                in.toString(StandardCharsets.ISO_8859_1).lines().findFirst().orElse("");
        if (!said.matches("HTTP/1\\.[01] 2[0-9][0-9].*")) {
            throw new Refused(
                    said.startsWith("HTTP/")
                            ? "the proxy says " + printable(said.substring(said.indexOf(' ') + 1))
                            : "what answers there is no HTTP proxy");
        }
    }

    private static String printable(String text) {
        String plain = text.replaceAll("[^\\x20-\\x7e]", " ").strip();
        return plain.substring(0, Math.min(80, plain.length()));
    }

    private static void greet(Proxy proxy, Stream stream) throws IOException {
        boolean known = proxy.login().isPresent();
        stream.write(known ? new byte[] {SOCKS, 2, OPEN, BY_PASSWORD} : new byte[] {SOCKS, 1, OPEN});
        byte[] chosen = stream.read(2);
        if (chosen[0] != SOCKS) {
            throw new Refused("what answers there is no SOCKS proxy");
        }
        if (chosen[1] == BY_PASSWORD && known) {
            Login login = proxy.login().get();
            byte[] name = login.name().getBytes(StandardCharsets.UTF_8);
            byte[] password = login.password().reveal(RevealSecret.TO_HANDSHAKE);
            stream.write(join(new byte[] {1, (byte) name.length}, name, new byte[] {(byte) password.length}, password));
            if (stream.read(2)[1] != 0) {
                throw new Refused("the proxy refuses name and password");
            }
        } else if (chosen[1] != OPEN) {
            throw new Refused("the proxy asks for a name and password");
        }
    }

    private static InetSocketAddress request(byte command, byte[] address, Stream stream) throws IOException {
        stream.write(join(new byte[] {SOCKS, command, 0}, address));
        byte[] head = stream.read(4);
        if (head[1] != 0) {
            throw new Refused("the proxy says: "
                    + switch (head[1]) {
                        case 2 -> "not allowed by its rules";
                        case 3 -> "no way to that network";
                        case 4 -> "no way to that host";
                        case 5 -> "the connection was refused";
                        case 7 -> "it does not carry this";
                        default -> "it cannot (" + head[1] + ")";
                    });
        }
        int length = head[3] == V4 ? 4 : head[3] == V6 ? 16 : stream.read(1)[0] & 0xff;
        byte[] bound = stream.read(length);
        int port = ByteBuffer.wrap(stream.read(2)).getShort() & 0xffff;
        return new InetSocketAddress(
                head[3] == NAME ? InetAddress.getByAddress(new byte[4]) : InetAddress.getByAddress(bound), port);
    }

    private static byte[] address(Endpoint target) {
        byte[] port =
                ByteBuffer.allocate(2).putShort((short) target.port().number()).array();
        if (target.host() instanceof Host.Literal literal) {
            IpAddress address = literal.address();
            return join(new byte[] {address.isV4() ? V4 : V6}, address.toBytes(), port);
        }
        byte[] name = target.host().toString().getBytes(StandardCharsets.US_ASCII);
        return join(new byte[] {NAME, (byte) name.length}, name, port);
    }

    static byte[] join(byte[]... parts) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        for (byte[] part : parts) {
            out.writeBytes(part);
        }
        return out.toByteArray();
    }
}
