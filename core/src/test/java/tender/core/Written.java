package tender.core;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * What is said in each of many cases, kept as text under {@code src/test/resources} so that a reader can judge it; {@code
 * -Dwrite.words=true} writes it anew, to be read before it is committed.
 */
public final class Written {
    private final Path file;
    private final Map<String, String> expected = new LinkedHashMap<>();

    private Written(Path file) {
        this.file = file;
    }

    public static Written in(String name) {
        Written out = new Written(Path.of("src/test/resources", name));
        try {
            if (Files.exists(out.file)) {
                for (String part : Files.readString(out.file).split("(?m)^== ")) {
                    int line = part.indexOf('\n');
                    if (line > 0) {
                        out.expected.put(
                                part.substring(0, line),
                                part.substring(line + 1).strip());
                    }
                }
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out;
    }

    /** One case. */
    public void holds(String name, String told) {
        assertThat(told.strip()).as(name).isEqualTo(expected.get(name));
    }

    /** All cases in their order: none is missing, none is left over. */
    public void holdsExactly(Map<String, String> told) {
        if (Boolean.getBoolean("write.words")) {
            StringBuilder out = new StringBuilder();
            told.forEach((name, text) -> out.append("== ")
                    .append(name)
                    .append('\n')
                    .append(text.strip())
                    .append("\n\n"));
            try {
                Files.createDirectories(file.getParent());
                Files.writeString(file, out.toString().stripTrailing() + "\n");
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
            return;
        }
        assertThat(expected.keySet()).containsExactlyElementsOf(told.keySet());
    }
}
