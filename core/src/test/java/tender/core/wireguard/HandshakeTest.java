package tender.core.wireguard;

import static org.assertj.core.api.Assertions.assertThat;

import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKeyPair;
import tender.core.wire.ReplayWindow;

/** The two halves of the handshake against each other; real peers hold both in the end-to-end tests. */
class HandshakeTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Instant T0 = Instant.parse("2026-03-01T10:00:00Z");

    private final TunnelKeyPair client = TunnelKeyPair.generate(RANDOM);
    private final TunnelKeyPair gateway = TunnelKeyPair.generate(RANDOM);
    private final Secret psk = TunnelKeyPair.presharedKey(RANDOM);

    private Initiator initiator(Optional<Secret> presharedKey) {
        return new Initiator(client, gateway.publicKey(), presharedKey, Initiator.RETRY_AFTER, RANDOM);
    }

    private Optional<Responder.Call> call(byte[] packet) {
        Responder responder = new Responder(gateway, RANDOM);
        return Packets.decode(packet).flatMap(p -> responder.open((Packets.Initiation) p, packet));
    }

    private Responder.Answer answer(byte[] packet, Optional<Secret> presharedKey) {
        return new Responder(gateway, RANDOM)
                .answer(call(packet).orElseThrow(), presharedKey, T0)
                .orElseThrow();
    }

    @Test
    void hashesAsRfc7693AppendixBSays() {
        assertThat(HexFormat.of().formatHex(NoiseState.hash("abc".getBytes())))
                .isEqualTo("508c5e8c327c14e2e1a72ba34eeb452f37458b209ed63a294d999b4c86675982");
    }

    @Test
    void bothSidesAgreeAndTalk() {
        Initiator initiator = initiator(Optional.of(psk));
        byte[] first = initiator.start(T0).bytes();
        assertThat(first).hasSize(148);
        Responder.Answer answer = answer(first, Optional.of(psk));
        assertThat(answer.response()).hasSize(92);

        assertThat(initiator.onDatagram(answer.response(), T0).kind()).isEqualTo(Initiator.Kind.ESTABLISHED);
        byte[] sealed = initiator.seal("hello inside".getBytes());
        byte[] opened = answer.keypair()
                .open((Packets.Transport) Packets.decode(sealed).orElseThrow(), T0)
                .orElseThrow();
        assertThat(Arrays.copyOf(opened, 12)).isEqualTo("hello inside".getBytes());
        assertThat(opened).hasSize(16);
        assertThat(initiator
                        .onDatagram(answer.keypair().seal("and back".getBytes()), T0)
                        .kind())
                .isEqualTo(Initiator.Kind.RECEIVED);
        assertThat(answer.keypair()
                        .open((Packets.Transport) Packets.decode(sealed).orElseThrow(), T0))
                .as("replayed")
                .isEmpty();
    }

    @Test
    void tellsADifferentPresharedKeyFromSilence() {
        Initiator initiator = initiator(Optional.of(psk));
        byte[] response = answer(initiator.start(T0).bytes(), Optional.empty()).response();

        assertThat(initiator.onDatagram(response, T0).kind()).isEqualTo(Initiator.Kind.RESPONSE_UNREADABLE);
    }

    @Test
    void aStrangersKeyOpensNothing() {
        TunnelKeyPair other = TunnelKeyPair.generate(RANDOM);
        byte[] packet = new Initiator(client, other.publicKey(), Optional.empty(), Initiator.RETRY_AFTER, RANDOM)
                .start(T0)
                .bytes();

        assertThat(call(packet)).isEmpty();
    }

    @Test
    void callersAreKnownByTheirKeyAndStampsMustRise() {
        Initiator initiator = initiator(Optional.empty());
        Responder.Call early = call(initiator.start(T0).bytes()).orElseThrow();
        Responder.Call late = call(initiator.start(T0.plusMillis(1)).bytes()).orElseThrow();

        assertThat(early.caller()).isEqualTo(client.publicKey());
        assertThat(early.isNewerThan(null)).isTrue();
        assertThat(late.isNewerThan(early.stamp())).isTrue();
        assertThat(early.isNewerThan(late.stamp())).isFalse();
    }

    @Test
    void sendsAgainAfterFiveSecondsAndAsksForNewKeysAfterTwoMinutes() {
        Initiator initiator = initiator(Optional.empty());
        byte[] first = initiator.start(T0).bytes();
        assertThat(initiator.onTick(T0.plusSeconds(4)).kind()).isEqualTo(Initiator.Kind.NOTHING);
        byte[] second = initiator.onTick(T0.plusSeconds(5)).bytes();
        assertThat(second).hasSize(148).isNotEqualTo(first);

        initiator.onDatagram(answer(second, Optional.empty()).response(), T0);
        assertThat(initiator.onTick(T0.plusSeconds(119)).kind()).isEqualTo(Initiator.Kind.NOTHING);
        assertThat(initiator.onTick(T0.plusSeconds(121)).kind()).isEqualTo(Initiator.Kind.SENT_INITIATION);
    }

    @Test
    void keysAreRefusedAfterThreeMinutes() {
        Initiator initiator = initiator(Optional.empty());
        Responder.Answer answer = answer(initiator.start(T0).bytes(), Optional.empty());
        initiator.onDatagram(answer.response(), T0);
        Packets.Transport packet =
                (Packets.Transport) Packets.decode(initiator.seal(new byte[0])).orElseThrow();

        assertThat(answer.keypair().open(packet, T0.plus(Duration.ofSeconds(181))))
                .isEmpty();
    }

    @Test
    void anyChangedByteOfAnyPacketIsRefusedWithoutAnException() {
        Initiator initiator = initiator(Optional.of(psk));
        byte[] first = initiator.start(T0).bytes();
        byte[] response = answer(first, Optional.of(psk)).response();
        for (int i = 4; i < 132; i++) {
            byte[] changed = first.clone();
            changed[i] ^= 1;
            assertThat(call(changed)).as("byte %d", i).isEmpty();
        }
        for (int i = 0; i < 76; i++) {
            byte[] changed = response.clone();
            changed[i] ^= 1;
            assertThat(initiator.onDatagram(changed, T0).kind())
                    .as("byte %d", i)
                    .isEqualTo(Initiator.Kind.NOTHING);
        }
        assertThat(initiator.onDatagram(response, T0).kind()).isEqualTo(Initiator.Kind.ESTABLISHED);
    }

    @Test
    void randomDatagramsAreNothing() {
        Random random = new Random(11);
        Initiator initiator = initiator(Optional.empty());
        initiator.start(T0);
        for (int i = 0; i < 20_000; i++) {
            byte[] data = new byte[random.nextInt(5) == 0 ? 92 : random.nextInt(200)];
            random.nextBytes(data);
            if (data.length > 4 && random.nextBoolean()) {
                data[0] = (byte) (1 + random.nextInt(4));
                data[1] = data[2] = data[3] = 0;
            }
            assertThat(initiator.onDatagram(data, T0).kind())
                    .isIn(Initiator.Kind.NOTHING, Initiator.Kind.PEER_UNDER_LOAD);
        }
    }

    @Test
    void theReplayWindowTakesEachCounterOnceInAnyOrder() {
        Random random = new Random(3);
        ReplayWindow window = new ReplayWindow();
        java.util.Set<Long> seen = new java.util.HashSet<>();
        long highest = -1;
        for (int i = 0; i < 50_000; i++) {
            long counter = Math.max(0, highest + random.nextInt(2_000) - 1_800);
            boolean inside = counter > highest - ReplayWindow.WIDTH;
            assertThat(window.accept(counter)).isEqualTo(inside && !seen.contains(counter));
            if (inside) {
                seen.add(counter);
            }
            highest = Math.max(highest, counter);
        }
        assertThat(window.accept(-1)).isFalse();
    }
}
