package tender.core.openvpn;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.certificate.Authority.Purpose;
import tender.core.certificate.CertificateKey;
import tender.core.credential.Secret;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.openvpn.ClientSession.Stage;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.StaticKey;
import tender.core.trial.House;

/** A client and a server over a line that loses, doubles and turns around packets; no socket, no clock but its own. */
class ConversationTest {
    private static final String KEY = StaticKey.generate(House.RANDOM);
    private static final House.Pair SERVER = House.signed(House.OURS, Purpose.SERVER, House.SERVER, -10, 90);
    private static final House.Pair MARA = House.signed(House.OURS, Purpose.CLIENT, "mara", -10, 90);
    private static final byte[] PACKET = "an ip packet, as far as this test is concerned".getBytes();

    /** What the server is like; fields are put as a test wants them. */
    private static final class Gateway implements OpenVpnServer.Rules {
        private String controlChannelKey = "crypt";
        private String digest = "SHA256";
        private List<String> ciphers = List.of("AES-256-GCM");
        private boolean certificate = true;
        private boolean password;
        private boolean frames;
        private Optional<String> refuses = Optional.empty();
        private Optional<List<String>> pushes = Optional.of(List.of(
                "route 10.20.2.0 255.255.255.0",
                "dhcp-option DNS 10.20.2.53",
                "route-gateway 10.99.2.1",
                "ifconfig 10.99.2.7 255.255.255.0"));
        private final List<String> log = new ArrayList<>();

        @Override
        public ClientSettings.Identity identity() {
            return new ClientSettings.Identity(List.of(SERVER.certificate()), SERVER.key());
        }

        @Override
        public String controlChannelKey() {
            return controlChannelKey;
        }

        @Override
        public String staticKey() {
            return KEY;
        }

        @Override
        public String digest() {
            return digest;
        }

        @Override
        public List<String> ciphers() {
            return ciphers;
        }

        @Override
        public boolean asksCertificate() {
            return certificate;
        }

        @Override
        public boolean asksPassword() {
            return password;
        }

        @Override
        public boolean frames() {
            return frames;
        }

        @Override
        public Optional<String> refuses(List<byte[]> chain) {
            return chain.isEmpty() ? Optional.of("no certificate came") : refuses;
        }

        @Override
        public boolean isPassword(String user, byte[] given) {
            return user.equals("mara") && Arrays.equals(given, "harbour".getBytes());
        }

        @Override
        public Optional<List<String>> pushes(String caller) {
            return pushes;
        }

        @Override
        public void log(String line) {
            log.add(line);
        }
    }

    /** Both ends and the line between them. */
    private static final class Line {
        private final ClientSession client;
        private final OpenVpnServer server;
        private final Random chance;
        private final int losesOf10;
        private Instant now = House.NOW;
        private int sent;

        private Line(ClientSettings settings, Gateway gateway, int losesOf10, long seed) {
            this.client = new ClientSession(settings, House.RANDOM);
            this.server = new OpenVpnServer(gateway, House.RANDOM);
            this.losesOf10 = losesOf10;
            this.chance = new Random(seed);
        }

        private List<byte[]> carried(List<byte[]> packets) {
            List<byte[]> out = new ArrayList<>();
            for (byte[] p : packets) {
                sent++;
                if (chance.nextInt(10) >= losesOf10) {
                    out.add(p);
                    if (losesOf10 > 0 && chance.nextInt(4) == 0) {
                        out.add(p);
                    }
                }
            }
            if (losesOf10 > 0) {
                Collections.shuffle(out, chance);
            }
            return out;
        }

        /** Half a second after half a second until the client is up, or nothing more can come. */
        private Line run(int halfSeconds) {
            for (int i = 0; i < halfSeconds && client.stage() != Stage.UP && !server.isEnded(); i++) {
                for (int quick = 0; quick < 6; quick++) {
                    carried(client.toSend(now)).forEach(p -> server.onPacket(p, now));
                    carried(server.toSend(now)).forEach(p -> client.onPacket(p, now));
                }
                now = now.plus(Duration.ofMillis(500));
            }
            return this;
        }

        private void passesBothWays() {
            server.onPacket(client.seal(PACKET), now);
            assertThat(server.received()).hasValueSatisfying(p -> assertThat(p).isEqualTo(PACKET));
            assertThat(server.received()).isEmpty();
            client.onPacket(server.seal(PACKET), now);
            assertThat(client.received()).hasValueSatisfying(p -> assertThat(p).isEqualTo(PACKET));
            assertThat(client.received()).isEmpty();
        }
    }

    private static ClientSettings settings(String controlChannelKey, List<String> ciphers) {
        return settings(controlChannelKey, ciphers, Optional.of(MARA), Optional.empty(), false, Framing.NONE);
    }

    private static ClientSettings settings(
            String controlChannelKey,
            List<String> ciphers,
            Optional<House.Pair> identity,
            Optional<ClientSettings.Login> login,
            boolean asksCode,
            Framing framing) {
        return new ClientSettings(
                new OpenVpnClient.Call("192.0.2.1", new Port(1194), Transport.UDP, 1),
                new ClientSettings.ControlChannelKey(
                        controlChannelKey,
                        Secret.of(KEY),
                        controlChannelKey.equals("auth") ? Optional.of(1) : Optional.empty()),
                List.of(House.OURS.certificate()),
                identity.map(p -> new ClientSettings.Identity(List.of(p.certificate()), p.key())),
                ciphers,
                Optional.empty(),
                "SHA256",
                framing,
                login.isPresent(),
                asksCode,
                login,
                PullRules.ALL);
    }

    static Stream<Arguments> ways() {
        return Stream.of("none", "auth", "crypt")
                .flatMap(w -> Stream.of("AES-256-GCM", "AES-128-GCM", "CHACHA20-POLY1305", "AES-256-CBC")
                        .map(c -> Arguments.of(w, c)));
    }

    @ParameterizedTest(name = "{0} {1}")
    @MethodSource("ways")
    void theyMeetAndPacketsPassBothWays(String controlChannelKey, String cipher) {
        Gateway gateway = new Gateway();
        gateway.controlChannelKey = controlChannelKey;
        gateway.ciphers = List.of(cipher);
        Line line = new Line(settings(controlChannelKey, List.of("AES-192-GCM", cipher)), gateway, 0, 1);
        assertThat(line.client.stage()).isEqualTo(Stage.CALLING);
        assertThat(line.client.goodbye()).isEmpty();
        assertThat(line.client.cipher()).isEmpty();

        line.run(20);

        assertThat(line.client.stage()).isEqualTo(Stage.UP);
        assertThat(line.client.cipher()).contains(cipher);
        assertThat(line.client.refused()).isEmpty();
        assertThat(line.client.broken()).isEmpty();
        assertThat(line.client.isLossy()).isFalse();
        assertThat(line.client.serverChain()).hasSize(1);
        assertThat(line.client.serverChain().get(0)).isEqualTo(SERVER.certificate());
        assertThat(line.client.tlsVersion()).contains("TLS 1.3");
        assertThat(line.client.wasAskedForCertificate()).isTrue();
        assertThat(line.client.isBridged()).isFalse();
        assertThat(line.client.serverOptions()).startsWith("V4,dev-type tun").contains("cipher " + cipher);
        assertThat(line.client.pushed().address()).contains(IpAddress.parse("10.99.2.7"));
        assertThat(line.client.pushed().gateway()).contains(IpAddress.parse("10.99.2.1"));
        assertThat(line.client.pushed().dns()).contains(IpAddress.parse("10.20.2.53"));
        assertThat(line.server.isUp()).isTrue();
        assertThat(line.server.isEnded()).isFalse();
        assertThat(line.server.caller()).isEqualTo("mara");
        assertThat(gateway.log).contains("openvpn: mara connected");
        for (int i = 0; i < 3; i++) {
            line.passesBothWays();
        }
        line.server.onPacket(line.client.goodbye().orElseThrow(), line.now);
        assertThat(line.server.isEnded()).isTrue();
        assertThat(line.server.isUp()).isFalse();
        assertThat(line.server.received()).isEmpty();
        assertThat(gateway.log).last().isEqualTo("openvpn: mara said goodbye");
    }

    @ParameterizedTest
    @EnumSource(
            value = CertificateKey.Kind.class,
            names = {"EC_P256", "RSA_2048", "RSA_3072", "ED25519"})
    void keysOfEveryKindAreShown(CertificateKey.Kind kind) {
        CertificateKey key = CertificateKey.generate(kind, House.RANDOM);
        met(key);
    }

    @ParameterizedTest
    @ValueSource(strings = {"secp384r1", "secp521r1"})
    void keysOfLargerCurvesAreShown(String curve) throws Exception {
        var generator = java.security.KeyPairGenerator.getInstance("EC");
        generator.initialize(new java.security.spec.ECGenParameterSpec(curve));
        met(CertificateKey.ofPrivate(
                Secret.of(generator.generateKeyPair().getPrivate().getEncoded())));
    }

    private static void met(CertificateKey key) {
        byte[] certificate = House.OURS.sign(
                Purpose.CLIENT,
                "mara",
                List.of(),
                key.publicKey(),
                House.NOW.minusSeconds(60),
                House.NOW.plusSeconds(9_999),
                Optional.empty(),
                House.RANDOM);
        Line line = new Line(
                settings(
                        "crypt",
                        List.of("AES-256-GCM"),
                        Optional.of(new House.Pair(certificate, key)),
                        Optional.empty(),
                        false,
                        Framing.NONE),
                new Gateway(),
                0,
                1);
        line.run(20);
        assertThat(line.client.stage()).as(line.client.broken().toString()).isEqualTo(Stage.UP);
        assertThat(line.server.caller()).isEqualTo("mara");
        line.passesBothWays();
    }

    @Test
    void packetsOfNothingAreNoCall() {
        OpenVpnServer server = new OpenVpnServer(new Gateway(), House.RANDOM);
        ClientSession client = new ClientSession(settings("crypt", List.of("AES-256-GCM")), House.RANDOM);
        assertThat(client.broken()).isEmpty();
        client.onPacket(new byte[0], House.NOW);
        client.onPacket(new byte[1], House.NOW);
        server.onPacket(new byte[1], House.NOW);
        assertThat(server.toSend(House.NOW)).as("nobody called yet").isEmpty();
        assertThat(client.stage()).isEqualTo(Stage.CALLING);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
    void whateverTheLineLosesDoublesOrTurnsAroundIsMadeUpFor(long seed) {
        Line line = new Line(settings("crypt", List.of("AES-256-GCM")), new Gateway(), 3, seed);

        line.run(240);

        assertThat(line.client.stage()).as("after " + line.sent + " packets").isEqualTo(Stage.UP);
        if (seed == 1) {
            assertThat(line.client.isLossy()).isTrue();
        }
        line.passesBothWays();
    }

    @Test
    void aDeadLineIsCalledLessAndLess() {
        Line line = new Line(settings("crypt", List.of("AES-256-GCM")), new Gateway(), 10, 1);

        line.run(60);

        assertThat(line.client.stage()).isEqualTo(Stage.CALLING);
        assertThat(line.sent).as("packets in half a minute").isBetween(6, 12);
        assertThat(line.client.serverChain()).isEmpty();
        assertThat(line.client.tlsVersion()).isEmpty();
        assertThat(line.client.wasAskedForCertificate()).isFalse();
        assertThat(line.client.serverOptions()).isEmpty();
    }

    @Test
    void packetsOfOtherSessionsChangeNothing() {
        Gateway gateway = new Gateway();
        gateway.controlChannelKey = "none";
        ClientSettings settings = settings("none", List.of("AES-256-GCM"));
        Line ours = new Line(settings, gateway, 0, 1);
        Line others = new Line(settings, gateway, 0, 2);
        // the answer to another caller reaches us first: it acknowledges a session that is not ours
        others.client.toSend(others.now).forEach(p -> others.server.onPacket(p, others.now));
        List<byte[]> strange = others.server.toSend(others.now);
        assertThat(strange).isNotEmpty();
        ours.client.toSend(ours.now).forEach(p -> ours.server.onPacket(p, ours.now));
        List<byte[]> right = ours.server.toSend(ours.now);
        right.forEach(p -> ours.client.onPacket(p, ours.now));
        assertThat(ours.client.stage()).isEqualTo(Stage.ANSWERED);
        strange.forEach(p -> ours.client.onPacket(p, ours.now));
        // nor does a packet of our server's for another client
        byte[] forAnother = right.get(0).clone();
        Arrays.fill(forAnother, 9 + 1 + 4, 9 + 1 + 4 + 8, (byte) 7);
        ours.client.onPacket(forAnother, ours.now);
        assertThat(ours.client.broken()).isEmpty();

        ours.run(20);

        assertThat(ours.client.stage()).isEqualTo(Stage.UP);
        ours.passesBothWays();
        others.run(20);
        ours.client.onPacket(others.server.seal(PACKET), ours.now);
        assertThat(ours.client.received()).as("sealed for another").isEmpty();
    }

    @Test
    void anAnswerForAnotherCallerIsNoAnswer() {
        Gateway gateway = new Gateway();
        gateway.controlChannelKey = "none";
        ClientSettings settings = settings("none", List.of("AES-256-GCM"));
        Line ours = new Line(settings, gateway, 0, 1);
        Line others = new Line(settings, gateway, 0, 2);
        ours.client.toSend(ours.now);
        others.client.toSend(others.now).forEach(p -> others.server.onPacket(p, others.now));

        others.server.toSend(others.now).forEach(p -> ours.client.onPacket(p, ours.now));

        assertThat(ours.client.stage()).isEqualTo(Stage.CALLING);
    }

    @Test
    void aServerWithAnotherKeyAnswersNobody() {
        Gateway gateway = new Gateway();
        for (String controlChannelKey : List.of("none", "auth")) {
            Line line = new Line(settings(controlChannelKey, List.of("AES-256-GCM")), gateway, 0, 1);
            line.run(20);
            assertThat(line.client.stage()).as(controlChannelKey).isEqualTo(Stage.CALLING);
            assertThat(line.server.isUp()).isFalse();
        }
        byte[] reset = new ClientSession(settings("crypt", List.of("AES-256-GCM")), House.RANDOM)
                .toSend(House.NOW)
                .get(0);
        assertThat(new OpenVpnServer(gateway, House.RANDOM).mayBegin(reset)).isTrue();
        assertThat(new OpenVpnServer(gateway, House.RANDOM).mayBegin(Arrays.copyOf(reset, 8)))
                .isFalse();
        reset[20] ^= 1;
        assertThat(new OpenVpnServer(gateway, House.RANDOM).mayBegin(reset)).isFalse();
    }

    @ParameterizedTest
    @CsvSource({
        "mara, harbour, true, openvpn: mara connected",
        "mara, wrong, false, openvpn: Auth Username/Password verification failed for mara",
        "bram, harbour, false, openvpn: Auth Username/Password verification failed for bram",
        "'', '', false, openvpn: Auth Username/Password was not provided by peer"
    })
    void aPasswordLetsInOrIsRefused(String name, String password, boolean in, String logged) {
        Gateway gateway = new Gateway();
        gateway.password = true;
        gateway.certificate = false;
        Optional<ClientSettings.Login> login =
                name.isEmpty() ? Optional.empty() : Optional.of(new ClientSettings.Login(name, Secret.of(password)));
        Line line = new Line(
                settings("crypt", List.of("AES-256-GCM"), Optional.empty(), login, false, Framing.NONE), gateway, 0, 1);

        line.run(10);

        assertThat(line.client.stage()).isEqualTo(in ? Stage.UP : Stage.EXCHANGED);
        assertThat(line.client.refused()).isEqualTo(in ? Optional.empty() : Optional.of("AUTH_FAILED"));
        assertThat(line.client.wasAskedForCertificate()).isFalse();
        assertThat(gateway.log).contains(logged);
        assertThat(line.server.isUp()).isEqualTo(in);
        if (in) {
            assertThat(line.server.caller()).isEqualTo("mara");
        }
    }

    @Test
    void aCertificateThatIsNotBelievedEndsIt() {
        Gateway gateway = new Gateway();
        gateway.refuses = Optional.of("certificate revoked");
        Line line = new Line(settings("crypt", List.of("AES-256-GCM")), gateway, 0, 1);

        line.run(10);

        assertThat(line.client.stage()).isNotEqualTo(Stage.UP);
        assertThat(line.server.isEnded()).isTrue();
        assertThat(line.server.caller()).isEqualTo("mara");
        assertThat(gateway.log).containsExactly("openvpn: mara: VERIFY ERROR: certificate revoked");
        assertThat(line.server.toSend(line.now)).as("silent from now on").isEmpty();
    }

    @Test
    void whoeverShowsNoCertificateWhereOneIsAskedStaysOut() {
        Gateway gateway = new Gateway();
        Line line = new Line(
                settings("crypt", List.of("AES-256-GCM"), Optional.empty(), Optional.empty(), false, Framing.NONE),
                gateway,
                0,
                1);

        line.run(10);

        assertThat(line.client.stage()).isNotEqualTo(Stage.UP);
        assertThat(line.server.isUp()).isFalse();
        assertThat(gateway.log).containsExactly("openvpn: TLS handshake failed");
    }

    @Test
    void noCipherInCommonIsSaidAndNoAddressLeftIsSilence() {
        Gateway gateway = new Gateway();
        gateway.ciphers = List.of("AES-256-CBC");
        Line line = new Line(settings("crypt", List.of("AES-256-GCM", "AES-128-GCM")), gateway, 0, 1).run(10);
        assertThat(line.client.refused())
                .contains("AUTH_FAILED,Data channel cipher negotiation failed (no shared cipher)");
        assertThat(gateway.log).last().asString().contains("no shared cipher");
        assertThat(line.client.toSend(line.now.plusSeconds(60)))
                .as("asks no more")
                .isEmpty();

        Gateway full = new Gateway();
        full.pushes = Optional.empty();
        line = new Line(settings("crypt", List.of("AES-256-GCM")), full, 0, 1).run(10);
        assertThat(line.client.stage()).isEqualTo(Stage.EXCHANGED);
        assertThat(line.server.isEnded()).isTrue();
        assertThat(full.log).containsExactly("openvpn: mara: no free --ifconfig-pool addresses are left");
    }

    @Test
    void theServersOwnOrderOfCiphersCounts() {
        Gateway gateway = new Gateway();
        gateway.ciphers = List.of("CHACHA20-POLY1305", "AES-256-GCM");
        Line line = new Line(settings("crypt", List.of("AES-256-GCM", "CHACHA20-POLY1305")), gateway, 0, 1).run(10);
        assertThat(line.client.cipher()).contains("CHACHA20-POLY1305");
        line.passesBothWays();
    }

    @Test
    void bothEndsFrameAlikeOrNothingPasses() {
        Gateway gateway = new Gateway();
        gateway.frames = true;
        Line line = new Line(
                        settings(
                                "crypt",
                                List.of("AES-256-GCM"),
                                Optional.of(MARA),
                                Optional.empty(),
                                false,
                                Framing.PREFIX),
                        gateway,
                        0,
                        1)
                .run(10);
        line.passesBothWays();
        line.server.onPacket(line.client.goodbye().orElseThrow(), line.now);
        assertThat(line.server.isEnded()).isTrue();

        Line bare = new Line(settings("crypt", List.of("AES-256-GCM")), gateway, 0, 1).run(10);
        bare.server.onPacket(bare.client.seal(PACKET), bare.now);
        assertThat(bare.server.received()).as("begins with no mark").isEmpty();
    }

    @Test
    void framingThatIsPushedCounts() {
        Gateway gateway = new Gateway();
        gateway.frames = true;
        gateway.pushes = Optional.of(List.of("comp-lzo no", "ifconfig 10.99.2.7 255.255.255.0"));
        Line line = new Line(settings("crypt", List.of("AES-256-GCM")), gateway, 0, 1).run(10);
        line.passesBothWays();
    }

    @Test
    void packetsThatAreCutOrAlteredHarmNeitherEnd() {
        Random random = new Random(5);
        Line line = new Line(settings("crypt", List.of("AES-256-GCM")), new Gateway(), 0, 1);
        List<byte[]> seen = new ArrayList<>();
        for (int i = 0; i < 20 && line.client.stage() != Stage.UP; i++) {
            for (byte[] p : line.client.toSend(line.now)) {
                seen.add(p);
                line.server.onPacket(p, line.now);
            }
            for (byte[] p : line.server.toSend(line.now)) {
                seen.add(p);
                line.client.onPacket(p, line.now);
            }
            for (byte[] p : seen) {
                byte[] altered = random.nextBoolean() ? Arrays.copyOf(p, random.nextInt(p.length)) : p.clone();
                if (altered.length > 0) {
                    altered[random.nextInt(altered.length)] ^= (byte) (1 << random.nextInt(8));
                }
                line.server.onPacket(altered, line.now);
                line.client.onPacket(altered, line.now);
            }
            line.now = line.now.plusMillis(300);
        }
        assertThat(line.client.stage()).isEqualTo(Stage.UP);
        line.passesBothWays();
        for (byte[] p : seen) { // whatever was said before is said again
            line.server.onPacket(p, line.now);
            line.client.onPacket(p, line.now);
        }
        line.passesBothWays();
    }

    @Test
    void aCallerWhoTalksTooMuchIsCutOff() {
        Gateway gateway = new Gateway();
        gateway.password = true;
        Line line = new Line(
                settings(
                        "crypt",
                        List.of("AES-256-GCM"),
                        Optional.of(MARA),
                        Optional.of(new ClientSettings.Login("m".repeat(60_000), Secret.of("harbour"))),
                        false,
                        Framing.NONE),
                gateway,
                0,
                1);
        line.run(60);
        assertThat(line.client.stage()).isNotEqualTo(Stage.UP);
        assertThat(line.server.isUp()).isFalse();
    }
}
