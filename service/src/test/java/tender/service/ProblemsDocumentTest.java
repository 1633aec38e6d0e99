package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import tender.api.ProblemCode;

/** The table of problems in docs/api.md is that of the code. */
class ProblemsDocumentTest {
    private static final Path DOCUMENT = Path.of("../docs/api.md");

    private static String row(ProblemCode p) {
        return "| `" + p.word() + "` | " + p.status() + " | " + p.exitCode() + " | " + p.title() + ". " + p.remedy()
                + " |";
    }

    @Test
    void everyProblemIsDocumentedAsItIs() throws Exception {
        List<String> written = Files.readAllLines(DOCUMENT).stream()
                .filter(line -> line.matches("\\| `[a-z-]+` \\| [0-9]{3} \\|.*"))
                .toList();
        assertThat(written)
                .containsExactlyInAnyOrderElementsOf(Stream.of(ProblemCode.values())
                        .map(ProblemsDocumentTest::row)
                        .toList());
    }
}
