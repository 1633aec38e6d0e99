package tender.core.backup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.wire.MalformedException;

/** Which lines are the same ones, and the archives that snapshots are kept in. */
class LineMatchesTest {
    @ParameterizedTest
    @CsvSource({
        "'', '', ''",
        "a, '', -1",
        "'', a, ''",
        "a b c, a b c, 0 1 2",
        "a b c, a x c, 0 -1 2",
        "a b c, x a b c, 1 2 3",
        "a b c, a b c x, 0 1 2",
        "a b c, b c, -1 0 1",
        "a a a, a a, 0 1 -1",
        // once in each and in order, between edges that differ
        "x a b y, p a b q, -1 1 2 -1",
        "x a r b y, p a s b q, -1 1 -1 3 -1",
        // what stands once on both sides but crossed: the longest rising run wins
        "x a b c y, p c a b q, -1 2 3 -1 -1",
        "x c a b y, p a b c q, -1 -1 1 2 -1",
        "x a b c d y, p d c a b q, -1 3 4 -1 -1 -1",
        // twice on one side is no anchor, unless the parts between anchors make it one
        "x d a d y, p d b d q, -1 -1 -1 -1 -1",
        "x d a y, p a d d q, -1 -1 1 -1",
        "x d m d y, p d m d q, -1 1 2 3 -1",
        "x d m e y, p f m e q, -1 -1 2 3 -1",
        "x k m k y, p k z m q, -1 1 3 -1 -1"
    })
    void pairsAreTheSameAndRise(String one, String other, String partners) {
        assertThat(LineMatches.of(words(one), words(other)))
                .isEqualTo(words(partners).stream().mapToInt(Integer::parseInt).toArray());
    }

    private static List<String> words(String text) {
        return text.isEmpty() ? List.of() : List.of(text.split(" "));
    }

    /** Where every line stands once, the pairs are a longest common run: held against the textbook's table. */
    @Test
    void whereLinesStandOnceNoLongerRunExists() {
        Random random = new Random(9);
        for (int round = 0; round < 2_000; round++) {
            List<String> one = distinct(random, 1 + random.nextInt(12));
            List<String> other = distinct(random, 1 + random.nextInt(12));
            int[] partner = LineMatches.of(one, other);
            int pairs = 0;
            int last = -1;
            for (int i = 0; i < partner.length; i++) {
                if (partner[i] >= 0) {
                    assertThat(other.get(partner[i])).isEqualTo(one.get(i));
                    assertThat(partner[i]).isGreaterThan(last);
                    last = partner[i];
                    pairs++;
                }
            }
            assertThat(pairs).as(one + " and " + other).isEqualTo(longest(one, other));
        }
    }

    private static List<String> distinct(Random random, int most) {
        Set<String> seen = new HashSet<>();
        List<String> out = new ArrayList<>();
        for (int i = 0; i < most; i++) {
            String line = "l" + random.nextInt(14);
            if (seen.add(line)) {
                out.add(line);
            }
        }
        return out;
    }

    private static int longest(List<String> one, List<String> other) {
        int[][] best = new int[one.size() + 1][other.size() + 1];
        for (int i = 1; i <= one.size(); i++) {
            for (int k = 1; k <= other.size(); k++) {
                best[i][k] = one.get(i - 1).equals(other.get(k - 1))
                        ? best[i - 1][k - 1] + 1
                        : Math.max(best[i - 1][k], best[i][k - 1]);
            }
        }
        return best[one.size()][other.size()];
    }

    @Test
    void aSnapshotHasItsSizeAndItsArchiveAManifest() throws Exception {
        Snapshot snapshot = new Snapshot(new TreeMap<>(Map.of("a", new byte[3], "b/c", new byte[] {1, 2})));
        assertThat(snapshot.size()).isEqualTo(5);
        Map<String, String> entries = new TreeMap<>();
        try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(snapshot.toZip()))) {
            for (ZipEntry e = zip.getNextEntry(); e != null; e = zip.getNextEntry()) {
                assertThat(e.getTime()).as("no clock in it").isLessThan(400L * 24 * 3_600_000 * 30);
                entries.put(e.getName(), new String(zip.readAllBytes()));
            }
        }
        assertThat(entries).containsOnlyKeys("a", "b/c", "MANIFEST");
        assertThat(entries.get("MANIFEST").lines())
                .containsExactly(
                        "# sha-256, bytes, path",
                        "709e80c88487a2411e1ee4dfb9f22a861492d20c4765150c0c794abd70f8147c\t3\ta",
                        "a12871fee210fb8619291eaea194581cbd2531e4b23759d225f6806923f63222\t2\tb/c");
    }

    @Test
    void anArchiveOfTheGreatestSizeIsReadAndTheEntryThatIsTooMuchIsNamed() throws Exception {
        byte[] half = new byte[Snapshot.MAX_TOTAL_BYTES / 2];
        assertThat(Snapshot.ofZip(zip(half, half)).size()).isEqualTo(Snapshot.MAX_TOTAL_BYTES);
        assertThatThrownBy(() -> Snapshot.ofZip(zip(half, half, new byte[1])))
                .isInstanceOfSatisfying(
                        MalformedException.class, e -> assertThat(e.place()).isEqualTo("entry 3"));
    }

    private static byte[] zip(byte[]... contents) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            for (int i = 0; i < contents.length; i++) {
                zip.putNextEntry(new ZipEntry("f" + i));
                zip.write(contents[i]);
            }
        }
        return out.toByteArray();
    }
}
