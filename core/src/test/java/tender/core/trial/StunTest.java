package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.network.IpAddress;

/** What the outside says of our address, with the vectors of RFC 5769; and datagrams as they go through a tunnel. */
class StunTest {
    private static final byte[] ID = HexFormat.of().parseHex("b7e7a701bc34d686fa87dfae");

    /** RFC 5769 §2.2: a response over IPv4, its attributes up to the mapped address. */
    private static final String V4 = "0101003c" + "2112a442" + "b7e7a701bc34d686fa87dfae"
            + "8022000b" + "7465737420766563746f7220"
            + "00200008" + "0001a147e112a643";

    /** RFC 5769 §2.3: the same over IPv6. */
    private static final String V6 = "01010048" + "2112a442" + "b7e7a701bc34d686fa87dfae"
            + "8022000b" + "7465737420766563746f7220"
            + "00200014" + "0002a1470113a9faa5d3f179bc25f4b5bed2b9d9";

    @ParameterizedTest
    @CsvSource({V4 + ", 192.0.2.1", V6 + ", 2001:db8:1234:5678:11:2233:4455:6677"})
    void theAddressIsReadAsTheStandardsVectorsHaveIt(String hex, String address) {
        byte[] answer = HexFormat.of().parseHex(hex);
        assertThat(Stun.seen(answer, ID)).contains(IpAddress.parse(address));
        byte[] other = ID.clone();
        other[11] ^= 1;
        assertThat(Stun.seen(answer, other)).as("an answer to another request").isEmpty();
        for (int cut = 0; cut < answer.length; cut++) {
            assertThat(Stun.seen(Arrays.copyOf(answer, cut), ID))
                    .as("cut at " + cut)
                    .isEmpty();
        }
        byte[] failed = answer.clone();
        failed[0] = 1;
        failed[1] = 0x11;
        assertThat(Stun.seen(failed, ID)).as("an error").isEmpty();
        int at = 20 + 4 + 12;
        for (byte length : new byte[] {4, 7, 9, 12, 21, 0}) {
            byte[] wrong = answer.clone();
            wrong[at + 3] = length;
            assertThat(Stun.seen(wrong, ID))
                    .as("an attribute of " + length + " bytes")
                    .isEmpty();
        }
    }

    @Test
    void requestsAndAnswersComeBack() {
        byte[] request = Stun.request(ID);
        assertThat(HexFormat.of().formatHex(request))
                .isEqualTo("000100002112a442" + HexFormat.of().formatHex(ID));
        assertThat(Stun.requested(request))
                .hasValueSatisfying(id -> assertThat(id).isEqualTo(ID));
        byte[] longer = Arrays.copyOf(request, 40);
        assertThat(Stun.requested(longer))
                .hasValueSatisfying(id -> assertThat(id).isEqualTo(ID));
        assertThat(Stun.requested(Arrays.copyOf(request, 19))).isEmpty();
        for (int i : new int[] {0, 1, 4, 7}) {
            byte[] other = request.clone();
            other[i] ^= 1;
            assertThat(Stun.requested(other)).isEmpty();
        }
        for (String a : new String[] {"192.0.2.1", "2001:db8::7"}) {
            byte[] answer = Stun.answer(ID, IpAddress.parse(a), 32853);
            assertThat(Stun.seen(answer, ID)).contains(IpAddress.parse(a));
            assertThat(ByteBuffer.wrap(answer).getShort(2)).as("its length").isEqualTo((short) (answer.length - 20));
        }
        assertThat(HexFormat.of().formatHex(Stun.answer(ID, IpAddress.parse("192.0.2.1"), 32853)))
                .isEqualTo("0101000c2112a442b7e7a701bc34d686fa87dfae" + "00200008" + "0001a147e112a643");
    }

    @Test
    void whateverComesEndsInAValue() {
        Random random = new Random(3);
        byte[] answer = HexFormat.of().parseHex(V6);
        for (int i = 0; i < 50_000; i++) {
            byte[] changed = Arrays.copyOf(answer, 20 + random.nextInt(answer.length - 20));
            changed[20 + random.nextInt(Math.max(1, changed.length - 20)) - (changed.length == 20 ? 1 : 0)] =
                    (byte) random.nextInt(256);
            assertThat(Stun.seen(changed, ID)).isNotNull();
        }
    }

    // UDP inside a tunnel

    private static final IpAddress FROM = IpAddress.parse("10.99.4.2");
    private static final IpAddress TO = IpAddress.parse("10.20.4.53");

    private static int sum(byte[] bytes, int from, int to) {
        int sum = 0;
        for (int i = from; i < to; i += 2) {
            sum += (bytes[i] & 0xff) << 8 | (i + 1 < to ? bytes[i + 1] & 0xff : 0);
        }
        while (sum >>> 16 != 0) {
            sum = (sum & 0xffff) + (sum >>> 16);
        }
        return sum;
    }

    private static void sumAgain(byte[] packet) {
        packet[26] = packet[27] = 0;
        byte[] pseudo = Arrays.copyOf(Arrays.copyOfRange(packet, 12, 20), 12 + packet.length - 20);
        pseudo[9] = 17;
        pseudo[10] = (byte) (packet.length - 20 >> 8);
        pseudo[11] = (byte) (packet.length - 20);
        System.arraycopy(packet, 20, pseudo, 12, packet.length - 20);
        int sum = ~sum(pseudo, 0, pseudo.length) & 0xffff;
        packet[26] = (byte) (sum >> 8);
        packet[27] = (byte) sum;
    }

    @Test
    void aDatagramIsOneByteForByte() {
        for (int length = 0; length < 40; length++) {
            byte[] payload = new byte[length];
            new Random(length).nextBytes(payload);
            byte[] packet = new UdpPacket(FROM, 40_001, TO, 53, payload).encode();
            ByteBuffer in = ByteBuffer.wrap(packet);
            assertThat(packet).hasSize(28 + length);
            assertThat(packet[0]).isEqualTo((byte) 0x45);
            assertThat(in.getShort(2)).isEqualTo((short) packet.length);
            assertThat(in.getShort(6)).as("not to be cut up").isEqualTo((short) 0x4000);
            assertThat(packet[8]).isEqualTo((byte) 64);
            assertThat(packet[9]).isEqualTo((byte) 17);
            assertThat(sum(packet, 0, 20)).as("the header's sum").isEqualTo(0xffff);
            assertThat(in.getShort(20) & 0xffff).isEqualTo(40_001);
            assertThat(in.getShort(22)).isEqualTo((short) 53);
            assertThat(in.getShort(24)).isEqualTo((short) (8 + length));
            byte[] same = packet.clone();
            sumAgain(same);
            assertThat(packet).isEqualTo(same);
            UdpPacket read = UdpPacket.decode(packet).orElseThrow();
            assertThat(read.source()).isEqualTo(FROM);
            assertThat(read.target()).isEqualTo(TO);
            assertThat(read.sourcePort()).isEqualTo(40_001);
            assertThat(read.targetPort()).isEqualTo(53);
            assertThat(read.payload()).isEqualTo(payload);
            assertThat(UdpPacket.decode(Arrays.copyOf(packet, packet.length + 7)))
                    .as("padded")
                    .isPresent();
            for (int cut = 0; cut < packet.length; cut++) {
                assertThat(UdpPacket.decode(Arrays.copyOf(packet, cut))).isEmpty();
            }
        }
    }

    @Test
    void whatIsNoWholeDatagramOrWronglySummedIsDropped() {
        byte[] packet = new UdpPacket(FROM, 40_001, TO, 53, "a question".getBytes()).encode();
        byte[] unsummed = packet.clone();
        unsummed[26] = unsummed[27] = 0;
        assertThat(UdpPacket.decode(unsummed))
                .as("a sender may leave the sum out")
                .isPresent();
        for (int i = 28; i < packet.length; i++) {
            byte[] changed = packet.clone();
            changed[i] ^= 1;
            assertThat(UdpPacket.decode(changed)).isEmpty();
        }
        int[][] wrong = {{0, 0x65}, {0, 0x44}, {9, 6}, {6, 0x20}, {7, 1}, {3, 27}, {3, 100}, {25, 7}, {25, 19}, {24, 1}
        };
        for (int[] w : wrong) {
            byte[] changed = packet.clone();
            changed[w[0]] = (byte) w[1];
            changed[26] = changed[27] = 0;
            assertThat(UdpPacket.decode(changed))
                    .as("byte " + w[0] + " is " + w[1])
                    .isEmpty();
        }
        byte[] shorter = packet.clone(); // a datagram shorter than its packet
        shorter[25] = 8;
        shorter[26] = shorter[27] = 0;
        assertThat(UdpPacket.decode(shorter))
                .hasValueSatisfying(p -> assertThat(p.payload()).isEmpty());
        byte[] options = ByteBuffer.allocate(packet.length + 4)
                .put(packet, 0, 20)
                .putInt(0x01010101)
                .put(packet, 20, packet.length - 20)
                .array();
        options[0] = 0x46;
        options[3] += 4;
        assertThat(UdpPacket.decode(options))
                .hasValueSatisfying(p -> assertThat(p.payload()).isEqualTo("a question".getBytes()));
    }

    @Test
    void aSumOfZeroIsSentAsAllOnes() {
        for (int i = 0; i < 0x10000; i++) {
            byte[] packet = new UdpPacket(FROM, 40_001, TO, 53, new byte[] {(byte) (i >> 8), (byte) i}).encode();
            if (packet[26] == -1 && packet[27] == -1) {
                assertThat(UdpPacket.decode(packet)).isPresent();
                return;
            }
            assertThat(packet[26] == 0 && packet[27] == 0).isFalse();
        }
        throw new AssertionError("no payload sums to zero");
    }
}
