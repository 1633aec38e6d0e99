package tender.core.profile;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/**
 * A file of nested sections {@code name { key = value … }}, read as strongSwan 5.9 reads it: what comes last counts, sections of
 * one name are one, a section may take what it does not say itself from others ({@code name : other { … }}), and text in quotes
 * has escapes and may go over lines. The text itself is kept.
 */
public final class SectionFile {
    /** A setting with the names of the sections around it, outermost first, and where its value stands in the text. */
    public record Setting(List<String> path, String key, String value, int line, int from, int to) {
        /** The parts of its value, where that is a list. */
        public List<String> items() {
            return SectionFile.items(value);
        }

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

    /** The parts of a list, as swanctl cuts it: by commas, without the blanks around, and without empty ones. */
    public static List<String> items(String value) {
        return Arrays.stream(value.split(","))
                .map(i -> i.replaceAll("^ +| +$", ""))
                .filter(i -> !i.isEmpty())
                .toList();
    }

    /** Another file that is read at this place. */
    public record Include(String pattern, int line) {}

    private static final int MOST_SETTINGS = 20_000;

    private final String text;
    private final SectionText read;
    private final List<Setting> settings;
    private final Set<List<String>> sections = new LinkedHashSet<>();

    private SectionFile(String text) {
        this.text = text;
        this.read = SectionText.of(text);
        Map<List<String>, Setting> counting = new LinkedHashMap<>();
        collect(read.root(), List.of(), counting, new ArrayList<>());
        this.settings = counting.values().stream().filter(s -> s.to() >= 0).toList();
    }

    public static SectionFile read(String text) {
        return new SectionFile(text);
    }

    /** What a section says itself, and then what it takes from others, each where nothing is said before. */
    private void collect(
            SectionText.Section section,
            List<String> path,
            Map<List<String>, Setting> counting,
            List<SectionText.Section> within) {
        if (within.contains(section) || counting.size() > MOST_SETTINGS) {
            return; // it takes from itself, or sections multiply
        }
        sections.add(path);
        within.add(section);
        for (Setting s : section.values().values()) {
            counting.putIfAbsent(
                    with(path, s.key()), new Setting(path, s.key(), s.value(), s.line(), s.from(), s.to()));
        }
        section.sections().forEach((name, inner) -> collect(inner, with(path, name), counting, within));
        for (String other : section.others()) {
            read.root().at(other).ifPresent(o -> collect(o, path, counting, within));
        }
        within.remove(within.size() - 1);
    }

    private static List<String> with(List<String> path, String name) {
        List<String> out = new ArrayList<>(path);
        out.add(name);
        return List.copyOf(out);
    }

    /** The settings that count. */
    public List<Setting> settings() {
        return settings;
    }

    /** Every setting that is written, also where another counts instead. */
    public List<Setting> written() {
        return read.written();
    }

    /** The sections there are in their order, each with the names of those around it. */
    public Set<List<String>> sections() {
        return Collections.unmodifiableSet(sections);
    }

    public List<Include> includes() {
        return read.includes();
    }

    /** What keeps strongSwan from reading the file at all. */
    public List<ParseProblem> problems() {
        return read.problem().stream().toList();
    }

    public Optional<Setting> first(String key, String... sections) {
        return settings.stream()
                .filter(s -> s.key().equals(key) && s.isIn(sections))
                .findFirst();
    }

    /** The file with a setting's value replaced where it stands; the rest stays. */
    public SectionFile with(Setting setting, String value) {
        return read(text.substring(0, setting.from()) + quoted(value) + text.substring(setting.to()));
    }

    /** A value as it is written: in quotes where it needs them. */
    static String quoted(String value) {
        if (value.indexOf('\0') >= 0) {
            throw new MalformedException("value", "", "a setting cannot hold a NUL");
        }
        return value.matches("[A-Za-z0-9._:@/,*+!%-]+")
                ? value
                : '"'
                        + value.replace("\\", "\\\\")
                                .replace("\"", "\\\"")
                                .replace("\n", "\\n")
                                .replace("\r", "\\r")
                                .replace("\t", "\\t")
                        + '"';
    }

    public String text() {
        return text;
    }
}
