package tender.io.trial;

import java.io.EOFException;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.SocketTimeoutException;
import java.nio.ByteBuffer;
import java.nio.channels.DatagramChannel;
import java.nio.channels.SelectionKey;
import java.nio.channels.Selector;
import java.nio.channels.SocketChannel;
import java.time.Duration;
import java.util.Arrays;
import java.util.Optional;
import tender.core.network.AddressKinds;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.trial.Proxy;

/** Packets to and from one place, over UDP, or over TCP with each packet's length in two bytes before it. */
interface Wire extends AutoCloseable {
    void send(byte[] packet) throws IOException;

    /** The next packet, waited for at most so long. */
    Optional<byte[]> receive(Duration wait) throws IOException;

    /** Whether the other side has ended it. */
    boolean isClosed();

    @Override
    void close() throws IOException;

    static Wire udp(InetSocketAddress to) throws IOException {
        return new Udp(to);
    }

    /** Throws {@link SocketTimeoutException} where connecting takes longer. */
    static Wire tcp(InetSocketAddress to, Duration wait) throws IOException {
        return new Tcp(to, wait);
    }

    /** The same through a proxy; {@code to} is where the proxy is. */
    static Wire tcpThrough(Proxy proxy, Endpoint target, InetSocketAddress to, Duration wait) throws IOException {
        Tcp wire = new Tcp(to, wait);
        try {
            ProxyWay.connect(proxy, target, wire.stream(wait));
            return wire;
        } catch (IOException e) {
            wire.close();
            throw e;
        }
    }

    /** Datagrams through a proxy, which carries them as long as its TCP connection lasts. */
    static Wire udpThrough(Proxy proxy, Endpoint target, InetSocketAddress to, Duration wait) throws IOException {
        Tcp control = new Tcp(to, wait);
        try {
            InetSocketAddress relay = ProxyWay.associate(proxy, control.stream(wait), to.getAddress());
            if (!relay.getAddress().equals(to.getAddress())
                    && AddressKinds.isLocalOnly(
                            IpAddress.ofBytes(relay.getAddress().getAddress()).unmapped())) {
                throw new ProxyWay.Refused("the proxy sends datagrams to an address of this machine");
            }
            return new Relayed(control, new Udp(relay), ProxyWay.before(target));
        } catch (IOException e) {
            control.close();
            throw e;
        }
    }

    /** Datagrams by way of a proxy. */
    record Relayed(Wire control, Wire datagrams, byte[] before) implements Wire {
        @Override
        public void send(byte[] packet) throws IOException {
            datagrams.send(ProxyWay.join(before, packet));
        }

        @Override
        public Optional<byte[]> receive(Duration wait) throws IOException {
            return datagrams.receive(wait).map(ProxyWay::without);
        }

        @Override
        public boolean isClosed() {
            return control.isClosed();
        }

        @Override
        public void close() throws IOException {
            datagrams.close();
            control.close();
        }
    }

    /** A connected UDP socket: the system tells when nothing listens there. */
    final class Udp implements Wire {
        private static final int MAX_DATAGRAM = 4_096;

        private final DatagramChannel channel = DatagramChannel.open();
        private final Selector selector = Selector.open();
        private final ByteBuffer buffer = ByteBuffer.allocate(MAX_DATAGRAM);

        private Udp(InetSocketAddress to) throws IOException {
            try {
                channel.configureBlocking(false);
                channel.register(selector, SelectionKey.OP_READ);
                channel.connect(to);
            } catch (IOException e) {
                close();
                throw e;
            }
        }

        @Override
        public void send(byte[] packet) throws IOException {
            channel.write(ByteBuffer.wrap(packet));
        }

        @Override
        public Optional<byte[]> receive(Duration wait) throws IOException {
            buffer.clear();
            if (channel.read(buffer) <= 0) {
                selector.select(Math.max(1, wait.toMillis()));
                selector.selectedKeys().clear();
                if (channel.read(buffer) <= 0) {
                    return Optional.empty();
                }
            }
            return Optional.of(Arrays.copyOf(buffer.array(), buffer.position()));
        }

        @Override
        public boolean isClosed() {
            return false;
        }

        @Override
        public void close() throws IOException {
            channel.close();
            selector.close();
        }
    }

    /** A TCP connection. */
    final class Tcp implements Wire {
        private static final int MAX_PACKET = 65_535;

        private final SocketChannel channel = SocketChannel.open();
        private final Selector selector = Selector.open();
        private final ByteBuffer in = ByteBuffer.allocate(2 + MAX_PACKET);
        private boolean ended;

        private Tcp(InetSocketAddress to, Duration wait) throws IOException {
            try {
                channel.configureBlocking(false);
                if (!channel.connect(to)) {
                    SelectionKey key = channel.register(selector, SelectionKey.OP_CONNECT);
                    selector.select(wait.toMillis());
                    selector.selectedKeys().clear();
                    if (!channel.finishConnect()) {
                        throw new SocketTimeoutException("connecting took too long");
                    }
                    key.cancel();
                    selector.selectNow();
                }
                channel.register(selector, SelectionKey.OP_READ);
            } catch (IOException e) {
                close();
                throw e;
            }
        }

        @Override
        public void send(byte[] packet) throws IOException {
            ByteBuffer out = ByteBuffer.allocate(2 + packet.length)
                    .putShort((short) packet.length)
                    .put(packet)
                    .flip();
            long end = System.nanoTime() + Duration.ofSeconds(2).toNanos();
            while (out.hasRemaining() && !ended) {
                try {
                    if (channel.write(out) == 0 && System.nanoTime() > end) {
                        throw new SocketTimeoutException("the other side takes nothing");
                    }
                } catch (IOException e) {
                    ended = true; // what was sent before may still be answered by nobody
                }
            }
        }

        @Override
        public Optional<byte[]> receive(Duration wait) throws IOException {
            Optional<byte[]> whole = whole();
            if (whole.isPresent()) {
                return whole;
            }
            selector.select(Math.max(1, wait.toMillis()));
            selector.selectedKeys().clear();
            try {
                if (channel.read(in) < 0) {
                    ended = true;
                }
            } catch (EOFException e) {
                ended = true;
            } catch (IOException e) {
                ended = true; // a reset says the same
            }
            return whole();
        }

        /** The bytes themselves, before packets begin; fails where they take longer. */
        private ProxyWay.Stream stream(Duration wait) {
            long end = System.nanoTime() + wait.toNanos();
            return new ProxyWay.Stream() {
                @Override
                public void write(byte[] bytes) throws IOException {
                    ByteBuffer out = ByteBuffer.wrap(bytes);
                    while (out.hasRemaining()) {
                        if (channel.write(out) == 0 && System.nanoTime() > end) {
                            throw new SocketTimeoutException("the proxy takes nothing");
                        }
                    }
                }

                @Override
                public byte[] read(int count) throws IOException {
                    while (in.position() < count) {
                        long left = (end - System.nanoTime()) / 1_000_000;
                        if (left <= 0) {
                            throw new SocketTimeoutException("the proxy says nothing");
                        }
                        selector.select(left);
                        selector.selectedKeys().clear();
                        if (channel.read(in) < 0) {
                            throw new ProxyWay.Refused("the proxy closed the connection");
                        }
                    }
                    in.flip();
                    byte[] out = new byte[count];
                    in.get(out);
                    in.compact();
                    return out;
                }
            };
        }

        private Optional<byte[]> whole() {
            in.flip();
            try {
                if (in.remaining() < 2) {
                    return Optional.empty();
                }
                int length = in.getShort(in.position()) & 0xffff;
                if (in.remaining() < 2 + length) {
                    return Optional.empty();
                }
                byte[] packet = new byte[length];
                in.position(in.position() + 2);
                in.get(packet);
                return Optional.of(packet);
            } finally {
                in.compact();
            }
        }

        @Override
        public boolean isClosed() {
            return ended;
        }

        @Override
        public void close() throws IOException {
            channel.close();
            selector.close();
        }
    }
}
