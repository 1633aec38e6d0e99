package tender.standins.listener;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.credential.Secret;
import tender.core.ike.Assigned;
import tender.core.ike.IkeRules;
import tender.core.ike.IkeServer;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.standins.device.Faults;
import tender.standins.device.Journal;

/** An IKEv2 listener on a loopback address: the port for the first exchange, and the one for NAT with ESP in UDP. */
public final class SimulatedIkeServer implements SimulatedListener {
    private static final Logger LOG = LoggerFactory.getLogger(SimulatedIkeServer.class);
    private static final Duration IDLE = Duration.ofSeconds(60);
    private static final int MOST = 2_000;
    private static final String PROPOSALS =
            "aes256gcm16-prfsha384-ecp384,aes256gcm16-prfsha256-ecp256,aes256-sha256-modp2048,aes128-sha256-modp2048";
    private static final String TUNNEL_PROPOSALS = "aes256gcm16,aes128gcm16,aes256-sha256";

    /**
     * How it is set up.
     *
     * @param port of the first exchange, and {@code natPort} of the rest; 500 and 4500 where the machine lets one bind them
     */
    public record Setup(
            String name,
            InetAddress at,
            int port,
            int natPort,
            String identity,
            ClientSettings.Identity shown,
            Cidr tunnels,
            List<Cidr> reach,
            Optional<IpAddress> dns,
            Optional<Secret> shared,
            Callers callers) {}

    /** One caller. Every access is synchronised on it. */
    private final class Conversation implements IkeRules {
        private final IkeServer server = new IkeServer(this, random);
        private final Instant since = Instant.now();
        private Instant heard = since;
        private String endpoint = "";
        private long received;
        private long sent;

        private synchronized List<byte[]> on(byte[] packet, boolean nat, SocketAddress from) {
            heard = Instant.now();
            received += packet.length;
            endpoint = ((InetSocketAddress) from).getAddress().getHostAddress() + ":"
                    + ((InetSocketAddress) from).getPort();
            boolean esp = nat && IkeServer.tunnelOf(packet).isPresent();
            List<byte[]> out = esp
                    ? server.open(packet).flatMap(world::answer).map(server::seal).stream()
                            .toList()
                    : server.onPacket(packet, nat);
            out.forEach(p -> sent += p.length);
            return out;
        }

        private synchronized boolean isOver() {
            return server.isEnded() && heard.plusSeconds(5).isBefore(Instant.now())
                    || heard.plus(IDLE).isBefore(Instant.now());
        }

        private synchronized Optional<Connected> connected() {
            return server.isUp()
                    ? Optional.of(new Connected(
                            setup.name(),
                            server.caller(),
                            endpoint,
                            server.assigned().addresses().stream()
                                    .findFirst()
                                    .map(Object::toString)
                                    .orElse(""),
                            received,
                            sent,
                            since))
                    : Optional.empty();
        }

        @Override
        public String identity() {
            return setup.identity();
        }

        @Override
        public List<byte[]> chain() {
            return setup.shown().chain();
        }

        @Override
        public tender.core.certificate.CertificateKey key() {
            return setup.shown().key();
        }

        @Override
        public String proposals() {
            return PROPOSALS;
        }

        @Override
        public String tunnelProposals() {
            return TUNNEL_PROPOSALS;
        }

        @Override
        public List<Cidr> reach() {
            return setup.reach();
        }

        @Override
        public List<byte[]> authorities() {
            return setup.callers().authorities();
        }

        @Override
        public Optional<String> refuses(List<byte[]> chain) {
            return setup.callers().refuses(chain);
        }

        @Override
        public Optional<Secret> password(String account) {
            return setup.callers().password(account);
        }

        @Override
        public Optional<Secret> shared() {
            return setup.shared();
        }

        @Override
        public Assigned assign(String caller) {
            return new Assigned(
                    pool.take(this).stream().toList(), setup.dns().stream().toList());
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
    private final Map<String, Conversation> byNumber = new ConcurrentHashMap<>();
    private final Map<Integer, Conversation> byTunnel = new ConcurrentHashMap<>();
    private final DatagramSocket first;
    private final DatagramSocket nat;

    private SimulatedIkeServer(Setup setup, InsideWorld world, Faults faults, Journal journal) throws IOException {
        this.setup = setup;
        this.faults = faults;
        this.journal = journal;
        this.pool = new Pool(setup.tunnels());
        this.world = SimulatedOpenVpnServer.withGateway(world, pool.gateway());
        this.first = Ports.datagrams(new InetSocketAddress(setup.at(), setup.port()));
        try {
            this.nat = Ports.datagrams(new InetSocketAddress(setup.at(), setup.natPort()));
        } catch (IOException e) {
            first.close();
            throw e;
        }
        SimulatedOpenVpnServer.thread("ike-" + setup.name(), () -> listen(first, false));
        SimulatedOpenVpnServer.thread("ike-nat-" + setup.name(), () -> listen(nat, true));
    }

    public static SimulatedIkeServer start(Setup setup, InsideWorld world, Faults faults, Journal journal)
            throws IOException {
        return new SimulatedIkeServer(setup, world, faults, journal);
    }

    private void listen(DatagramSocket socket, boolean onNatPort) {
        byte[] buffer = new byte[65_535];
        while (!socket.isClosed()) {
            try {
                DatagramPacket in = new DatagramPacket(buffer, buffer.length);
                socket.receive(in);
                if (faults.tunnelSilent) {
                    continue;
                }
                byte[] packet = Arrays.copyOf(in.getData(), in.getLength());
                for (byte[] answer : on(packet, onNatPort, in.getSocketAddress())) {
                    socket.send(new DatagramPacket(answer, answer.length, in.getSocketAddress()));
                }
            } catch (IOException e) {
                if (!socket.isClosed()) {
                    LOG.warn("{}: {}", setup.name(), e.getMessage());
                }
            }
        }
    }

    private List<byte[]> on(byte[] packet, boolean onNatPort, SocketAddress from) {
        Optional<Integer> tunnel = onNatPort ? IkeServer.tunnelOf(packet) : Optional.empty();
        if (tunnel.isPresent()) {
            Conversation one = byTunnel.get(tunnel.get());
            return one == null ? List.of() : one.on(packet, true, from);
        }
        Optional<String> number = IkeServer.connectionOf(packet, onNatPort);
        if (number.isEmpty()) {
            return List.of();
        }
        Conversation one = byNumber.get(number.get());
        if (one == null) {
            sweep();
            if (byNumber.size() >= MOST) {
                return List.of();
            }
            one = new Conversation();
            byNumber.put(number.get(), one);
            byTunnel.put(one.server.tunnelNumber(), one);
        }
        List<byte[]> out = one.on(packet, onNatPort, from);
        if (one.server.isEnded() && !one.server.isUp() && out.isEmpty()) {
            forget(number.get(), one);
        }
        return out;
    }

    private void sweep() {
        byNumber.forEach((number, one) -> {
            if (one.isOver()) {
                forget(number, one);
            }
        });
    }

    private void forget(String number, Conversation one) {
        byNumber.remove(number, one);
        byTunnel.remove(one.server.tunnelNumber(), one);
        pool.release(one);
    }

    @Override
    public List<Connected> connected() {
        return byNumber.values().stream().flatMap(c -> c.connected().stream()).toList();
    }

    @Override
    public void close() {
        first.close();
        nat.close();
    }
}
