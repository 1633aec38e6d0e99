package tender.core.wire;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.credential.TunnelKey;
import tender.core.network.Port;

class ByteCursorTest {
    @Test
    void readsNumbersInTheOrderTheProtocolsUse() {
        ByteCursor in = new ByteCursor(new byte[] {1, 2, 3, (byte) 0xff, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, (byte) 0x80, 9});

        assertThat(in.u16()).isEqualTo(0x0102);
        assertThat(in.u8()).isEqualTo(3);
        assertThat(in.i32LittleEndian()).isEqualTo(0xff);
        assertThat(in.i64LittleEndian()).isEqualTo(0x8000000000000001L);
        assertThat(in.rest()).containsExactly(9);
        in.end();
    }

    @ParameterizedTest
    @ValueSource(ints = {-1, 5, Integer.MAX_VALUE})
    void refusesALengthBeyondWhatIsLeft(int length) {
        ByteCursor in = new ByteCursor(new byte[4]);

        assertThatThrownBy(() -> in.bytes(length))
                .isInstanceOfSatisfying(
                        MalformedException.class, e -> assertThat(e.code()).isEqualTo("too-short"));
        assertThat(in.remaining()).isEqualTo(4);
    }

    @Test
    void trailingBytesAreAnError() {
        ByteCursor in = new ByteCursor(new byte[4]);
        in.skip(3);
        assertThatThrownBy(in::end).hasMessageContaining("1 bytes too many");
    }

    @Test
    void aFaultCarriesItsPathAndNeverTheValue() {
        assertThatThrownBy(() -> Fields.parse("peers[2].port", "RECOGNISABLE", Port::parse))
                .hasMessage("peers[2].port: a port is a number from 1 to 65535");
        assertThatThrownBy(() -> Fields.parse("key", "RECOGNISABLE", TunnelKey::parse))
                .hasMessageNotContaining("RECOGNISABLE");
        assertThatThrownBy(() -> Fields.title("name", "a\u202eb")).hasMessageContaining("printable");
        assertThatThrownBy(() -> Fields.title("name", "x".repeat(121))).isInstanceOf(MalformedException.class);
        assertThatThrownBy(() -> Fields.given("key", null)).hasMessage("key: is needed");
        assertThat(Fields.optionalTitle("mail", Optional.of("  "))).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "AAAA",
                "AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA",
                "AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAB=",
                "AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA-=",
                "AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"
            })
    void aKeyIsExactly32BytesOfStrictBase64(String text) {
        assertThatThrownBy(() -> TunnelKey.parse(text)).isInstanceOf(MalformedException.class);
        assertThat(TunnelKey.parse("AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA=")
                        .toBytes())
                .containsOnly(0);
    }
}
