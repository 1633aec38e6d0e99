package tender.bench;

import static org.assertj.core.api.Assertions.assertThatCode;

import org.junit.jupiter.api.Test;

/** A short run of the packets' fuzzing; the long one is a program of its own. */
class PacketFuzzTest {
    @Test
    void mutatedPacketsNeverBreakWhoHearsThem() {
        assertThatCode(() -> PacketFuzz.run(60_000)).doesNotThrowAnyException();
    }
}
