package tender.core.backup;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;

/** What differs between two snapshots, file by file, by count of lines; line contents may be secret and are not kept. */
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
            if (java.util.Arrays.equals(before, after)) {
                continue;
            }
            Map<String, Integer> counts = new HashMap<>();
            count(counts, after, 1);
            count(counts, before, -1);
            int added =
                    counts.values().stream().filter(n -> n > 0).mapToInt(n -> n).sum();
            int removed = -counts.values().stream()
                    .filter(n -> n < 0)
                    .mapToInt(n -> n)
                    .sum();
            Kind kind = before == null ? Kind.ADDED : after == null ? Kind.REMOVED : Kind.CHANGED;
            out.add(new Difference(path, kind, added, removed));
        }
        return out;
    }

    private static void count(Map<String, Integer> counts, byte[] content, int step) {
        if (content != null) {
            new String(content, StandardCharsets.ISO_8859_1)
                    .lines()
                    .forEach(line -> counts.merge(line, step, Integer::sum));
        }
    }
}
