package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.HexFormat;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.network.IpAddress;

class IcmpEchoTest {
    private static IcmpEcho echo(String from, String to, byte[] payload) {
        return new IcmpEcho(IpAddress.parse(from), IpAddress.parse(to), false, 0x1234, 7, payload);
    }

    @ParameterizedTest
    @CsvSource({"10.99.4.2, 10.20.4.20", "2001:db8::2, 2001:db8::20"})
    void comesBackWholeEvenWhenPadded(String from, String to) {
        byte[] packet = echo(from, to, new byte[] {1, 2, 3}).encode();
        IcmpEcho read =
                IcmpEcho.decode(Arrays.copyOf(packet, packet.length + 13)).orElseThrow();

        assertThat(read.target()).hasToString(to);
        assertThat(read.payload()).containsExactly(1, 2, 3);
        assertThat(read.answer().reply()).isTrue();
        assertThat(IcmpEcho.decode(read.answer().encode()).orElseThrow().source())
                .hasToString(to);
    }

    /** Checksums worked out by hand as RFC 1071 describes. */
    @Test
    void writesHeadersAndChecksumsToTheByte() {
        byte[] packet = new IcmpEcho(
                        IpAddress.parse("10.99.4.2"), IpAddress.parse("10.99.4.1"), false, 1, 1, new byte[8])
                .encode();

        assertThat(HexFormat.of().formatHex(packet))
                .isEqualTo("450000240000400040011e110a6304020a6304010800f7fd000100010000000000000000");
    }

    @Test
    void aChangedByteIsNoEcho() {
        byte[] packet = echo("10.99.4.2", "10.20.4.20", new byte[16]).encode();
        for (int i = 20; i < packet.length; i++) {
            byte[] changed = packet.clone();
            changed[i] ^= 4;
            assertThat(IcmpEcho.decode(changed)).as("byte %d", i).isEmpty();
        }
        Random random = new Random(5);
        for (int i = 0; i < 20_000; i++) {
            byte[] noise = new byte[random.nextInt(120)];
            random.nextBytes(noise);
            IcmpEcho.decode(noise);
        }
    }
}
