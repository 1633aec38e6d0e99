package tender.core.profile;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import tender.core.wire.Problem;

/**
 * A file of nested sections {@code name { key = value … }} as strongSwan's swanctl.conf documents it: comments after
 * {@code #}, values in quotes where they need them. Every line is kept.
 */
public final class SectionFile {
    private static final int MAX_LINES = 50_000;
    private static final int MAX_DEPTH = 16;

    /** A setting with the names of the sections around it, outermost first; {@code include} is told as a setting. */
    public record Setting(List<String> path, String key, String value, int line) {
        /** Whether it stands in these sections; {@code *} stands for any. */
        public boolean isIn(String... sections) {
            if (path.size() != sections.length) {
                return false;
            }
            for (int i = 0; i < sections.length; i++) {
                if (!sections[i].equals("*") && !sections[i].equals(path.get(i))) {
                    return false;
                }
            }
            return true;
        }
    }

    private final List<String> lines;
    private final List<Setting> settings;
    private final List<Problem> problems;

    private SectionFile(List<String> lines, List<Setting> settings, List<Problem> problems) {
        this.lines = lines;
        this.settings = List.copyOf(settings);
        this.problems = List.copyOf(problems);
    }

    public static SectionFile read(String text) {
        List<String> lines = List.of(text.split("\n", -1));
        List<Setting> settings = new ArrayList<>();
        List<Problem> problems = new ArrayList<>();
        Deque<String> open = new ArrayDeque<>();
        Deque<Integer> opened = new ArrayDeque<>();
        for (int i = 0; i < Math.min(lines.size(), MAX_LINES); i++) {
            String line = bare(lines.get(i));
            // a section may open and close on one line
            for (String piece : pieces(line)) {
                if (piece.endsWith("{")) {
                    String name = piece.substring(0, piece.length() - 1).strip();
                    if (open.size() == MAX_DEPTH) {
                        problems.add(new Problem(i + 1, "section", "sections are nested too deep"));
                        return new SectionFile(lines, settings, problems);
                    }
                    open.addLast(name);
                    opened.addLast(i + 1);
                } else if (piece.equals("}")) {
                    if (open.isEmpty()) {
                        problems.add(new Problem(i + 1, "section", "a section ends that none began"));
                    } else {
                        open.removeLast();
                        opened.removeLast();
                    }
                } else {
                    setting(piece, List.copyOf(open), i + 1, settings, problems);
                }
            }
        }
        opened.forEach(line -> problems.add(new Problem(line, "section", "the section that begins here has no end")));
        return new SectionFile(lines, settings, problems);
    }

    /** The line without its comment; a # in quotes is none. */
    private static String bare(String line) {
        boolean quoted = false;
        for (int i = 0; i < line.length(); i++) {
            char c = line.charAt(i);
            if (c == '"') {
                quoted = !quoted;
            } else if (c == '#' && !quoted) {
                return line.substring(0, i).strip();
            }
        }
        return line.strip();
    }

    private static List<String> pieces(String line) {
        List<String> out = new ArrayList<>();
        StringBuilder piece = new StringBuilder();
        boolean quoted = false;
        for (char c : line.toCharArray()) {
            quoted ^= c == '"';
            if (!quoted && (c == '{' || c == '}')) {
                if (c == '{') {
                    out.add(piece.append('{').toString().strip());
                } else {
                    add(out, piece);
                    out.add("}");
                }
                piece = new StringBuilder();
            } else {
                piece.append(c);
            }
        }
        add(out, piece);
        return out;
    }

    private static void add(List<String> out, StringBuilder piece) {
        String text = piece.toString().strip();
        if (!text.isEmpty()) {
            out.add(text);
        }
    }

    private static void setting(
            String piece, List<String> path, int line, List<Setting> settings, List<Problem> problems) {
        int equals = piece.indexOf('=');
        if (piece.startsWith("include ")) {
            settings.add(new Setting(path, "include", piece.substring(8).strip(), line));
        } else if (equals < 1) {
            problems.add(new Problem(line, "setting", "no KEY = VALUE and no section"));
        } else {
            String value = piece.substring(equals + 1).strip();
            boolean quoted = value.length() >= 2 && value.startsWith("\"") && value.endsWith("\"");
            settings.add(new Setting(
                    path,
                    piece.substring(0, equals).strip(),
                    quoted ? value.substring(1, value.length() - 1) : value,
                    line));
        }
    }

    public List<Setting> settings() {
        return settings;
    }

    public List<Problem> problems() {
        return problems;
    }

    public Optional<Setting> first(String key, String... sections) {
        return settings.stream()
                .filter(s -> s.key().equals(key) && s.isIn(sections))
                .findFirst();
    }

    /** The file with a setting's value replaced on its line; the rest stays. */
    public SectionFile with(Setting setting, String value) {
        List<String> out = new ArrayList<>(lines);
        String line = out.get(setting.line() - 1);
        int equals = line.indexOf('=', line.indexOf(setting.key()));
        out.set(setting.line() - 1, line.substring(0, equals + 1) + " " + quoted(value));
        return read(String.join("\n", out));
    }

    static String quoted(String value) {
        return value.matches("[A-Za-z0-9._:@/,*+!-]+") ? value : '"' + value.replace("\"", "\\\"") + '"';
    }

    public String text() {
        return String.join("\n", lines);
    }
}
