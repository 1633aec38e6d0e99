package tender.core.person;

import java.util.ArrayList;
import java.util.List;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;

/** Reads a list of people and devices: {@code handle,name,mail,team,device,kind,system}, a header first, quotes as RFC 4180. */
public final class PeopleList {
    /** Kinds of devices. */
    public static final List<String> KINDS = List.of("laptop", "phone", "tablet", "travel-router", "server");

    private static final String HEADER = "handle,name,mail,team,device,kind,system";
    private static final int MAX_LINES = 10_000;

    /** One line: a person, and a device where one is named. */
    public record Line(
            String handle, String name, String mail, String team, String device, String kind, String system) {}

    private PeopleList() {}

    /** @throws MalformedException where a line is none, by its number */
    public static List<Line> read(String csv) {
        String[] lines = csv.split("\r?\n", -1);
        if (!lines[0].strip().equalsIgnoreCase(HEADER)) {
            throw new MalformedException("csv", "line 1", "the header is " + HEADER);
        }
        if (lines.length > MAX_LINES) {
            throw new MalformedException("too-many", "line " + MAX_LINES, "at most 10,000 lines at once");
        }
        List<Line> out = new ArrayList<>();
        for (int i = 1; i < lines.length; i++) {
            if (!lines[i].isBlank()) {
                try {
                    out.add(line(fields(lines[i])));
                } catch (MalformedException e) {
                    throw e.at("line " + (i + 1));
                }
            }
        }
        return out;
    }

    private static Line line(List<String> f) {
        if (f.size() != 7) {
            throw new MalformedException("csv", "", "seven fields are expected, there are " + f.size());
        }
        String device = f.get(4).isBlank() ? "" : Fields.name("device", f.get(4));
        String kind = device.isEmpty() ? "" : kind(f.get(5));
        return new Line(
                Fields.name("handle", f.get(0)),
                Fields.title("name", f.get(1)),
                f.get(2).isBlank() ? "" : Fields.title("mail", f.get(2)),
                f.get(3).isBlank() ? "" : Fields.name("team", f.get(3)),
                device,
                kind,
                f.get(6).isBlank() ? "" : Fields.title("system", f.get(6)));
    }

    private static String kind(String text) {
        if (!KINDS.contains(text)) {
            throw new MalformedException("kind", "kind", "is one of " + String.join(", ", KINDS));
        }
        return text;
    }

    private static List<String> fields(String line) {
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
            } else if (c == ',' && !quoted) {
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
