package tender.core.profile;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.profile.SectionFile.Include;
import tender.core.profile.SectionFile.Setting;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/** Reads the text of a {@link SectionFile} up to the place where strongSwan's parser gives up. */
final class SectionText {
    private static final int MAX_DEPTH = 64;
    private static final int MAX_SETTINGS = 50_000;
    private static final String NO_NAME = "#{}:.,=\"\n\t\r ";
    private static final String NO_OTHER = "#{}:,=\"\n\t\r ";
    private static final String NO_VALUE = "#}\"\n\t\r ";

    /**
     * A section as it is written.
     *
     * @param others from where it takes what it does not say, by their names with dots between
     */
    record Section(Map<String, Setting> values, Map<String, Section> sections, List<String> others) {
        Section() {
            this(new LinkedHashMap<>(), new LinkedHashMap<>(), new ArrayList<>());
        }

        /** The section of that name, with dots between. */
        Optional<Section> at(String name) {
            Section out = this;
            for (String part : name.split("\\.")) {
                out = out == null ? null : out.sections().get(part);
            }
            return Optional.ofNullable(out);
        }
    }

    private final String text;
    private final Section root = new Section();
    private final List<Setting> written = new ArrayList<>();
    private final List<Include> includes = new ArrayList<>();
    private final Deque<Section> open = new ArrayDeque<>();
    private final Deque<String> names = new ArrayDeque<>();
    private final Deque<Integer> began = new ArrayDeque<>();
    private ParseProblem problem;
    private int at;
    private int line = 1;

    private SectionText(String text) {
        this.text = text;
    }

    static SectionText of(String text) {
        SectionText out = new SectionText(text);
        out.open.addLast(out.root);
        try {
            if (text.indexOf('\0') >= 0) {
                throw out.wrong("setting", "a NUL, on which strongSwan crashes or loses the rest of a word");
            }
            out.statements();
        } catch (MalformedException e) {
            out.problem = new ParseProblem(out.line, e.code(), e.what());
        }
        return out;
    }

    Section root() {
        return root;
    }

    List<Setting> written() {
        return List.copyOf(written);
    }

    List<Include> includes() {
        return List.copyOf(includes);
    }

    Optional<ParseProblem> problem() {
        return Optional.ofNullable(problem);
    }

    private void statements() {
        for (skip(true); at < text.length(); skip(true)) {
            char c = text.charAt(at);
            if (c == '}') {
                if (open.size() == 1) {
                    throw wrong("section", "a section ends that none began");
                }
                open.removeLast();
                names.removeLast();
                began.removeLast();
                at++;
            } else if (isInclude()) {
                include();
            } else if (NO_NAME.indexOf(c) >= 0) {
                throw wrong("setting", "neither KEY = VALUE nor a section: " + c);
            } else {
                named(word(NO_NAME));
            }
            if (written.size() > MAX_SETTINGS) {
                throw wrong("setting", "more settings than are read: " + MAX_SETTINGS);
            }
        }
        if (open.size() > 1) {
            line = began.getLast();
            throw wrong("section", "the section that begins here has no end");
        }
    }

    private void named(String name) {
        skip(true);
        char c = at < text.length() ? text.charAt(at) : '\0';
        if (c == '=') {
            at++;
            setting(name);
        } else if (c == '{' || c == ':') {
            at++;
            begin(name, c == ':' ? others() : List.of());
        } else {
            throw wrong("setting", "no KEY = VALUE and no section");
        }
    }

    private List<String> others() {
        List<String> out = new ArrayList<>();
        do {
            skip(true);
            String other = word(NO_OTHER);
            if (other.isEmpty()) {
                throw wrong("section", "no name of a section after the colon");
            }
            out.add(other);
            skip(true);
        } while (take(','));
        if (!take('{')) {
            throw wrong("section", "no section after the names that it takes from");
        }
        return out;
    }

    private void begin(String name, List<String> others) {
        if (open.size() > MAX_DEPTH) {
            throw wrong("section", "sections are nested too deep");
        }
        Section section = open.getLast().sections().computeIfAbsent(name, n -> new Section());
        section.others().addAll(others);
        open.addLast(section);
        names.addLast(name);
        began.addLast(line);
    }

    /** Words and texts in quotes up to the end of the line or section, one space between. */
    private void setting(String key) {
        int first = line;
        List<String> words = new ArrayList<>();
        skip(false);
        int from = at;
        int to = at;
        while (at < text.length() && "#}\n".indexOf(text.charAt(at)) < 0) {
            words.add(text.charAt(at) == '"' ? quoted() : word(NO_VALUE));
            to = at;
            skip(false);
        }
        Setting setting =
                new Setting(List.copyOf(names), key, String.join(" ", words), first, from, words.isEmpty() ? -1 : to);
        open.getLast().values().put(key, setting);
        if (!words.isEmpty()) {
            written.add(setting);
        }
    }

    private String quoted() {
        StringBuilder out = new StringBuilder();
        at++;
        while (at < text.length()) {
            char c = next();
            if (c == '"') {
                return out.toString();
            } else if (c == '\\' && at < text.length()) {
                escape(out);
            } else if (c != '\r') {
                out.append(c);
            }
        }
        throw wrong("setting", "text in quotes has no end");
    }

    private void escape(StringBuilder out) {
        char c = next();
        switch (c) {
            case 'n' -> out.append('\n');
            case 'r' -> out.append('\r');
            case 't' -> out.append('\t');
            case '\n' -> {
                // the line goes on
            }
            case '\r' -> {
                if (!take('\n')) {
                    out.append('\r');
                }
            }
            default -> out.append(c);
        }
    }

    /** The word include, blanks, and anything but a {@code =}. */
    private boolean isInclude() {
        int end = at + "include".length();
        if (!text.startsWith("include", at)) {
            return false;
        }
        int after = end;
        while (after < text.length() && isBlank(text.charAt(after))) {
            after++;
        }
        boolean setting = after < text.length() && text.charAt(after) == '=' || after == text.length();
        return after - end > (setting ? 1 : 0);
    }

    private void include() {
        int began = line;
        at += "include".length();
        while (isBlank(text.charAt(at))) {
            at++;
        }
        StringBuilder pattern = new StringBuilder();
        while (at < text.length() && "#}\n\t ".indexOf(text.charAt(at)) < 0) {
            if (text.charAt(at) == '"') {
                pattern.append(quoted());
            } else {
                if (text.charAt(at) == '\\' && at + 1 < text.length() && "\"#} ".indexOf(text.charAt(at + 1)) >= 0) {
                    at++;
                }
                char c = next();
                pattern.append(c == '\r' ? "" : c);
            }
        }
        includes.add(new Include(pattern.toString(), began));
    }

    private String word(String end) {
        int from = at;
        while (at < text.length() && end.indexOf(text.charAt(at)) < 0) {
            at++;
        }
        return text.substring(from, at);
    }

    /** Passes blanks, and where told so comments and ends of lines too. */
    private void skip(boolean lines) {
        while (at < text.length()) {
            char c = text.charAt(at);
            if (isBlank(c) || c == '\r' || lines && c == '\n') {
                next();
            } else if (lines && c == '#') {
                while (at < text.length() && text.charAt(at) != '\n') {
                    at++;
                }
            } else {
                return;
            }
        }
    }

    private static boolean isBlank(char c) {
        return c == ' ' || c == '\t';
    }

    private boolean take(char c) {
        boolean there = at < text.length() && text.charAt(at) == c;
        if (there) {
            next();
        }
        return there;
    }

    private char next() {
        char c = text.charAt(at++);
        if (c == '\n') {
            line++;
        }
        return c;
    }

    private MalformedException wrong(String code, String what) {
        return new MalformedException(code, "line " + line, what);
    }
}
