package tender.core.profile;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/**
 * An OpenVPN configuration file, as its project documents it: one directive a line with words parted by blanks, quotes
 * and backslashes as in its manual's section on the configuration file, comments after {@code #} or {@code ;}, and inline
 * blocks {@code <name> … </name>}. Every line is kept; a change touches the lines it means and no other.
 */
public final class OpenVpnFile {
    private static final int MAX_LINES = 20_000;
    private static final int MAX_LINE = 4_096;
    private static final Pattern OPENS = Pattern.compile("<[^<>]{1,40}>");

    /**
     * A directive, its words and the lines it stands on, counted from 1.
     *
     * @param block what stands between {@code <name>} and {@code </name>} where it is written inline
     */
    public record Directive(String name, List<String> words, int line, int lastLine, Optional<String> block) {
        public Optional<String> word(int index) {
            return index < words.size() ? Optional.of(words.get(index)) : Optional.empty();
        }
    }

    /** What was read, and what is wrong with lines that could not be. */
    public record Reading(OpenVpnFile file, List<ParseProblem> problems) {}

    private final List<String> lines;
    private final List<Directive> directives;

    private OpenVpnFile(List<String> lines, List<Directive> directives) {
        this.lines = lines;
        this.directives = directives;
    }

    public static Reading read(String text) {
        List<String> lines = List.of(text.split("\n", -1));
        if (lines.size() > MAX_LINES) {
            throw new MalformedException("too-many", "line " + (MAX_LINES + 1), "more lines than are read");
        }
        List<Directive> directives = new ArrayList<>();
        List<ParseProblem> problems = new ArrayList<>();
        String block = null;
        int opened = 0;
        for (int i = 0; i < lines.size(); i++) {
            String line = read(lines.get(i), i == 0);
            if (block != null) {
                if (line.strip().startsWith("</" + block + ">")) {
                    String content = String.join("\n", lines.subList(opened, i));
                    directives.add(new Directive(block, List.of("[inline]"), opened, i + 1, Optional.of(content)));
                    block = null;
                }
                continue;
            }
            if (line.getBytes(StandardCharsets.UTF_8).length >= OpenVpnWords.MOST_BYTES - 1) {
                // its program ends there; what it says is looked at all the same
                problems.add(
                        new ParseProblem(i + 1, "line", "longer than " + (OpenVpnWords.MOST_BYTES - 2) + " bytes"));
            }
            try {
                List<String> words = words(line);
                if (words.size() == 1 && OPENS.matcher(words.get(0)).matches()) {
                    block = words.get(0).substring(1, words.get(0).length() - 1);
                    opened = i + 1;
                } else if (!words.isEmpty()) {
                    directives.add(new Directive(
                            words.get(0), List.copyOf(words.subList(1, words.size())), i + 1, i + 1, Optional.empty()));
                }
            } catch (MalformedException e) {
                problems.add(new ParseProblem(i + 1, e.code(), e.what()));
            }
        }
        if (block != null) {
            problems.add(new ParseProblem(opened, "block", "the block <" + block + "> is not closed"));
        }
        return new Reading(new OpenVpnFile(lines, List.copyOf(directives)), List.copyOf(problems));
    }

    /** As the program reads it: without the mark of UTF-8 before the first line, and nothing behind a NUL. */
    private static String read(String line, boolean first) {
        String shown = first && line.startsWith("\ufeff") ? line.substring(1) : line;
        int nul = shown.indexOf(0);
        return nul >= 0 ? shown.substring(0, nul) : shown;
    }

    private static List<String> words(String line) {
        if (line.length() > MAX_LINE) {
            throw new MalformedException("line", "", "longer than " + MAX_LINE + " characters");
        }
        List<String> out = new ArrayList<>(OpenVpnWords.of(line));
        if (!out.isEmpty() && out.get(0).length() > 2 && out.get(0).startsWith("--")) {
            out.set(0, out.get(0).substring(2));
        }
        // a directive that may be unknown to the program counts like any other where it is known
        boolean optional =
                out.size() > 2 && out.get(0).equals("setenv") && out.get(1).equals("opt");
        return optional ? out.subList(2, out.size()) : out;
    }

    public List<Directive> directives() {
        return directives;
    }

    public List<Directive> all(String name) {
        return directives.stream().filter(d -> d.name().equals(name)).toList();
    }

    /** The last directive of a name, which is the one that counts where a directive may stand once. */
    public Optional<Directive> last(String name) {
        List<Directive> all = all(name);
        return all.isEmpty() ? Optional.empty() : Optional.of(all.get(all.size() - 1));
    }

    /** Name and password that stand in the file itself, as much as there is of them, a line each. */
    public List<String> login() {
        return last("auth-user-pass")
                .flatMap(Directive::block)
                .map(block -> block.lines()
                        .map(String::strip)
                        .dropWhile(String::isEmpty)
                        .limit(2)
                        .filter(l -> !l.isEmpty())
                        .toList())
                .orElse(List.of());
    }

    public boolean has(String name) {
        return last(name).isPresent();
    }

    /** The directive with these words where it stands last, else at the end; other lines stay. */
    public OpenVpnFile with(String name, String... words) {
        StringBuilder line = new StringBuilder(name);
        for (String word : words) {
            line.append(' ').append(quoted(word));
        }
        return put(last(name), List.of(line.toString()));
    }

    /** The directive written inline where it stands last, else at the end. */
    public OpenVpnFile withBlock(String name, String content) {
        List<String> fresh = new ArrayList<>(List.of("<" + name + ">"));
        fresh.addAll(content.strip().lines().toList());
        fresh.add("</" + name + ">");
        return put(last(name), fresh);
    }

    /** Without the directives that fit, and with lines where the first of them stood, else at the end. */
    public OpenVpnFile replacing(java.util.function.Predicate<Directive> fits, List<String> fresh) {
        String end = lines.get(0).endsWith("\r") ? "\r" : "";
        List<String> out = new ArrayList<>(lines);
        int at = out.get(out.size() - 1).isEmpty() ? out.size() - 1 : out.size();
        for (int i = directives.size() - 1; i >= 0; i--) {
            if (fits.test(directives.get(i))) {
                at = directives.get(i).line() - 1;
                out.subList(at, directives.get(i).lastLine()).clear();
            }
        }
        out.addAll(at, fresh.stream().map(l -> l + end).toList());
        return read(String.join("\n", out)).file();
    }

    private OpenVpnFile put(Optional<Directive> there, List<String> fresh) {
        String end = lines.get(0).endsWith("\r") ? "\r" : "";
        List<String> ended = fresh.stream().map(l -> l + end).toList();
        List<String> out = new ArrayList<>(lines);
        int at = out.get(out.size() - 1).isEmpty() ? out.size() - 1 : out.size();
        if (there.isPresent()) {
            at = there.get().line() - 1;
            out.subList(at, there.get().lastLine()).clear();
        }
        out.addAll(at, ended);
        return read(String.join("\n", out)).file();
    }

    /** Without the directives that fit. */
    public OpenVpnFile without(java.util.function.Predicate<Directive> fits) {
        List<String> out = new ArrayList<>(lines);
        for (int i = directives.size() - 1; i >= 0; i--) {
            if (fits.test(directives.get(i))) {
                out.subList(directives.get(i).line() - 1, directives.get(i).lastLine())
                        .clear();
            }
        }
        return read(String.join("\n", out)).file();
    }

    private static String quoted(String word) {
        if (word.chars().anyMatch(Character::isISOControl)) {
            throw new MalformedException("word", "", "control characters cannot stand in a file");
        }
        return word.matches("[A-Za-z0-9_./:@%+=,-]+")
                ? word
                : '"' + word.replace("\\", "\\\\").replace("\"", "\\\"") + '"';
    }

    public String text() {
        return String.join("\n", lines);
    }
}
