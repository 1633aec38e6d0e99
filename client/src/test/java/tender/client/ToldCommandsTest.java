package tender.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import picocli.CommandLine;

/** Every command line that any text of Tender tells somebody to type is one that the client takes. */
class ToldCommandsTest {
    private static final Path ROOT = Path.of("..").toAbsolutePath().normalize();
    private static final CommandLine CLIENT = Main.line("completion");
    private static final Pattern LITERAL = Pattern.compile("\"((?:[^\"\\\\\\n]|\\\\.)*)\"(\\s*\\+\\s*[a-zA-Z(])?");
    private static final Pattern COMMAND = Pattern.compile("(?<![-A-Za-z./])tender ([a-z][a-z-]*(?: .*)?)");

    private static final Pattern WORD = Pattern.compile("\"([^\"]*)\"|'([^']*)'|(\\S+)");

    /**
     * A command as it is told; NAME stands where a value is put in.
     *
     * @param whole a line to be typed as it stands, and not one that a sentence names in passing
     */
    record Told(String place, List<String> words, boolean whole) {
        @Override
        public String toString() {
            return String.join(" ", words) + "   " + place;
        }
    }

    static List<Told> inSources() throws IOException {
        List<Told> out = new ArrayList<>();
        for (String module : List.of("core", "io", "service", "client")) {
            try (Stream<Path> all = Files.walk(ROOT.resolve(module + "/src/main/java"))) {
                for (Path file : all.filter(p -> p.toString().endsWith(".java")).toList()) {
                    Matcher literal = LITERAL.matcher(Files.readString(file));
                    while (literal.find()) {
                        boolean goesOn =
                                literal.group(2) != null && literal.group(1).endsWith(" ");
                        String text = literal.group(1).replace("\\\"", "\"");
                        told(file, text + (goesOn ? "NAME" : ""), text.startsWith("  tender "), out);
                    }
                }
            }
        }
        return out;
    }

    /** In fenced blocks and between backticks. */
    static List<Told> inDocuments() throws IOException {
        List<Told> out = new ArrayList<>();
        try (Stream<Path> all = Files.walk(ROOT.resolve("docs"))) {
            List<Path> files = new ArrayList<>(
                    all.filter(p -> p.toString().endsWith(".md")).toList());
            files.add(ROOT.resolve("README.md"));
            for (Path file : files) {
                boolean fenced = false;
                for (String line : Files.readAllLines(file)) {
                    if (line.startsWith("```")) {
                        fenced = !fenced;
                    } else if (fenced) {
                        told(file, line, true, out);
                    } else {
                        Matcher quoted = Pattern.compile("`([^`]+)`").matcher(line);
                        while (quoted.find()) {
                            told(file, quoted.group(1), false, out);
                        }
                    }
                }
            }
        }
        return out;
    }

    private static void told(Path file, String text, boolean whole, List<Told> out) {
        Matcher m = COMMAND.matcher(text.replaceAll("\\\\n.*", "").replaceFirst("\\s+(#|\\||&&|>|[0-9]?<|\\().*", ""));
        if (m.find() && CLIENT.getSubcommands().containsKey(m.group(1).split("[^a-z-]")[0])) {
            out.add(new Told(ROOT.relativize(file).toString(), whole ? typed(m.group(1)) : named(m.group(1)), whole));
        }
    }

    /** As a shell takes a line apart. */
    private static List<String> typed(String line) {
        List<String> out = new ArrayList<>();
        Matcher m = WORD.matcher(line);
        while (m.find()) {
            out.add(m.group(1) != null ? m.group(1) : m.group(2) != null ? m.group(2) : m.group(3));
        }
        return out;
    }

    /** Up to where the sentence goes on in plain words. */
    private static List<String> named(String text) {
        List<String> out = new ArrayList<>();
        CommandLine at = CLIENT;
        for (String raw : text.split(" +")) {
            String word = raw.replaceAll("[.,;:)]+$", "");
            if (at.getSubcommands().containsKey(word)) {
                at = at.getSubcommands().get(word);
            } else if (!word.matches("-.*|.*[A-Z0-9./:=@-].*")) {
                return out;
            }
            out.add(word);
            if (!word.equals(raw)) {
                return out;
            }
        }
        return out;
    }

    @ParameterizedTest
    @MethodSource({"inSources", "inDocuments"})
    void theClientTakesIt(Told told) {
        try {
            CLIENT.parseArgs(told.words().toArray(String[]::new));
        } catch (CommandLine.MissingParameterException e) {
            assertThat(told.whole()).as(e.getMessage()).isFalse(); // a sentence leaves the rest to the reader
        }
    }

    @Test
    void theySpreadOverTheWholeClient() throws IOException {
        Set<String> things = new LinkedHashSet<>();
        inSources().forEach(t -> things.add(t.words().get(0)));
        inDocuments().forEach(t -> things.add(t.words().get(0)));

        assertThat(things).hasSizeGreaterThan(20);
        assertThat(inSources()).hasSizeGreaterThan(80);
    }
}
