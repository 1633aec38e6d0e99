package tender.core.person;

import java.text.Normalizer;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;

/**
 * Reads a list of people and devices: a header with {@code name}, and any of {@code handle, mail, team, device, kind, system} or of
 * the words that spreadsheets use for them, in any order; parted by commas, semicolons or tabs, quotes as RFC 4180. Without a header
 * the columns are name, mail, team and device. A directory's export (LDIF, RFC 2849) is read, too.
 */
public final class PeopleList {
    /** Kinds of devices. */
    public static final List<String> KINDS = List.of("laptop", "phone", "tablet", "travel-router", "server");

    private static final List<String> COLUMNS = List.of("handle", "name", "mail", "team", "device", "kind", "system");
    private static final String HEADER = String.join(",", COLUMNS);
    private static final int MAX_LINES = 10_000;
    /** Other words for columns, in small letters. */
    private static final Map<String, String> WORDS = Map.ofEntries(
            Map.entry("user", "handle"),
            Map.entry("user name", "handle"),
            Map.entry("username", "handle"),
            Map.entry("login", "handle"),
            Map.entry("account", "handle"),
            Map.entry("full name", "name"),
            Map.entry("display name", "name"),
            Map.entry("e-mail", "mail"),
            Map.entry("email", "mail"),
            Map.entry("mail address", "mail"),
            Map.entry("e-mail address", "mail"),
            Map.entry("email address", "mail"),
            Map.entry("department", "team"),
            Map.entry("group", "team"),
            Map.entry("type", "kind"),
            Map.entry("os", "system"),
            Map.entry("operating system", "system"));

    private static final List<String> WITHOUT_HEADER = List.of("name", "mail", "team", "device");

    /**
     * One line: a person, and a device where one is named; what the list does not say is empty.
     *
     * @param number of the line, from 1
     * @param handle as it is said, else made of mail or name
     * @param said whether the handle is said
     */
    public record Line(
            int number,
            String handle,
            boolean said,
            String name,
            String mail,
            String team,
            String device,
            String kind,
            String system) {
        /** The same with the handle of somebody who is in the records. */
        public Line of(String known) {
            return new Line(number, known, true, name, mail, team, device, kind, system);
        }
    }

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
        List<String> first = fields(lines[0].strip(), separator);
        List<String> named = first.stream()
                .map(h -> h.toLowerCase(Locale.ROOT))
                .map(h -> WORDS.getOrDefault(h, h))
                .toList();
        boolean hasHeader = named.stream().anyMatch(COLUMNS::contains);
        List<String> header = hasHeader ? header(named) : withoutHeader(first);
        List<Line> out = new ArrayList<>();
        for (int i = hasHeader ? 1 : 0; i < lines.length; i++) {
            if (!lines[i].isBlank()) {
                try {
                    out.add(line(i + 1, header, fields(lines[i], separator)));
                } catch (MalformedException e) {
                    throw e.at("line " + (i + 1));
                }
            }
        }
        refuseMadeTwice(out);
        return out;
    }

    /** Two people whose handles would be made alike are not one: their handles have to be said. */
    private static void refuseMadeTwice(List<Line> lines) {
        Map<String, Line> first = new HashMap<>();
        for (Line l : lines) {
            Line other = first.putIfAbsent(l.handle(), l);
            if (other != null && !(l.said() && other.said()) && !l.name().equalsIgnoreCase(other.name())) {
                throw new MalformedException(
                        "handle",
                        "line " + l.number(),
                        l.name() + " and " + other.name() + " in line " + other.number() + " would both be "
                                + l.handle() + "; give them a column handle");
            }
        }
    }

    private static List<String> header(List<String> named) {
        if (!named.contains("name")) {
            throw new MalformedException("csv", "line 1", "the header has name, and any of " + HEADER);
        }
        named.stream().filter(h -> !COLUMNS.contains(h)).findFirst().ifPresent(unknown -> {
            throw new MalformedException(
                    "csv",
                    "line 1",
                    "there is no column " + unknown + "; leave it out; the header has any of " + HEADER);
        });
        if (new HashSet<>(named).size() < named.size()) {
            throw new MalformedException("csv", "line 1", "a column stands there twice");
        }
        return named;
    }

    /** Names, and what usually follows them. */
    private static List<String> withoutHeader(List<String> first) {
        if (first.size() > WITHOUT_HEADER.size()
                || first.size() > 1 && !first.get(1).isEmpty() && !first.get(1).contains("@")) {
            throw new MalformedException(
                    "csv",
                    "line 1",
                    "without a header the columns are name, mail, team and device; a header has any of " + HEADER);
        }
        return WITHOUT_HEADER.subList(0, first.size());
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
        boolean said = !text(v, "handle").isEmpty();
        String device = text(v, "device").isEmpty() ? "" : Fields.name("device", text(v, "device"));
        return new Line(
                number,
                Fields.name("handle", said ? text(v, "handle") : made(v)),
                said,
                Fields.title("name", text(v, "name")),
                text(v, "mail").isEmpty() ? "" : Fields.title("mail", text(v, "mail")),
                text(v, "team").isEmpty() ? "" : Fields.name("team", handle(text(v, "team"))),
                device,
                device.isEmpty() ? "" : kind(text(v, "kind"), device),
                text(v, "system").isEmpty() ? "" : Fields.title("system", text(v, "system")));
    }

    /** Of the part of the mail address before the @, else of the name: Ana Torres is ana.torres. */
    private static String made(Map<String, String> v) {
        return handle(text(v, "mail").isEmpty() ? text(v, "name").replaceAll("\\s+", ".") : text(v, "mail"));
    }

    /** As a name here may be: {@code Ticket Desk} is {@code ticket-desk}, Søren is soren. */
    static String handle(String text) {
        return Normalizer.normalize(text.replaceFirst("@.*", ""), Normalizer.Form.NFKD)
                .toLowerCase(Locale.ROOT)
                .replace("ø", "o")
                .replace("æ", "ae")
                .replace("ß", "ss")
                .replace("ł", "l")
                .replaceAll("\\p{M}+", "")
                .replaceAll("[^a-z0-9.]+", "-")
                .replaceAll("^[-.]+|[-.]+$", "");
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
