package tender.core.backup;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Takes a change of files back and nothing else: what somebody changed meanwhile in other files, or in other lines of the
 * same file, stays. Where a line was changed by both, what was there before the change comes back.
 */
public final class Undo {
    private Undo() {}

    /**
     * @param before the files before the change
     * @param after the files right after it
     * @param now the files as they are
     * @return the files to be written, by path; a missing value for a file that goes
     */
    public static Map<String, Optional<byte[]>> files(Snapshot before, Snapshot after, Snapshot now) {
        Map<String, Optional<byte[]>> out = new TreeMap<>();
        TreeSet<String> touched = new TreeSet<>(before.files().keySet());
        touched.addAll(after.files().keySet());
        for (String path : touched) {
            byte[] was = before.files().get(path);
            byte[] made = after.files().get(path);
            byte[] is = now.files().get(path);
            if (Arrays.equals(was, made) || Arrays.equals(was, is)) {
                continue;
            }
            if (was == null || made == null || is == null) {
                out.put(path, Optional.ofNullable(was));
            } else {
                byte[] content = lines(was, made, is);
                if (!Arrays.equals(content, is)) {
                    out.put(path, Optional.of(content));
                }
            }
        }
        return out;
    }

    /** The same for one text; one byte is one character, so that bytes nobody understands come back as they were. */
    static byte[] lines(byte[] before, byte[] after, byte[] now) {
        if (Arrays.equals(after, now)) {
            return before;
        }
        List<String> was = split(before);
        List<String> made = split(after);
        List<String> is = split(now);
        int[] toWas = LineMatches.of(made, was);
        int[] toIs = LineMatches.of(made, is);
        StringBuilder out = new StringBuilder();
        int m = 0;
        int w = 0;
        int i = 0;
        while (m <= made.size()) {
            int stable = m;
            while (stable < made.size() && (toWas[stable] < 0 || toIs[stable] < 0)) {
                stable++;
            }
            boolean end = stable == made.size();
            int wEnd = end ? was.size() : toWas[stable];
            int iEnd = end ? is.size() : toIs[stable];
            chosen(made.subList(m, stable), was.subList(w, wEnd), is.subList(i, iEnd))
                    .forEach(out::append);
            if (!end) {
                out.append(made.get(stable));
            }
            m = stable + 1;
            w = wEnd + 1;
            i = iEnd + 1;
        }
        return out.toString().getBytes(StandardCharsets.ISO_8859_1);
    }

    /** Of a part that differs everywhere: the change taken out of what is there, or what was there before. */
    private static List<String> chosen(List<String> made, List<String> was, List<String> is) {
        if (was.equals(made)) {
            return is;
        }
        if (!made.isEmpty() && starts(is, made)) {
            return joined(was, is.subList(made.size(), is.size()));
        }
        if (!made.isEmpty() && ends(is, made)) {
            return joined(is.subList(0, is.size() - made.size()), was);
        }
        boolean isBackAlready = !was.isEmpty() && (starts(is, was) || ends(is, was));
        return isBackAlready ? is : was;
    }

    private static boolean starts(List<String> lines, List<String> with) {
        return lines.size() >= with.size() && lines.subList(0, with.size()).equals(with);
    }

    private static boolean ends(List<String> lines, List<String> with) {
        int from = lines.size() - with.size();
        return from >= 0 && lines.subList(from, lines.size()).equals(with);
    }

    private static List<String> joined(List<String> one, List<String> other) {
        List<String> out = new ArrayList<>(one);
        out.addAll(other);
        return out;
    }

    /** Lines with their ends, so that joining them gives the text again. */
    private static List<String> split(byte[] content) {
        String text = new String(content, StandardCharsets.ISO_8859_1);
        List<String> out = new ArrayList<>();
        int from = 0;
        while (from < text.length()) {
            int end = text.indexOf('\n', from);
            int next = end < 0 ? text.length() : end + 1;
            out.add(text.substring(from, next));
            from = next;
        }
        return out;
    }
}
