package tender.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Words of our own that gave way to the trade's stand nowhere any more, so that nobody has to learn them. */
class WordsTest {
    private static final Path ROOT = Path.of("..").toAbsolutePath().normalize();
    private static final Pattern TEXTS = Pattern.compile(".*\\.(java|md|svelte|ts|txt|tsv|yaml|toml|html)");

    /** What was written or fetched by programs, and migrations, which are history. */
    private static final Set<String> LEFT_OUT =
            Set.of("target", "node_modules", ".git", ".build", ".data", "dist", "shipped", "migration");

    /** Where a word has to stand: this list, the upgrade from before, and the decision that tells of it. */
    private static final Set<String> ALLOWED =
            Set.of("WordsTest.java", "RenamesUpgradeTest.java", "0034-the-trades-words.md");

    private static final Map<String, String> GONE = Map.ofEntries(
            Map.entry("(?i)(?<![a-z])doors?(?![a-z])|[a-z]Doors?(?![a-z])", "port"),
            Map.entry("(?i)(?<![a-z])knock(s|ed|ing)?(?![a-z])", "probe, connection"),
            Map.entry("(?i)(?<![a-z])mend(s|ed|ing)?(?![a-z])", "fix, repair"),
            Map.entry("(?i)(?<![a-z])adopt(s|ed|ing|ion)?(?![a-z])", "import"),
            Map.entry("(?i)(?<![a-z])ways? back(?![a-z])|[^e]way-back(?!up)|[^e]wayBack(?!up)", "rollback"),
            Map.entry("(?i)tak(e|es|en|ing) (client files|an authority|authorities) in|take-in(?![a-z])", "import"),
            Map.entry("(?i)(?<![a-z])tak(e|es|en|ing)[- ]up(?![a-z])|takeUp", "reload, apply"),
            Map.entry("(?i)bridge interface|bridge/v1", "gateway API"),
            Map.entry("(?i)(?<![a-z])issue-many|round (set|list|drop|history)", "profile issue --team, monitor"),
            Map.entry("(?i)severity: (breaks|risks)|\\*(breaks|risks)\\*:", "error, warning, notice"),
            Map.entry("(?i)(?<![a-z-])box(es)?(?![a-z-])(?! model)", "device"),
            Map.entry("(?i)(?<!font-)variants?(?![a-z])", "grant"),
            Map.entry("(?i)wrapping", "control-channel key"),
            Map.entry("[a-z]Holdings?(?![a-z])|(?<![A-Za-z])holdings(?![a-z])", "issued profile"),
            Map.entry("(?i)lists? of the revoked", "revocation list"),
            Map.entry(
                    "(?i)add-beside|issued-to-many|counts (on|until)(?![a-z])|counts-on",
                    "add-listener, minimum-release"));

    static List<String> words() {
        return List.copyOf(GONE.keySet());
    }

    private static List<Path> texts() throws IOException {
        List<Path> out = new ArrayList<>();
        Files.walkFileTree(ROOT, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult preVisitDirectory(Path folder, BasicFileAttributes attributes) {
                return LEFT_OUT.contains(folder.getFileName().toString())
                        ? FileVisitResult.SKIP_SUBTREE
                        : FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) {
                String name = file.getFileName().toString();
                boolean script =
                        file.getParent().endsWith("demo") || file.getParent().equals(ROOT);
                if (attributes.isRegularFile()
                        && !ALLOWED.contains(name)
                        && (script || TEXTS.matcher(name).matches())) {
                    out.add(file);
                }
                return FileVisitResult.CONTINUE;
            }
        });
        return out;
    }

    @ParameterizedTest
    @MethodSource("words")
    void standsNowhere(String gone) throws IOException {
        Pattern word = Pattern.compile(gone);
        List<String> found = new ArrayList<>();
        for (Path file : texts()) {
            List<String> lines = Files.readString(file, java.nio.charset.StandardCharsets.ISO_8859_1)
                    .lines()
                    .toList();
            for (int i = 0; i < lines.size(); i++) {
                if (word.matcher(lines.get(i)).find()) {
                    found.add(ROOT.relativize(file) + ":" + (i + 1) + ": "
                            + lines.get(i).strip());
                }
            }
        }
        assertThat(found).as("say " + GONE.get(gone)).isEmpty();
    }
}
