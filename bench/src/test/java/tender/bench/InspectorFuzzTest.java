package tender.bench;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** A short run of the inspector's fuzzing; the long one is a program of its own. */
class InspectorFuzzTest {
    @Test
    void mutatedFilesNeverBreakTheInspector() throws Exception {
        InspectorFuzz.Worst worst = InspectorFuzz.run(
                Path.of(System.getProperty("tender.root")).resolve("core/src/test/resources/corpus"),
                15_000,
                20_261_123L);

        System.out.println(
                "fuzzing: at worst " + worst.nanos() / 1_000_000 + " ms and " + worst.bytes() / 1024 + " KiB");
        assertThat(worst.inputs()).isEqualTo(15_000);
    }
}
