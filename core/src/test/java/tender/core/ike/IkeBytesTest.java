package tender.core.ike;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.trial.House;
import tender.core.wire.MalformedException;

/** What goes over the wire, written out by hand from the RFCs. */
class IkeBytesTest {
    private static final HexFormat HEX = HexFormat.of();
    private static final byte[] SPI = HEX.parseHex("a1a2a3a4");
    /** Two proposals of the tunnel's protocol (RFC 7296 §3.3): each part says whether another follows. */
    private static final String PROPOSALS = "02000024" + "01030403" + "a1a2a3a4"
            + "0300000c" + "01000014" + "800e0100"
            + "03000008" + "0400000e"
            + "00000008" + "05000000";

    private static byte[] hex(String text) {
        return HEX.parseHex(text);
    }

    private static Proposal tunnel(int number) {
        return new Proposal(
                number, 3, SPI, List.of(new Transform(1, 20, 256), new Transform(4, 14, 0), new Transform(5, 0, 0)));
    }

    @Test
    void proposalsSayWhetherAnotherFollows() {
        String second = PROPOSALS.replaceFirst("02000024", "00000024").replaceFirst("01030403", "02030403");

        // 8 and 4 bytes of head, 12 and twice 8 of algorithms
        assertThat(Proposal.encode(List.of(tunnel(1), tunnel(2))))
                .isEqualTo(hex(
                        PROPOSALS.replaceFirst("02000024", "02000028") + second.replaceFirst("00000024", "00000028")));
        assertThat(Proposal.encode(List.of(tunnel(2)))).isEqualTo(hex(second.replaceFirst("00000024", "00000028")));
    }

    @Test
    void anAttributeThatIsNotKnownIsSteppedOver() {
        byte[] body = hex("00000024" + "01010001" + "0000001c" + "01000014"
                + "0009" + "0008" + "0102030405060708" // a long one that nobody knows
                + "800e0080" + "80070001");

        List<Proposal> read = Proposal.decode(body);

        assertThat(read).hasSize(1);
        assertThat(read.get(0).transforms()).containsExactly(new Transform(1, 20, 128));
    }

    @Test
    void aProposalWithAKindOfAlgorithmThatTheOwnSideLacksIsNotTaken() {
        Proposal own = new Proposal(1, 3, SPI, List.of(new Transform(1, 20, 256), new Transform(5, 0, 0)));

        assertThat(tunnel(1).chosenBy(own)).isEmpty();
        assertThat(own.chosenBy(tunnel(1))).isEmpty();
        assertThat(tunnel(1).chosenBy(tunnel(2)).orElseThrow().number()).isEqualTo(1);
        assertThatThrownBy(() -> own.need(4)).isInstanceOf(MalformedException.class);
        assertThat(own.need(1).keyBits()).isEqualTo(256);
    }

    @Test
    void theFirstMessageOfTheOldVersionIsWrittenAsItsRfcSays() {
        byte[] request = new MainModeProbe(House.RANDOM).request();
        ByteBuffer in = ByteBuffer.wrap(request);

        assertThat(in.getInt(24)).as("the whole length (RFC 2408 §3.1)").isEqualTo(request.length);
        assertThat(request[16]).as("a security association follows").isEqualTo((byte) 1);
        assertThat(in.getShort(30)).as("its length").isEqualTo((short) (request.length - 28));
        assertThat(in.getShort(42)).as("the proposal's length").isEqualTo((short) (request.length - 40));
        int transforms = request[47];
        int at = 48;
        for (int i = 1; i <= transforms; i++) {
            assertThat(request[at]).as("whether another follows").isEqualTo((byte) (i < transforms ? 3 : 0));
            assertThat(request[at + 4]).as("its number").isEqualTo((byte) i);
            int length = in.getShort(at + 2);
            boolean keyed = length == 8 + 7 * 4;
            assertThat(length).isIn(8 + 6 * 4, 8 + 7 * 4);
            short[] types = new short[keyed ? 7 : 6];
            for (int a = 0; a < types.length; a++) {
                types[a] = (short) (in.getShort(at + 8 + a * 4) & 0x7fff);
            }
            assertThat(types)
                    .isEqualTo(keyed ? new short[] {1, 14, 2, 4, 3, 11, 12} : new short[] {1, 2, 4, 3, 11, 12});
            at += length;
        }
        assertThat(at).as("nothing behind it").isEqualTo(request.length);
    }

    @Test
    void whatTheOldVersionTookIsReadWithAnIndexAndALongLife() {
        MainModeProbe probe = new MainModeProbe(House.RANDOM);
        byte[] cookie = Arrays.copyOf(probe.request(), 8);
        // one transform: AES-256, SHA-256, group 14, shared secret, and a life of four bytes
        byte[] chosen = hex("00000024" + "01010000" + "80010007" + "800e0100" + "80020004" + "8004000e" + "80030001"
                + "000c0004" + "00007080");
        byte[] answer = ByteBuffer.allocate(28 + 12 + 8 + 4 + chosen.length)
                .put(cookie)
                .put(hex("2122232425262728"))
                .put(hex("01100200" + "00000000"))
                .putInt(28 + 12 + 12 + chosen.length)
                .put(hex("0000"))
                .putShort((short) (24 + chosen.length))
                .putInt(1)
                .putInt(1)
                .put(hex("0000"))
                .putShort((short) (12 + chosen.length))
                .put(hex("01010401" + "0a0b0c0d"))
                .put(chosen)
                .array();

        assertThat(probe.read(answer).orElseThrow().taken()).contains("AES-256, SHA-256, group 14, shared secret");
    }

    @ParameterizedTest
    @ValueSource(strings = {"aes128", "aes256gcm16"})
    void aTunnelPacketIsPaddedAsItsRfcSays(String cipher) {
        Transform t = Transform.parse(cipher);
        byte[] key = new byte[t.isAuthenticated() ? 36 : 16];
        Sealer sealer = new Sealer(
                t,
                t.isAuthenticated() ? Optional.empty() : Optional.of(Transform.parse("sha256")),
                key,
                new byte[32],
                House.RANDOM);
        EspTunnel tunnel = new EspTunnel(SPI, SPI, sealer, sealer);
        for (int length = 20; length < 60; length++) {
            byte[] packet = new byte[length];
            new Random(length).nextBytes(packet);
            packet[0] = (byte) (length % 2 == 0 ? 0x45 : 0x60);
            byte[] sent = tunnel.seal(packet);
            byte[] header = Arrays.copyOf(sent, 8);

            byte[] text = sealer.open(header, Arrays.copyOfRange(sent, 8, sent.length))
                    .orElseThrow();

            int pad = text[text.length - 2];
            assertThat(text.length).isEqualTo(length + pad + 2);
            assertThat(text.length % sealer.block()).as("whole blocks").isZero();
            assertThat(pad).as("no more than it takes").isLessThan(sealer.block());
            for (int i = 0; i < pad; i++) {
                assertThat(text[length + i]).as("1, 2, 3 (RFC 4303 §2.4)").isEqualTo((byte) (i + 1));
            }
            assertThat(text[text.length - 1]).isEqualTo((byte) (length % 2 == 0 ? 4 : 41));
            assertThat(tunnel.open(sent).orElseThrow()).isEqualTo(packet);
            assertThat(tunnel.open(sent)).as("the same again").isEmpty();
        }
        assertThat(tunnel.open(new byte[7])).isEmpty();
        byte[] hollow = hex("a1a2a3a4" + "000003e8");
        byte[] nothing = sealer.seal(hollow, new byte[sealer.block()]);
        assertThat(tunnel.open(ByteBuffer.allocate(8 + nothing.length)
                        .put(hollow)
                        .put(nothing)
                        .array()))
                .as("no packet in it")
                .isEmpty();
    }
}
