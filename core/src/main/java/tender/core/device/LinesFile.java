package tender.core.device;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.wire.MalformedException;

/** A file with a record a line, in order; comments, blanks and lines of other kinds stay where they are. */
final class LinesFile {
    private static final int MAX_LINES = 20_000;

    /** A record: its kind, its line's index and its values. */
    record Entry(String kind, int index, Map<String, String> values) {}

    private final Map<String, LineTemplate> templates;
    private final List<String> lines;

    private LinesFile(Map<String, LineTemplate> templates, List<String> lines) {
        this.templates = templates;
        this.lines = lines;
    }

    static LinesFile parse(Map<String, LineTemplate> templates, String text) {
        List<String> lines = List.of(text.split("\n", -1));
        if (lines.size() > MAX_LINES) {
            throw new MalformedException("too-many", "line " + (MAX_LINES + 1), "more lines than are read");
        }
        return new LinesFile(templates, lines);
    }

    List<Entry> entries() {
        List<Entry> out = new ArrayList<>();
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i);
            if (line.isBlank() || line.strip().startsWith("#")) {
                continue;
            }
            for (Map.Entry<String, LineTemplate> template : templates.entrySet()) {
                Optional<Map<String, String>> values = template.getValue().match(line);
                if (values.isPresent()) {
                    out.add(new Entry(template.getKey(), i, values.get()));
                    break;
                }
            }
        }
        return out;
    }

    List<Entry> entries(String kind) {
        return entries().stream().filter(e -> e.kind().equals(kind)).toList();
    }

    /** All records of a kind replaced by these; those that stay the same keep their very lines. */
    LinesFile withRecords(String kind, List<Map<String, String>> records) {
        LineTemplate template = templates.get(kind);
        List<Entry> old = entries(kind);
        List<String> kept = new ArrayList<>();
        for (Map<String, String> record : records) {
            kept.add(old.stream()
                    .filter(e -> e.values().equals(record))
                    .map(e -> lines.get(e.index()))
                    .findFirst()
                    .orElseGet(() -> template.print(record)));
        }
        Set<Integer> places = old.stream().map(Entry::index).collect(Collectors.toSet());
        List<String> out = new ArrayList<>();
        int next = 0;
        int seen = 0;
        for (int i = 0; i < lines.size(); i++) {
            if (!places.contains(i)) {
                out.add(lines.get(i));
                continue;
            }
            seen++;
            if (seen == old.size()) { // the last old record's place takes all that remain
                while (next < kept.size()) {
                    out.add(kept.get(next++));
                }
            } else if (next < kept.size()) {
                out.add(kept.get(next++));
            }
        }
        if (next < kept.size()) {
            int end = !out.isEmpty() && out.get(out.size() - 1).isEmpty() ? out.size() - 1 : out.size();
            out.addAll(end, kept.subList(next, kept.size()));
        }
        return new LinesFile(templates, out);
    }

    String text() {
        return String.join("\n", lines);
    }
}
