package tender.standins.router;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.net.SocketException;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.core.trial.IcmpEcho;
import tender.core.trial.UdpPacket;
import tender.core.wireguard.Keypair;
import tender.core.wireguard.Packets;
import tender.core.wireguard.Responder;
import tender.core.wireguard.StatusDump;
import tender.standins.device.Faults;
import tender.standins.listener.Ports;

/**
 * One WireGuard interface active: a socket, its peers, and the inside hosts that answer echo. One thread reads; every
 * access to peers is synchronised on the tunnel.
 */
final class Tunnel implements AutoCloseable {
    /** Where a host inside gives back what it gets (RFC 862). */
    private static final int ECHO_PORT = 7;

    private static final Logger LOG = LoggerFactory.getLogger(Tunnel.class);
    private static final int LIVE_KEYPAIRS = 3;

    /** A peer's settings with what is known of it since the interface came up. */
    private static final class Peer {
        private WireGuardFile.Peer settings;
        private byte[] lastStamp;
        private Instant lastHandshake;
        private SocketAddress endpoint;
        private long received;
        private long sent;
        private Keypair confirmed;
        private final List<Keypair> keypairs = new ArrayList<>();
    }

    private final String name;
    private final DatagramSocket socket;
    private final Set<IpAddress> insideHosts;
    private final Faults faults;
    private volatile boolean admitted = true;
    private final SecureRandom random = new SecureRandom();
    private final Map<TunnelKey, Peer> peers = new HashMap<>();
    private TunnelKeyPair own;
    private Set<IpAddress> ownAddresses = Set.of();

    Tunnel(String name, InetSocketAddress bind, Set<IpAddress> insideHosts, Faults faults) throws SocketException {
        this.name = name;
        this.socket = Ports.datagrams(bind);
        this.insideHosts = insideHosts;
        this.faults = faults;
        Thread thread = new Thread(this::run, "tunnel-" + name + "-" + socket.getLocalPort());
        thread.setDaemon(true);
        thread.start();
    }

    int port() {
        return socket.getLocalPort();
    }

    /** Whether the device's filter lets callers in at this tunnel's port. */
    void admit(boolean lets) {
        admitted = lets;
    }

    /** Reloads a file: peers that stay keep their session, as real devices do on a soft reload. */
    synchronized void apply(WireGuardFile file) {
        WireGuardFile.Interface settings = file.own().orElseThrow();
        TunnelKeyPair key = TunnelKeyPair.ofPrivate(settings.privateKey().orElseThrow());
        if (own == null || !own.publicKey().equals(key.publicKey())) {
            peers.clear();
        }
        own = key;
        ownAddresses = settings.addresses().stream()
                .map(InterfaceAddress::address)
                .collect(java.util.stream.Collectors.toSet());
        Map<TunnelKey, WireGuardFile.Peer> wanted = new HashMap<>();
        file.peers().forEach(p -> p.publicKey().ifPresent(k -> wanted.put(k, p)));
        peers.keySet().retainAll(wanted.keySet());
        wanted.forEach((k, p) -> peers.computeIfAbsent(k, x -> new Peer()).settings = p);
    }

    synchronized StatusDump.Interface status() {
        List<StatusDump.Peer> out = peers.values().stream()
                .map(p -> new StatusDump.Peer(
                        p.settings.publicKey().orElseThrow(),
                        p.settings.presharedKey(),
                        Optional.ofNullable(p.endpoint).map(Tunnel::text),
                        p.settings.allowed(),
                        Optional.ofNullable(p.lastHandshake),
                        p.received,
                        p.sent))
                .toList();
        return new StatusDump.Interface(name, Optional.of(own.publicKey()), socket.getLocalPort(), out);
    }

    private static String text(SocketAddress address) {
        InetSocketAddress inet = (InetSocketAddress) address;
        return inet.getAddress().getHostAddress() + ":" + inet.getPort();
    }

    private void run() {
        byte[] buffer = new byte[Packets.MAX_PACKET_BYTES];
        while (!socket.isClosed()) {
            try {
                DatagramPacket packet = new DatagramPacket(buffer, buffer.length);
                socket.receive(packet);
                byte[] data = Arrays.copyOf(packet.getData(), packet.getLength());
                if (admitted && !faults.tunnelSilent) {
                    Packets.decode(data).ifPresent(p -> onPacket(p, data, packet.getSocketAddress()));
                }
            } catch (IOException e) {
                if (!socket.isClosed()) {
                    LOG.warn("tunnel {}: {}", name, e.getMessage());
                }
            }
        }
    }

    private synchronized void onPacket(Packets.Packet packet, byte[] raw, SocketAddress from) {
        if (own == null) {
            return;
        }
        if (packet instanceof Packets.Initiation initiation) {
            onInitiation(initiation, raw, from);
        } else if (packet instanceof Packets.Transport transport) {
            onTransport(transport, raw.length, from);
        }
    }

    private void onInitiation(Packets.Initiation initiation, byte[] raw, SocketAddress from) {
        Responder responder = new Responder(own, random);
        Responder.Call call = responder.open(initiation, raw).orElse(null);
        Peer peer = call == null ? null : peers.get(call.caller());
        if (peer == null || !call.isNewerThan(peer.lastStamp)) {
            return;
        }
        Instant now = Instant.now();
        responder.answer(call, peer.settings.presharedKey(), now).ifPresent(answer -> {
            peer.lastStamp = call.stamp();
            peer.keypairs.add(0, answer.keypair());
            while (peer.keypairs.size() > LIVE_KEYPAIRS) {
                peer.keypairs.remove(LIVE_KEYPAIRS);
            }
            peer.received += raw.length;
            send(peer, answer.response(), from);
        });
    }

    private void onTransport(Packets.Transport transport, int length, SocketAddress from) {
        Instant now = Instant.now();
        for (Peer peer : peers.values()) {
            for (Keypair keypair : peer.keypairs) {
                Optional<byte[]> inside =
                        keypair.localIndex() == transport.receiver() ? keypair.open(transport, now) : Optional.empty();
                if (inside.isPresent()) {
                    peer.endpoint = from;
                    peer.received += length;
                    confirm(peer, keypair, now);
                    onInside(peer, keypair, inside.get(), from);
                    return;
                }
            }
        }
    }

    /** The first packet under new keys confirms the handshake (paper §5.1) and retires older ones. */
    private static void confirm(Peer peer, Keypair keypair, Instant now) {
        if (keypair != peer.confirmed && keypair == peer.keypairs.get(0)) {
            peer.confirmed = keypair;
            peer.lastHandshake = now;
            peer.keypairs.subList(1, peer.keypairs.size()).clear();
        }
    }

    private void onInside(Peer peer, Keypair keypair, byte[] packet, SocketAddress from) {
        Optional<UdpPacket> asked = UdpPacket.decode(packet)
                .filter(p -> p.targetPort() == ECHO_PORT
                        && peer.settings.allows(p.source())
                        && insideHosts.contains(p.target())
                        && !faults.insideHostsSilent);
        if (asked.isPresent()) {
            UdpPacket p = asked.get();
            send(
                    peer,
                    keypair.seal(
                            new UdpPacket(p.target(), ECHO_PORT, p.source(), p.sourcePort(), p.payload()).encode()),
                    from);
            return;
        }
        IcmpEcho echo = IcmpEcho.decode(packet).orElse(null);
        if (echo == null || echo.reply() || !peer.settings.allows(echo.source())) {
            return;
        }
        boolean mine = ownAddresses.contains(echo.target());
        if (mine || insideHosts.contains(echo.target()) && !faults.insideHostsSilent) {
            send(peer, keypair.seal(echo.answer().encode()), from);
        }
    }

    private void send(Peer peer, byte[] data, SocketAddress to) {
        try {
            socket.send(new DatagramPacket(data, data.length, to));
            peer.sent += data.length;
        } catch (IOException e) {
            LOG.warn("tunnel {}: {}", name, e.getMessage());
        }
    }

    @Override
    public void close() {
        socket.close();
    }
}
