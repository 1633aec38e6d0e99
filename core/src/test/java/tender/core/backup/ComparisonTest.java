package tender.core.backup;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import org.junit.jupiter.api.Test;
import tender.core.backup.Comparison.Difference;
import tender.core.backup.Comparison.Kind;

class ComparisonTest {
    private static Snapshot snapshot(String path, List<String> lines) {
        return new Snapshot(new TreeMap<>(Map.of(path, String.join("\n", lines).getBytes(StandardCharsets.UTF_8))));
    }

    private static List<Difference> between(List<String> before, List<String> after) {
        return Comparison.between(snapshot("rules", before), snapshot("rules", after));
    }

    @Test
    void aRuleThatMovedIsAChange() {
        List<String> before = List.of("allow 10.20.4.0/24", "deny any", "allow 10.20.5.0/24");
        List<String> after = List.of("deny any", "allow 10.20.4.0/24", "allow 10.20.5.0/24");

        assertThat(between(before, after)).containsExactly(new Difference("rules", Kind.CHANGED, 1, 1));
    }

    @Test
    void filesComeAndGoWhole() {
        Snapshot one = snapshot("a", List.of("x", "y"));
        Snapshot other = snapshot("b", List.of("x", "y", "z"));

        assertThat(Comparison.between(one, other))
                .containsExactly(new Difference("a", Kind.REMOVED, 0, 2), new Difference("b", Kind.ADDED, 3, 0));
        assertThat(Comparison.between(one, one)).isEmpty();
    }

    /** Held against the longest common run of lines, which the difference can at best leave alone. */
    @RepeatedTest(60)
    void neitherMoreIsSaidToStayThanCanNorDoesTheCountGoWrong(RepetitionInfo run) {
        Random random = new Random(run.getCurrentRepetition());
        List<String> before = IntStream.range(0, 1 + random.nextInt(30))
                .mapToObj(i -> "line " + random.nextInt(12))
                .toList();
        List<String> after = new ArrayList<>(before);
        for (int i = random.nextInt(5); i >= 0; i--) {
            switch (random.nextInt(3)) {
                case 0 -> after.add(random.nextInt(after.size() + 1), "line " + random.nextInt(12));
                case 1 -> {
                    if (after.size() > 1) {
                        after.remove(random.nextInt(after.size()));
                    }
                }
                default -> Collections.swap(after, random.nextInt(after.size()), random.nextInt(after.size()));
            }
        }

        List<Difference> found = between(before, after);

        if (after.equals(before)) {
            assertThat(found).isEmpty();
        } else {
            Difference d = found.get(0);
            int common = longestCommon(before, after);
            assertThat(before.size() - d.linesRemoved()).isEqualTo(after.size() - d.linesAdded());
            assertThat(before.size() - d.linesRemoved()).isBetween(0, common);
            assertThat(d.linesAdded() + d.linesRemoved()).isPositive();
        }
    }

    private static int longestCommon(List<String> one, List<String> other) {
        int[][] best = new int[one.size() + 1][other.size() + 1];
        for (int i = one.size() - 1; i >= 0; i--) {
            for (int j = other.size() - 1; j >= 0; j--) {
                best[i][j] = one.get(i).equals(other.get(j))
                        ? best[i + 1][j + 1] + 1
                        : Math.max(best[i + 1][j], best[i][j + 1]);
            }
        }
        return best[0][0];
    }

    @Test
    void aLargeFileTurnedAroundIsComparedSoon() {
        List<String> before =
                IntStream.range(0, 100_000).mapToObj(i -> "rule " + i).toList();
        List<String> after = new ArrayList<>(before);
        Collections.reverse(after);

        long began = System.nanoTime();
        List<Difference> found = between(before, after);

        assertThat(found.get(0).linesAdded()).isEqualTo(99_999);
        assertThat(Duration.ofNanos(System.nanoTime() - began)).isLessThan(Duration.ofSeconds(5));
    }
}
