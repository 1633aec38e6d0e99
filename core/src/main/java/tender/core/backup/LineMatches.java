package tender.core.backup;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Which lines of two texts are the same ones: equal lines at the edges, then lines that stand once in each text and in the
 * same order, and the same again between those. Takes n log n time for n lines.
 */
final class LineMatches {
    private static final int NONE = -1;

    private final String[] one;
    private final String[] other;
    private final int[] partner;

    private LineMatches(List<String> one, List<String> other) {
        this.one = one.toArray(new String[0]);
        this.other = other.toArray(new String[0]);
        this.partner = new int[one.size()];
        Arrays.fill(partner, NONE);
    }

    /** For each line of {@code one} the index of its partner in {@code other}, rising, or -1. */
    static int[] of(List<String> one, List<String> other) {
        LineMatches matches = new LineMatches(one, other);
        List<int[]> open = new ArrayList<>(List.of(new int[] {0, one.size(), 0, other.size()}));
        while (!open.isEmpty()) {
            int[] part = open.remove(open.size() - 1);
            matches.match(part[0], part[1], part[2], part[3], open);
        }
        return matches.partner;
    }

    private void match(int from, int to, int otherFrom, int otherTo, List<int[]> open) {
        int a = from;
        int b = otherFrom;
        while (a < to && b < otherTo && one[a].equals(other[b])) {
            partner[a++] = b++;
        }
        int aEnd = to;
        int bEnd = otherTo;
        while (aEnd > a && bEnd > b && one[aEnd - 1].equals(other[bEnd - 1])) {
            partner[--aEnd] = --bEnd;
        }
        List<int[]> anchors = rising(unique(a, aEnd, b, bEnd));
        int lastA = a;
        int lastB = b;
        for (int[] anchor : anchors) {
            partner[anchor[0]] = anchor[1];
            add(open, lastA, anchor[0], lastB, anchor[1]);
            lastA = anchor[0] + 1;
            lastB = anchor[1] + 1;
        }
        if (!anchors.isEmpty()) {
            add(open, lastA, aEnd, lastB, bEnd);
        }
    }

    private static void add(List<int[]> open, int from, int to, int otherFrom, int otherTo) {
        if (from < to && otherFrom < otherTo) {
            open.add(new int[] {from, to, otherFrom, otherTo});
        }
    }

    /** Pairs of lines that stand once in each part, in the order of the first. */
    private List<int[]> unique(int from, int to, int otherFrom, int otherTo) {
        Map<String, int[]> seen = new HashMap<>();
        for (int i = from; i < to; i++) {
            int[] at = seen.computeIfAbsent(one[i], k -> new int[4]);
            at[0]++;
            at[1] = i;
        }
        for (int i = otherFrom; i < otherTo; i++) {
            int[] at = seen.get(other[i]);
            if (at != null) {
                at[2]++;
                at[3] = i;
            }
        }
        List<int[]> out = new ArrayList<>();
        for (int i = from; i < to; i++) {
            int[] at = seen.get(one[i]);
            if (at[0] == 1 && at[2] == 1) {
                out.add(new int[] {i, at[3]});
            }
        }
        return out;
    }

    /** The longest run of pairs in which both sides rise. */
    private static List<int[]> rising(List<int[]> pairs) {
        int[] tails = new int[pairs.size()];
        int[] before = new int[pairs.size()];
        int length = 0;
        for (int i = 0; i < pairs.size(); i++) {
            int low = 0;
            int high = length;
            while (low < high) {
                int middle = (low + high) / 2;
                if (pairs.get(tails[middle])[1] < pairs.get(i)[1]) {
                    low = middle + 1;
                } else {
                    high = middle;
                }
            }
            before[i] = low == 0 ? NONE : tails[low - 1];
            tails[low] = i;
            length = Math.max(length, low + 1);
        }
        List<int[]> out = new ArrayList<>();
        for (int i = length == 0 ? NONE : tails[length - 1]; i != NONE; i = before[i]) {
            out.add(0, pairs.get(i));
        }
        return out;
    }
}
