package tender.core.openvpn;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.credential.Secret;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.StaticKey;
import tender.core.wire.MalformedException;

/** Control packets, how they are protected, data packets; hostile ones are dropped. */
class ControlChannelProtectionTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");
    private static final String KEY = StaticKey.generate(RANDOM);

    private static ControlPacket packet() {
        return new ControlPacket(
                ControlPacket.CONTROL,
                new byte[] {1, 2, 3, 4, 5, 6, 7, 8},
                List.of(0, 7),
                Optional.of(new byte[] {8, 7, 6, 5, 4, 3, 2, 1}),
                Optional.of(3),
                "client hello".getBytes());
    }

    static Stream<Arguments> sides() {
        // with both directions given, what one side sends the other reads
        return Stream.of(
                Arguments.of(ControlChannelProtection.none(), ControlChannelProtection.none()),
                Arguments.of(
                        ControlChannelProtection.auth(KEY, Optional.of(1), "SHA256"),
                        ControlChannelProtection.auth(KEY, Optional.of(0), "SHA256")),
                Arguments.of(
                        ControlChannelProtection.auth(KEY, Optional.empty(), "SHA512"),
                        ControlChannelProtection.auth(KEY, Optional.empty(), "SHA512")));
    }

    @ParameterizedTest
    @MethodSource("sides")
    void whatOneSideWrapsTheOtherReads(ControlChannelProtection one, ControlChannelProtection other) {
        ControlPacket read = other.unwrap(one.wrap(packet(), NOW)).orElseThrow();

        assertThat(read.acks()).containsExactly(0, 7);
        assertThat(read.id()).contains(3);
        assertThat(read.payload()).isEqualTo("client hello".getBytes());
    }

    @Test
    void anotherKeyDigestOrDirectionReadsNothing() {
        ControlChannelProtection one = ControlChannelProtection.auth(KEY, Optional.of(1), "SHA256");

        assertThat(ControlChannelProtection.auth(StaticKey.generate(RANDOM), Optional.of(0), "SHA256")
                        .unwrap(one.wrap(packet(), NOW)))
                .isEmpty();
        assertThat(ControlChannelProtection.auth(KEY, Optional.of(0), "SHA1").unwrap(one.wrap(packet(), NOW)))
                .isEmpty();
        assertThat(ControlChannelProtection.auth(KEY, Optional.of(1), "SHA256").unwrap(one.wrap(packet(), NOW)))
                .isEmpty();
        assertThat(ControlChannelProtection.crypt(KEY)
                        .unwrap(ControlChannelProtection.crypt(KEY).wrap(packet(), NOW)))
                .as("a client does not read a client")
                .isEmpty();
    }

    @Test
    void keysThatAreNoneAreRefused() {
        assertThatThrownBy(() -> ControlChannelProtection.crypt("-----BEGIN OpenVPN Static key V1-----\nabc\n"))
                .isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> ControlChannelProtection.cryptV2("not base64 at all!"))
                .isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> ControlChannelProtection.cryptV2("YWJj")).isInstanceOf(MalformedException.class);
    }

    @ParameterizedTest
    @org.junit.jupiter.params.provider.ValueSource(
            strings = {"AES-256-GCM", "AES-128-GCM", "AES-192-GCM", "CHACHA20-POLY1305", "AES-256-CBC", "AES-128-CBC"})
    void dataPacketsOpenOnceAndOnlyWithTheirKeys(String cipher) {
        byte[] keys = new byte[KeyExchange.KEYS_BYTES];
        RANDOM.nextBytes(keys);
        byte[] turned = ControlChannelProtection.join(
                java.util.Arrays.copyOfRange(keys, 128, 256), java.util.Arrays.copyOf(keys, 128));
        DataChannel client = new DataChannel(cipher, "SHA256", 5, keys, RANDOM);
        DataChannel server = new DataChannel(cipher, "SHA256", 5, turned, RANDOM);
        byte[] inner = "an ip packet".getBytes();

        byte[] sealed = client.seal(inner);

        assertThat(server.open(sealed)).hasValueSatisfying(o -> assertThat(o).isEqualTo(inner));
        assertThat(server.open(sealed)).as("a second time").isEmpty();
        byte[] other = client.seal(inner);
        other[other.length - 1] ^= 1;
        assertThat(server.open(other)).as("changed on the way").isEmpty();
        assertThat(client.open(client.seal(inner))).as("its own").isEmpty();
    }

    @Test
    void garbageFromTheServerIsDroppedAndHarmsNothing() {
        Random random = new Random(7);
        for (String kind : List.of("none", "auth", "crypt")) {
            ClientSession session = new ClientSession(
                    new ClientSettings(
                            new OpenVpnClient.Call("192.0.2.1", new Port(1194), Transport.UDP, 1),
                            new ClientSettings.ControlChannelKey(kind, Secret.of(KEY), Optional.of(1)),
                            List.of(),
                            Optional.empty(),
                            List.of("AES-256-GCM"),
                            Optional.empty(),
                            "SHA256",
                            Framing.NONE,
                            false,
                            false,
                            Optional.empty(),
                            PullRules.ALL),
                    RANDOM);
            byte[] reset = session.toSend(NOW).get(0);
            for (int i = 0; i < 60_000; i++) {
                byte[] packet = new byte[random.nextInt(120)];
                random.nextBytes(packet);
                if (packet.length > 0 && random.nextBoolean()) {
                    packet[0] = (byte) (random.nextInt(12) << 3);
                } else if (packet.length > 0 && random.nextInt(3) == 0) {
                    packet = reset.clone();
                    packet[random.nextInt(packet.length)] ^= (byte) (1 << random.nextInt(8));
                }
                byte[] each = packet;
                assertThatCode(() -> session.onPacket(each, NOW)).doesNotThrowAnyException();
                session.toSend(NOW);
            }
            assertThat(session.stage()).isNotEqualTo(ClientSession.Stage.UP);
        }
    }

    @org.junit.jupiter.params.ParameterizedTest
    @org.junit.jupiter.params.provider.ValueSource(
            strings = {"AES-256-GCM", "CHACHA20-POLY1305", "AES-256-CBC", "AES-128-CBC"})
    void aDataPacketWithAnyByteChangedDoesNotOpen(String cipher) {
        byte[] keys = new byte[KeyExchange.KEYS_BYTES];
        RANDOM.nextBytes(keys);
        DataChannel client = new DataChannel(cipher, "SHA256", 5, keys, RANDOM);
        DataChannel server = new DataChannel(cipher, "SHA256", 5, keys, false, RANDOM);
        byte[] sealed = client.seal("an ip packet of some length".getBytes());
        for (int at = 4; at < sealed.length; at++) {
            byte[] changed = sealed.clone();
            changed[at] ^= 1;
            assertThat(server.open(changed)).as(cipher + " byte " + at).isEmpty();
        }
        assertThat(server.open(sealed)).isPresent();
    }
}
