package tender.standins.router;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketTimeoutException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.profile.ClientProfile;
import tender.core.profile.WireGuardFile;
import tender.core.trial.IcmpEcho;
import tender.core.wireguard.Initiator;
import tender.core.wireguard.StatusDump;
import tender.standins.device.Faults;

/** The stand-in's tunnel behaves as real devices do, so that what is proven against it means something. */
class RouterTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final IpAddress INSIDE = IpAddress.parse("10.20.4.20");
    private static final IpAddress OWN = IpAddress.parse("10.99.4.2");

    @TempDir
    Path folder;

    private final TunnelKeyPair client = TunnelKeyPair.generate(RANDOM);
    private final Faults faults = new Faults();
    private TunnelKeyPair key;
    private Tunnel tunnel;
    private DatagramSocket socket;

    @BeforeEach
    void open() throws Exception {
        RouterFolder.sound(
                        "pier2", "10.20.4.0/24", INSIDE.toString(), "pier2.skerrivane.example", "10.99.4.1/24", 51820)
                .layOut(folder);
        tunnel = new Tunnel(
                "wg0", new InetSocketAddress(InetAddress.getByName("127.10.80.1"), 0), Set.of(INSIDE), faults);
        WireGuardFile file = WireGuardFile.read(Files.readString(folder.resolve("tunnels/wg0.conf")))
                .file();
        key = TunnelKeyPair.ofPrivate(file.own().orElseThrow().privateKey().orElseThrow());
        tunnel.apply(with(file, client.publicKey()));
        socket = new DatagramSocket();
        socket.connect(InetAddress.getByName("127.10.80.1"), tunnel.port());
        socket.setSoTimeout(700);
    }

    @AfterEach
    void close() {
        socket.close();
        tunnel.close();
    }

    private static WireGuardFile with(WireGuardFile file, TunnelKey peer) {
        return file.withPeer(
                ClientProfile.gatewaySection("mara phone", peer, Optional.empty(), List.of(Cidr.host(OWN))));
    }

    private Optional<byte[]> exchange(byte[] packet) throws Exception {
        socket.send(new DatagramPacket(packet, packet.length));
        byte[] buffer = new byte[2_048];
        DatagramPacket answer = new DatagramPacket(buffer, buffer.length);
        try {
            socket.receive(answer);
            return Optional.of(Arrays.copyOf(buffer, answer.getLength()));
        } catch (SocketTimeoutException e) {
            return Optional.empty();
        }
    }

    private Initiator initiator(TunnelKeyPair own) {
        return new Initiator(own, key.publicKey(), Optional.empty(), Initiator.RETRY_AFTER, RANDOM);
    }

    private Initiator connected() throws Exception {
        Initiator initiator = initiator(client);
        byte[] response = exchange(initiator.start(Instant.now()).bytes()).orElseThrow();
        assertThat(initiator.onDatagram(response, Instant.now()).kind()).isEqualTo(Initiator.Kind.ESTABLISHED);
        return initiator;
    }

    private static byte[] echo(IpAddress from, IpAddress to) {
        return new IcmpEcho(from, to, false, 1, 1, new byte[8]).encode();
    }

    private StatusDump.Peer peer() {
        return tunnel.status().peers().get(0);
    }

    @Test
    void answersEchoForItselfAndItsInsideHostsAlone() throws Exception {
        Initiator initiator = connected();

        assertThat(exchange(initiator.seal(echo(OWN, INSIDE)))).isPresent();
        assertThat(exchange(initiator.seal(echo(OWN, IpAddress.parse("10.99.4.1")))))
                .isPresent();
        assertThat(exchange(initiator.seal(echo(OWN, IpAddress.parse("10.20.4.99")))))
                .isEmpty();
    }

    @Test
    void dropsWhatComesFromAnotherTunnelAddressThoughTheHandshakeHolds() throws Exception {
        Initiator initiator = connected();

        assertThat(exchange(initiator.seal(echo(IpAddress.parse("10.99.4.3"), INSIDE))))
                .isEmpty();
    }

    @Test
    void isSilentTowardsStrangersAndOlderStamps() throws Exception {
        assertThat(exchange(initiator(TunnelKeyPair.generate(RANDOM))
                        .start(Instant.now())
                        .bytes()))
                .isEmpty();
        connected();
        assertThat(exchange(
                        initiator(client).start(Instant.now().minusSeconds(60)).bytes()))
                .isEmpty();
        assertThat(exchange(initiator(client).start(Instant.now()).bytes())).isPresent();
    }

    @Test
    void countsAHandshakeOnlyWhenItIsConfirmedAndBytesBothWays() throws Exception {
        Initiator initiator = connected();
        assertThat(peer().lastHandshake())
                .as("nothing came under the new keys yet")
                .isEmpty();

        exchange(initiator.seal(echo(OWN, INSIDE)));

        assertThat(peer().lastHandshake()).isPresent();
        assertThat(peer().received()).isGreaterThan(148 + 32);
        assertThat(peer().sent()).isGreaterThan(92 + 32);
        assertThat(peer().endpoint()).contains("127.0.0.1:" + socket.getLocalPort());
    }

    @Test
    void takesAPacketOnceAndGoesOnAfterARekey() throws Exception {
        Initiator initiator = connected();
        byte[] packet = initiator.seal(echo(OWN, INSIDE));
        assertThat(exchange(packet)).isPresent();
        assertThat(exchange(packet)).as("replayed").isEmpty();

        byte[] response = exchange(initiator.start(Instant.now()).bytes()).orElseThrow();
        initiator.onDatagram(response, Instant.now());
        assertThat(exchange(initiator.seal(echo(OWN, INSIDE)))).isPresent();
    }

    @Test
    void aReloadKeepsSessionsOfPeersThatStayAndEndsOthers() throws Exception {
        Initiator initiator = connected();
        WireGuardFile file = WireGuardFile.read(Files.readString(folder.resolve("tunnels/wg0.conf")))
                .file();
        tunnel.apply(with(
                with(file, client.publicKey()), TunnelKeyPair.generate(RANDOM).publicKey()));
        assertThat(exchange(initiator.seal(echo(OWN, INSIDE)))).isPresent();

        tunnel.apply(file);
        assertThat(exchange(initiator.seal(echo(OWN, INSIDE)))).isEmpty();
        assertThat(tunnel.status().peers()).isEmpty();
    }

    @Test
    void faultsCanBeSwitchedOnAndOff() throws Exception {
        Initiator initiator = connected();
        faults.insideHostsSilent = true;
        assertThat(exchange(initiator.seal(echo(OWN, INSIDE)))).isEmpty();
        assertThat(exchange(initiator.seal(echo(OWN, IpAddress.parse("10.99.4.1")))))
                .isPresent();
        faults.tunnelSilent = true;
        assertThat(exchange(initiator.seal(echo(OWN, IpAddress.parse("10.99.4.1")))))
                .isEmpty();
        faults.tunnelSilent = false;
        faults.insideHostsSilent = false;
        assertThat(exchange(initiator.seal(echo(OWN, INSIDE)))).isPresent();
    }
}
