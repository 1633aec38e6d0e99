package tender.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.wire.MalformedException;

class IpAddressTest {
    @ParameterizedTest
    @CsvSource({
        "192.0.2.1, 192.0.2.1",
        "0.0.0.0, 0.0.0.0",
        "255.255.255.255, 255.255.255.255",
        "2001:db8:0:0:0:0:0:1, 2001:db8::1",
        "2001:DB8::1, 2001:db8::1",
        "::, ::",
        "::1, ::1",
        "1::, 1::",
        "2001:db8:0:1:1:1:1:1, 2001:db8:0:1:1:1:1:1",
        "2001:0:0:1:0:0:0:1, 2001:0:0:1::1",
        "::ffff:192.0.2.1, ::ffff:c000:201",
        "2001:db8::0:1, 2001:db8::1"
    })
    void readsAndWritesAsRfc5952Asks(String text, String canonical) {
        assertThat(IpAddress.parse(text)).hasToString(canonical);
        assertThat(IpAddress.parse(canonical)).isEqualTo(IpAddress.parse(text));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                " ",
                "1.2.3",
                "1.2.3.4.5",
                "010.0.0.1",
                "256.0.0.1",
                "1.2.3.-4",
                "0x7f000001",
                "1.2",
                "1.2.3.4 ",
                ":",
                ":::",
                "1::2::3",
                "12345::",
                "g::1",
                "1:2:3:4:5:6:7",
                "1:2:3:4:5:6:7:8:9",
                "fe80::1%eth0",
                "[::1]",
                "::1.2.3",
                "1:2:3:4:5:6:7::8",
                "١.٢.٣.٤"
            })
    void refusesAnythingElse(String text) {
        assertThatThrownBy(() -> IpAddress.parse(text)).isInstanceOf(MalformedException.class);
    }

    @Test
    void comesBackFromBytesAndText() {
        Random random = new Random(20);
        for (int i = 0; i < 2_000; i++) {
            byte[] bytes = new byte[random.nextBoolean() ? 4 : 16];
            random.nextBytes(bytes);
            if (random.nextInt(3) == 0) {
                java.util.Arrays.fill(bytes, 1, bytes.length - 1, (byte) 0);
            }
            IpAddress address = IpAddress.ofBytes(bytes);
            assertThat(address.toBytes()).isEqualTo(bytes);
            assertThat(IpAddress.parse(address.toString())).isEqualTo(address);
        }
    }

    @Test
    void countsAcrossTheMiddleOfAV6Address() {
        IpAddress last = IpAddress.parse("2001:db8::ffff:ffff:ffff:ffff");

        assertThat(last.plus(1)).isEqualTo(IpAddress.parse("2001:db8:0:1::"));
        assertThat(last.plus(1).plus(-1)).isEqualTo(last);
    }
}
