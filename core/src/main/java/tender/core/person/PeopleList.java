package tender.core.person;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;

/**
 * Reads a list of people and devices: a header with {@code handle} and {@code name}, and any of {@code mail, team, device, kind,
 * system}, in any order; parted by commas, semicolons or tabs, quotes as RFC 4180. A directory's export (LDIF, RFC 2849) is read, too.
 */
public final class PeopleList {
    /** Kinds of devices. */
    public static final List<String> KINDS = List.of("laptop", "phone", "tablet", "travel-router", "server");

    private static final List<String> COLUMNS = List.of("handle", "name", "mail", "team", "device", "kind", "system");
    private static final String HEADER = String.join(",", COLUMNS);
    private static final int MAX_LINES = 10_000;

    /**
     * One line: a person, and a device where one is named; what the list does not say is empty.
     *
     * @param number of the line, from 1
     */
    public record Line(
            int number,
            String handle,
            String name,
            String mail,
            String team,
            String device,
            String kind,
            String system) {}

    private PeopleList() {}

    /** @throws MalformedException where a line is none, by its number */
    public static List<Line> read(String text) {
        String[] lines = text.split("\r?\n", -1);
        if (lines.length > MAX_LINES) {
            throw new MalformedException("too-many", "line " + MAX_LINES, "at most 10,000 lines at once");
        }
        return LdifPeople.looksLike(lines) ? LdifPeople.read(lines) : table(lines);
    }

    private static List<Line> table(String[] lines) {
        char separator = separator(lines[0]);
        List<String> header = fields(lines[0].strip(), separator).stream()
                .map(h -> h.toLowerCase(Locale.ROOT))
                .toList();
        Set<String> named = new HashSet<>(header);
        if (!named.contains("handle")
                || !named.contains("name")
                || !COLUMNS.containsAll(named)
                || named.size() < header.size()) {
            throw new MalformedException(
                    "csv", "line 1", "the header has handle and name, and any of the others of " + HEADER);
        }
        List<Line> out = new ArrayList<>();
        for (int i = 1; i < lines.length; i++) {
            if (!lines[i].isBlank()) {
                try {
                    out.add(line(i + 1, header, fields(lines[i], separator)));
                } catch (MalformedException e) {
                    throw e.at("line " + (i + 1));
                }
            }
        }
        return out;
    }

    private static char separator(String header) {
        for (char c : new char[] {'\t', ';'}) {
            if (header.indexOf(c) >= 0) {
                return c;
            }
        }
        return ',';
    }

    private static Line line(int number, List<String> header, List<String> f) {
        if (f.size() != header.size()) {
            throw new MalformedException(
                    "csv", "", header.size() + " fields are expected as in the header, there are " + f.size());
        }
        Map<String, String> values = new HashMap<>();
        for (int i = 0; i < f.size(); i++) {
            values.put(header.get(i), f.get(i));
        }
        return line(number, values);
    }

    /** One line of its values by column; those that are missing are empty. */
    static Line line(int number, Map<String, String> v) {
        String device = text(v, "device").isEmpty() ? "" : Fields.name("device", text(v, "device"));
        return new Line(
                number,
                Fields.name("handle", text(v, "handle")),
                Fields.title("name", text(v, "name")),
                text(v, "mail").isEmpty() ? "" : Fields.title("mail", text(v, "mail")),
                text(v, "team").isEmpty() ? "" : Fields.name("team", text(v, "team")),
                device,
                device.isEmpty() ? "" : kind(text(v, "kind"), device),
                text(v, "system").isEmpty() ? "" : Fields.title("system", text(v, "system")));
    }

    private static String text(Map<String, String> values, String column) {
        return values.getOrDefault(column, "").strip();
    }

    /** As it is said, else as the device's name says, which {@code laptop} and {@code phone} do. */
    private static String kind(String said, String device) {
        String text = said.isEmpty() && KINDS.contains(device) ? device : said;
        if (!KINDS.contains(text)) {
            throw new MalformedException("kind", "kind", "is one of " + String.join(", ", KINDS));
        }
        return text;
    }

    private static List<String> fields(String line, char separator) {
        List<String> out = new ArrayList<>();
        StringBuilder field = new StringBuilder();
        boolean quoted = false;
        for (int i = 0; i < line.length(); i++) {
            char c = line.charAt(i);
            if (quoted && c == '"' && i + 1 < line.length() && line.charAt(i + 1) == '"') {
                field.append('"');
                i++;
            } else if (c == '"') {
                quoted = !quoted;
            } else if (c == separator && !quoted) {
                out.add(field.toString().strip());
                field.setLength(0);
            } else {
                field.append(c);
            }
        }
        if (quoted) {
            throw new MalformedException("csv", "", "a quote is not closed");
        }
        out.add(field.toString().strip());
        return out;
    }
}
