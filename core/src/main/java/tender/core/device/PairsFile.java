package tender.core.device;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tender.core.wire.MalformedException;

/** A file of {@code key = value} lines; comments, blanks and keys it does not know stay as they are. */
public final class PairsFile {
    private static final int MAX_LINES = 5_000;
    private static final int MAX_LINE = 1_000;

    private final List<String> lines;

    private PairsFile(List<String> lines) {
        this.lines = lines;
    }

    /**
     * @throws MalformedException at a line that is neither KEY = VALUE, empty nor a comment
     */
    public static PairsFile parse(String text) {
        List<String> lines = List.of(text.split("\n", -1));
        if (lines.size() > MAX_LINES) {
            throw new MalformedException("too-many", "line " + (MAX_LINES + 1), "more lines than settings can have");
        }
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i).strip();
            boolean pair = line.indexOf('=') > 0;
            if (!line.isEmpty() && !line.startsWith("#") && (!pair || line.length() > MAX_LINE)) {
                throw new MalformedException("settings", "line " + (i + 1), "not a short KEY = VALUE");
            }
        }
        return new PairsFile(lines);
    }

    /** Values by key, quotes around a value taken off; the last of a key counts. */
    public Map<String, String> values() {
        Map<String, String> out = new LinkedHashMap<>();
        for (String line : lines) {
            String stripped = line.strip();
            if (!stripped.isEmpty() && !stripped.startsWith("#")) {
                int equals = stripped.indexOf('=');
                out.put(
                        stripped.substring(0, equals).strip(),
                        unquoted(stripped.substring(equals + 1).strip()));
            }
        }
        return out;
    }

    private static String unquoted(String value) {
        boolean quoted = value.length() >= 2 && value.startsWith("\"") && value.endsWith("\"");
        return quoted ? value.substring(1, value.length() - 1) : value;
    }

    /** The key set to a value where it stands, else added at the end. */
    public PairsFile with(String key, String value) {
        List<String> out = new ArrayList<>(lines);
        for (int i = out.size() - 1; i >= 0; i--) {
            if (isOf(out.get(i), key)) {
                out.set(i, key + " = " + value);
                return new PairsFile(out);
            }
        }
        int end = out.get(out.size() - 1).isEmpty() ? out.size() - 1 : out.size();
        out.add(end, key + " = " + value);
        return new PairsFile(out);
    }

    /** Without the lines of a key. */
    public PairsFile without(String key) {
        return new PairsFile(lines.stream().filter(l -> !isOf(l, key)).toList());
    }

    private static boolean isOf(String text, String key) {
        String line = text.strip();
        int equals = line.indexOf('=');
        return !line.startsWith("#")
                && equals > 0
                && line.substring(0, equals).strip().equals(key);
    }

    public String text() {
        return String.join("\n", lines);
    }
}
