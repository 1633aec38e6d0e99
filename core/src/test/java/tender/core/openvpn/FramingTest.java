package tender.core.openvpn;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

class FramingTest {
    @ParameterizedTest
    @CsvSource({
        "comp-lzo,PREFIX",
        "comp-lzo no,PREFIX",
        "compress,SWAP",
        "compress lz4,SWAP",
        "compress lzo,PREFIX",
        "compress stub-v2,ESCAPE",
        "compress lz4-v2,ESCAPE",
        "compress migrate,NONE"
    })
    void isToldByTheDirective(String directive, Framing framing) {
        assertThat(Framing.of(List.of(directive.split(" ")))).contains(framing);
    }

    @Test
    void otherDirectivesSayNothing() {
        assertThat(Framing.of(List.of("cipher", "AES-256-GCM"))).isEmpty();
    }

    @ParameterizedTest
    @EnumSource(Framing.class)
    void whatIsFramedComesOutAgain(Framing framing) {
        Random random = new Random(11);
        for (int i = 2; i < 300; i++) {
            byte[] packet = new byte[i];
            random.nextBytes(packet);

            assertThat(framing.inside(framing.around(packet)))
                    .hasValueSatisfying(p -> assertThat(p).isEqualTo(packet));
        }
    }

    @Test
    void aPacketThatBeginsLikeAMarkIsMarked() {
        byte[] packet = {0x50, 1, 2};

        assertThat(Framing.ESCAPE.around(packet)).containsExactly(0x50, 0, 0x50, 1, 2);
        assertThat(Framing.ESCAPE.inside(Framing.ESCAPE.around(packet)))
                .hasValueSatisfying(p -> assertThat(p).isEqualTo(packet));
    }

    @Test
    void whatIsCompressedIsDropped() {
        assertThat(Framing.PREFIX.inside(new byte[] {0x66, 1, 2, 3})).isEmpty();
        assertThat(Framing.SWAP.inside(new byte[] {0x69, 1, 2, 3})).isEmpty();
        assertThat(Framing.ESCAPE.inside(new byte[] {0x50, 1, 2, 3})).isEmpty();
    }

    @ParameterizedTest
    @EnumSource(Framing.class)
    void nothingAndNearlyNothingIsNoPacket(Framing framing) {
        assertThat(framing.inside(new byte[0])).isEmpty();
        assertThat(framing.inside(new byte[] {0x45})).isEmpty();
    }
}
