package tender.core.backup;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.TreeSet;

/**
 * What differs between two snapshots, file by file, by count of lines; line contents may be secret and are not kept. A line
 * that moved is removed here and added there: the order of a filter's rules counts.
 */
public final class Comparison {
    /** How a file fared. */
    public enum Kind {
        ADDED,
        REMOVED,
        CHANGED
    }

    /** One differing file. */
    public record Difference(String path, Kind kind, int linesAdded, int linesRemoved) {}

    private Comparison() {}

    public static List<Difference> between(Snapshot earlier, Snapshot later) {
        TreeSet<String> paths = new TreeSet<>(earlier.files().keySet());
        paths.addAll(later.files().keySet());
        List<Difference> out = new ArrayList<>();
        for (String path : paths) {
            byte[] before = earlier.files().get(path);
            byte[] after = later.files().get(path);
            if (Arrays.equals(before, after)) {
                continue;
            }
            List<String> was = lines(before);
            List<String> is = lines(after);
            int same = (int) Arrays.stream(LineMatches.of(was, is))
                    .filter(partner -> partner >= 0)
                    .count();
            Kind kind = before == null ? Kind.ADDED : after == null ? Kind.REMOVED : Kind.CHANGED;
            out.add(new Difference(path, kind, is.size() - same, was.size() - same));
        }
        return out;
    }

    private static List<String> lines(byte[] content) {
        return content == null
                ? List.of()
                : new String(content, StandardCharsets.ISO_8859_1).lines().toList();
    }
}
