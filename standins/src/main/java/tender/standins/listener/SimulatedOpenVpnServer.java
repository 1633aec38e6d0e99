package tender.standins.listener;

import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.SocketAddress;
import java.net.SocketTimeoutException;
import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.openvpn.ClientSettings;
import tender.core.openvpn.OpenVpnServer;
import tender.standins.device.Faults;
import tender.standins.device.Journal;

/** An OpenVPN listener on a loopback address, over UDP or TCP. */
public final class SimulatedOpenVpnServer implements SimulatedListener {
    private static final Logger LOG = LoggerFactory.getLogger(SimulatedOpenVpnServer.class);
    private static final Duration IDLE = Duration.ofSeconds(60);
    private static final int TICK_MILLIS = 200;
    private static final int MOST = 2_000;

    /**
     * How it is set up.
     *
     * @param controlChannelKey {@code none}, {@code auth} or {@code crypt}
     */
    public record Setup(
            String name,
            Transport transport,
            InetSocketAddress at,
            ClientSettings.Identity identity,
            String controlChannelKey,
            String staticKey,
            String digest,
            List<String> ciphers,
            boolean asksCertificate,
            boolean asksPassword,
            boolean frames,
            Cidr tunnels,
            List<Cidr> reach,
            Optional<IpAddress> dns,
            Callers callers) {}

    /** One caller. Every access is synchronised on it. */
    private final class Conversation implements OpenVpnServer.Rules {
        private final OpenVpnServer server = new OpenVpnServer(this, random);
        private final String endpoint;
        private final Instant since = Instant.now();
        private Instant heard = since;
        private Optional<IpAddress> address = Optional.empty();
        private long received;
        private long sent;

        private Conversation(SocketAddress from) {
            InetSocketAddress inet = (InetSocketAddress) from;
            this.endpoint = inet.getAddress().getHostAddress() + ":" + inet.getPort();
        }

        private synchronized List<byte[]> on(byte[] packet) {
            heard = Instant.now();
            received += packet.length;
            server.onPacket(packet, heard);
            List<byte[]> out = new ArrayList<>(server.toSend(heard));
            for (Optional<byte[]> in = server.received(); in.isPresent(); in = server.received()) {
                world.answer(in.get()).map(server::seal).ifPresent(out::add);
            }
            out.forEach(p -> sent += p.length);
            return out;
        }

        private synchronized List<byte[]> tick() {
            List<byte[]> out = server.toSend(Instant.now());
            out.forEach(p -> sent += p.length);
            return out;
        }

        private synchronized boolean isOver() {
            return server.isEnded() || heard.plus(IDLE).isBefore(Instant.now());
        }

        private synchronized Optional<Connected> connected() {
            return server.isUp()
                    ? Optional.of(new Connected(
                            setup.name(),
                            server.caller(),
                            endpoint,
                            address.map(Object::toString).orElse(""),
                            received,
                            sent,
                            since))
                    : Optional.empty();
        }

        private void end() {
            pool.release(this);
        }

        @Override
        public ClientSettings.Identity identity() {
            return setup.identity();
        }

        @Override
        public String controlChannelKey() {
            return setup.controlChannelKey();
        }

        @Override
        public String staticKey() {
            return setup.staticKey();
        }

        @Override
        public String digest() {
            return setup.digest();
        }

        @Override
        public List<String> ciphers() {
            return setup.ciphers();
        }

        @Override
        public boolean asksCertificate() {
            return setup.asksCertificate();
        }

        @Override
        public boolean asksPassword() {
            return setup.asksPassword();
        }

        @Override
        public boolean frames() {
            return setup.frames();
        }

        @Override
        public Optional<String> refuses(List<byte[]> chain) {
            return setup.callers().refuses(chain);
        }

        @Override
        public boolean isPassword(String user, byte[] password) {
            return setup.callers().isPassword(user, password);
        }

        @Override
        public Optional<List<String>> pushes(String caller) {
            address = pool.take(this);
            return address.map(a -> {
                List<String> out = new ArrayList<>();
                String mask = setup.tunnels().mask().orElseThrow().toString();
                setup.reach().stream()
                        .filter(n -> n.first().isV4())
                        .forEach(n -> out.add(
                                n.isEverything()
                                        ? "redirect-gateway def1"
                                        : "route " + n.first() + " " + n.mask().orElseThrow()));
                setup.dns().ifPresent(d -> out.add("dhcp-option DNS " + d));
                out.add("route-gateway " + pool.gateway());
                out.add("ping 10");
                out.add("ping-restart 60");
                out.add("ifconfig " + a + " " + mask);
                return out;
            });
        }

        @Override
        public void log(String line) {
            journal.say(line);
        }
    }

    private final Setup setup;
    private final InsideWorld world;
    private final Faults faults;
    private final Journal journal;
    private final Pool pool;
    private final SecureRandom random = new SecureRandom();
    private final Map<SocketAddress, Conversation> conversations = new ConcurrentHashMap<>();
    private Optional<DatagramSocket> datagrams = Optional.empty();
    private Optional<ServerSocket> connections = Optional.empty();

    private SimulatedOpenVpnServer(Setup setup, InsideWorld world, Faults faults, Journal journal) throws IOException {
        this.setup = setup;
        this.faults = faults;
        this.journal = journal;
        this.pool = new Pool(setup.tunnels());
        this.world = withGateway(world, pool.gateway());
        if (setup.transport() == Transport.TCP) {
            ServerSocket socket = Ports.connections(setup.at());
            connections = Optional.of(socket);
            thread("openvpn-tcp-" + setup.name(), () -> accept(socket));
        } else {
            DatagramSocket socket = Ports.datagrams(setup.at());
            datagrams = Optional.of(socket);
            thread("openvpn-udp-" + setup.name(), () -> listen(socket));
        }
    }

    public static SimulatedOpenVpnServer start(Setup setup, InsideWorld world, Faults faults, Journal journal)
            throws IOException {
        return new SimulatedOpenVpnServer(setup, world, faults, journal);
    }

    static InsideWorld withGateway(InsideWorld world, IpAddress gateway) {
        java.util.Set<IpAddress> hosts = new java.util.HashSet<>(world.hosts());
        hosts.add(gateway);
        return new InsideWorld(hosts, world.nameServer(), world.names(), world.outside(), world.faults());
    }

    static void thread(String name, Runnable work) {
        Thread thread = new Thread(work, name);
        thread.setDaemon(true);
        thread.start();
    }

    private void listen(DatagramSocket socket) {
        byte[] buffer = new byte[65_535];
        Instant swept = Instant.now();
        try {
            socket.setSoTimeout(TICK_MILLIS);
            while (!socket.isClosed()) {
                try {
                    DatagramPacket in = new DatagramPacket(buffer, buffer.length);
                    socket.receive(in);
                    if (!faults.tunnelSilent) {
                        byte[] packet = Arrays.copyOf(in.getData(), in.getLength());
                        send(socket, on(packet, in.getSocketAddress()), in.getSocketAddress());
                    }
                } catch (SocketTimeoutException e) {
                    // nobody spoke: time passes all the same
                }
                if (swept.plusMillis(TICK_MILLIS).isBefore(Instant.now())) {
                    swept = Instant.now();
                    sweep(socket);
                }
            }
        } catch (IOException e) {
            if (!socket.isClosed()) {
                LOG.warn("{}: {}", setup.name(), e.getMessage());
            }
        }
    }

    private List<byte[]> on(byte[] packet, SocketAddress from) {
        Conversation one = conversations.get(from);
        if (one == null || one.isOver()) {
            Conversation fresh = new Conversation(from);
            if (conversations.size() >= MOST || !fresh.server.mayBegin(packet)) {
                return List.of();
            }
            conversations.put(from, fresh);
            one = fresh;
        }
        return one.on(packet);
    }

    private void sweep(DatagramSocket socket) throws IOException {
        for (Iterator<Map.Entry<SocketAddress, Conversation>> all =
                        conversations.entrySet().iterator();
                all.hasNext(); ) {
            Map.Entry<SocketAddress, Conversation> e = all.next();
            if (e.getValue().isOver()) {
                e.getValue().end();
                all.remove();
            } else {
                send(socket, e.getValue().tick(), e.getKey());
            }
        }
    }

    private static void send(DatagramSocket socket, List<byte[]> packets, SocketAddress to) throws IOException {
        for (byte[] packet : packets) {
            socket.send(new DatagramPacket(packet, packet.length, to));
        }
    }

    private void accept(ServerSocket socket) {
        while (!socket.isClosed()) {
            try {
                Socket caller = socket.accept();
                thread("openvpn-caller", () -> speak(caller));
            } catch (IOException e) {
                if (!socket.isClosed()) {
                    LOG.warn("{}: {}", setup.name(), e.getMessage());
                }
            }
        }
    }

    /** One caller over TCP; who does not begin rightly is hung up on. */
    private void speak(Socket caller) {
        Conversation one = new Conversation(caller.getRemoteSocketAddress());
        try (caller) {
            caller.setTcpNoDelay(true);
            caller.setSoTimeout((int) IDLE.toMillis());
            DataInputStream in = new DataInputStream(caller.getInputStream());
            OutputStream out = caller.getOutputStream();
            boolean begun = false;
            while (!one.isOver() && !faults.tunnelSilent) {
                byte[] packet = new byte[in.readUnsignedShort()];
                in.readFully(packet);
                if (!begun && !one.server.mayBegin(packet)) {
                    return;
                }
                if (!begun) {
                    conversations.put(caller.getRemoteSocketAddress(), one);
                }
                begun = true;
                for (byte[] answer : one.on(packet)) {
                    out.write(ByteBuffer.allocate(2 + answer.length)
                            .putShort((short) answer.length)
                            .put(answer)
                            .array());
                }
                out.flush();
            }
        } catch (IOException e) {
            LOG.debug("{}: {}", setup.name(), e.getMessage());
        } finally {
            conversations.remove(caller.getRemoteSocketAddress(), one);
            one.end();
        }
    }

    public int port() {
        return datagrams
                .map(DatagramSocket::getLocalPort)
                .or(() -> connections.map(ServerSocket::getLocalPort))
                .orElseThrow();
    }

    @Override
    public List<Connected> connected() {
        return new HashMap<>(conversations)
                .values().stream().flatMap(c -> c.connected().stream()).toList();
    }

    @Override
    public void close() throws IOException {
        datagrams.ifPresent(DatagramSocket::close);
        if (connections.isPresent()) {
            connections.get().close();
        }
    }
}
