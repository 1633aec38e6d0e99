package tender.core.wireguard;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.HexFormat;
import org.junit.jupiter.api.Test;

/** Time stamps that stop a recorded call from being played again. */
class Tai64nTest {
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");

    @Test
    void onlyALaterStampIsLater() {
        byte[] now = Tai64n.of(NOW);
        assertThat(Tai64n.isAfter(now, now)).as("the very same is a replay").isFalse();
        assertThat(Tai64n.isAfter(Tai64n.of(NOW.plusNanos(1)), now)).isTrue();
        assertThat(Tai64n.isAfter(now, Tai64n.of(NOW.plusNanos(1)))).isFalse();
        assertThat(Tai64n.isAfter(Tai64n.of(NOW.plusSeconds(1)), now)).isTrue();
    }

    @Test
    void theEpochIsTaiOf1970() {
        assertThat(HexFormat.of().formatHex(Tai64n.of(Instant.EPOCH))).isEqualTo("400000000000000a00000000");
    }
}
