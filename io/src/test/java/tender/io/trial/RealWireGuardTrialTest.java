package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.core.trial.Certainty;
import tender.core.trial.GatewayEvidence;
import tender.core.trial.IcmpEcho;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Observation;
import tender.core.trial.Question;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.wireguard.Initiator;
import tender.io.names.NameService;

/** Our own trial against Debian's wireguard-go: what is right is proven by echo, what is wrong ends where it should. */
class RealWireGuardTrialTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final TunnelKeyPair MARA = TunnelKeyPair.generate(RANDOM);
    private static final TunnelKeyPair EBBA = TunnelKeyPair.generate(RANDOM);
    private static final String PSK = WireGuardLab.text(TunnelKeyPair.generate(RANDOM)); // any 32 bytes will do
    private static final String OTHER_PSK = WireGuardLab.text(TunnelKeyPair.generate(RANDOM));

    @TempDir
    static Path folder;

    private static WireGuardLab lab;

    @BeforeAll
    static void open() throws IOException {
        boolean able = WireGuardLab.able();
        if (!able) {
            System.out.println("SKIPPED: no wireguard-go, wg, tun device or right to make namespaces here");
        }
        assumeTrue(able);
        lab = new WireGuardLab(folder);
        lab.admit(MARA, Optional.of(PSK), "10.96.0.2/32,fd00:96::2/128");
        lab.admit(EBBA, Optional.empty(), "10.96.0.3/32");
        lab.awaitDevice();
    }

    @AfterAll
    static void close() {
        if (lab != null) {
            lab.close();
        }
    }

    private static String own(TunnelKeyPair pair, String addresses) {
        return "[Interface]\nPrivateKey = " + WireGuardLab.text(pair) + "\nAddress = " + addresses + "\n";
    }

    private static String peer(String key, String psk, String allowed, String endpoint) {
        return "[Peer]\nPublicKey = " + key + "\n" + (psk.isEmpty() ? "" : "PresharedKey = " + psk + "\n")
                + "AllowedIPs = " + allowed + "\nEndpoint = " + endpoint + "\n";
    }

    private static String gatewayKey() {
        return lab.gateway.publicKey().toString();
    }

    private static String good() {
        return own(MARA, "10.96.0.2/32, fd00:96::2/128")
                + peer(gatewayKey(), PSK, "10.20.77.0/24, 10.96.0.0/24, fd00:77::/64", at(WireGuardLab.PORT));
    }

    private static String at(int port) {
        return lab.address + ":" + port;
    }

    private static Question question(String file, String host) {
        return Question.of(
                WireGuardFile.read(file).file(),
                Optional.of(IpAddress.parse(WireGuardLab.GATEWAY)),
                Optional.of(IpAddress.parse(host)));
    }

    private static Observation seen(Question question) {
        return new WireGuardTrial(
                        question,
                        name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                        MeasurementOptions.NOTHING,
                        rung -> {})
                .run();
    }

    private static Ladder tried(String file, String host) {
        Question question = question(file, host);
        return Ladder.judge(question, seen(question), Optional.empty());
    }

    private static Ladder tried(String file) {
        return tried(file, Lab.INSIDE_HOST);
    }

    /** Judged with what the gateway's own file says, as it would be where it can be read. */
    private static Ladder told(String file) {
        Question question = question(file, Lab.INSIDE_HOST);
        WireGuardFile server = WireGuardFile.read("[Interface]\nPrivateKey = " + WireGuardLab.text(lab.gateway)
                        + "\nListenPort = " + WireGuardLab.PORT + "\n[Peer]\nPublicKey = " + MARA.publicKey()
                        + "\nPresharedKey = " + PSK
                        + "\nAllowedIPs = 10.96.0.2/32, fd00:96::2/128\n[Peer]\nPublicKey = "
                        + EBBA.publicKey() + "\nAllowedIPs = 10.96.0.3/32\n")
                .file();
        return Ladder.judge(
                question, seen(question), Optional.of(GatewayEvidence.of(question, server, Optional.empty())));
    }

    private static void assertProven(Ladder ladder) {
        assertThat(ladder.isProven()).as(ladder.toString()).isTrue();
    }

    private static void assertFails(Ladder ladder, Rung rung, String code, Certainty certainty) {
        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(rung);
        assertThat(failure.causes().get(0).code()).as(ladder.toString()).isEqualTo(code);
        assertThat(failure.causes().get(0).certainty()).as(ladder.toString()).isEqualTo(certainty);
        assertThat(ladder.isProven()).isFalse();
    }

    @Test
    void theGoodFileIsProvenToHostsOfBothFamilies() {
        assertProven(tried(good()));
        assertProven(tried(good(), WireGuardLab.INSIDE_V6));
    }

    @Test
    void aGatewayIsCalledByIpv6Too() {
        assertProven(tried(good().replace(at(WireGuardLab.PORT), "[" + lab.outsideV6 + "]:" + WireGuardLab.PORT)));
    }

    @Test
    void ofSeveralPeersTheOneTowardsTheHostIsAsked() {
        String nobody = TunnelKeyPair.generate(RANDOM).publicKey().toString();
        String file = own(EBBA, "10.96.0.3/32")
                + peer(nobody, "", "0.0.0.0/0", "127.0.0.1:9")
                + peer(gatewayKey(), "", "10.20.77.0/24", at(WireGuardLab.PORT))
                + peer(nobody, "", "10.20.0.0/16", "127.0.0.1:9");

        assertProven(tried(file));
    }

    /** Silence takes its time, so that what ends in it is tried side by side. */
    @Test
    void whatIsWrongEndsAtItsRungWithItsCause() {
        String stranger = TunnelKeyPair.generate(RANDOM).publicKey().toString();
        TunnelKeyPair unknown = TunnelKeyPair.generate(RANDOM);
        String port = at(WireGuardLab.PORT);
        String reach = "10.20.77.0/24";
        List<Runnable> checks = List.of(
                () -> assertFails(tried(good().replace(port, at(51999))), Rung.PORT, "port-refused", Certainty.LIKELY),
                () -> assertFails(told(good().replace(port, at(51999))), Rung.PORT, "port-differs", Certainty.CERTAIN),
                () -> assertFails(
                        tried(own(MARA, "10.96.0.2/32") + peer(stranger, PSK, reach, port)),
                        Rung.HANDSHAKE,
                        "path-blocked",
                        Certainty.POSSIBLE),
                () -> assertFails(
                        told(own(MARA, "10.96.0.2/32") + peer(stranger, PSK, reach, port)),
                        Rung.HANDSHAKE,
                        "gateway-key-differs",
                        Certainty.CERTAIN),
                () -> assertFails(
                        told(own(unknown, "10.96.0.9/32") + peer(gatewayKey(), PSK, reach, port)),
                        Rung.HANDSHAKE,
                        "client-unknown",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(own(EBBA, "10.96.0.3/32") + peer(gatewayKey(), OTHER_PSK, reach, port)),
                        Rung.HANDSHAKE,
                        "preshared-key-differs",
                        Certainty.CERTAIN),
                () -> assertFails(
                        tried(good().replace(lab.address, "nowhere.skerrivane.invalid")),
                        Rung.NAME,
                        "name-unknown",
                        Certainty.CERTAIN));

        checks.stream().map(CompletableFuture::runAsync).toList().forEach(CompletableFuture::join);
    }

    @Test
    void aWrongTunnelAddressPassesTheHandshakeAndFailsAfterIt() {
        String file = own(MARA, "10.96.0.77/32")
                + peer(gatewayKey(), PSK, "10.20.77.0/24, 10.96.0.0/24", at(WireGuardLab.PORT));

        Ladder ladder = tried(file);

        assertThat(ladder.failure().orElseThrow().detail()).endsWith("10.96.0.2 is answered");
        assertFails(ladder, Rung.TUNNEL_ADDRESS, "tunnel-address-differs", Certainty.CERTAIN);
    }

    @Test
    void aHostThatIsNotThereOrNotReachedIsToldFromAGatewayThatIs() {
        assertFails(tried(good(), "10.20.77.99"), Rung.ECHO, "host-silent", Certainty.LIKELY);
        assertFails(tried(good(), "10.20.99.20"), Rung.ECHO, "outside-reach", Certainty.CERTAIN);
    }

    /** Keys are agreed anew on a tunnel that is up, as after two minutes, and the tunnel goes on with them. */
    @Test
    void keysAreAgreedAnewWithoutATunnelsEnd() throws Exception {
        Question question = question(good(), Lab.INSIDE_HOST);
        Initiator initiator = new Initiator(
                question.own(), question.gatewayKey(), question.presharedKey(), Duration.ofSeconds(1), RANDOM);
        try (Wire wire = Wire.udp(new InetSocketAddress(lab.address, WireGuardLab.PORT))) {
            for (int round = 1; round <= 3; round++) {
                wire.send(initiator.start(Instant.now()).bytes());
                await(initiator, wire, Initiator.Kind.ESTABLISHED);

                byte[] ping = new IcmpEcho(
                                IpAddress.parse("10.96.0.2"),
                                IpAddress.parse(Lab.INSIDE_HOST),
                                false,
                                7,
                                round,
                                new byte[32])
                        .encode();
                wire.send(initiator.seal(ping));
                byte[] answer = await(initiator, wire, Initiator.Kind.RECEIVED);
                assertThat(IcmpEcho.decode(answer)).hasValueSatisfying(e -> {
                    assertThat(e.reply()).isTrue();
                    assertThat(e.identifier()).isEqualTo(7);
                });
            }
        }
    }

    /** What comes of a kind; what is none of it, such as a keep-alive, is passed over. */
    private static byte[] await(Initiator initiator, Wire wire, Initiator.Kind wanted) throws IOException {
        Instant end = Instant.now().plusSeconds(5);
        while (Instant.now().isBefore(end)) {
            Optional<byte[]> datagram = wire.receive(Duration.ofMillis(100));
            Initiator.Event event = datagram.isPresent()
                    ? initiator.onDatagram(datagram.get(), Instant.now())
                    : initiator.onTick(Instant.now());
            boolean keepAlive = event.kind() == Initiator.Kind.RECEIVED && event.bytes().length == 0;
            if (event.kind() == wanted && !keepAlive) {
                return event.bytes();
            }
            if (event.kind() == Initiator.Kind.SENT_INITIATION) {
                wire.send(event.bytes());
            }
        }
        throw new AssertionError("nothing of the kind came: " + wanted);
    }
}
