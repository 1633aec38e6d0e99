package tender.core.backup;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

class UndoTest {
    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.ISO_8859_1);
    }

    private static String undone(String before, String after, String now) {
        return new String(Undo.lines(bytes(before), bytes(after), bytes(now)), StandardCharsets.ISO_8859_1);
    }

    @Test
    void whatWasAddedMeanwhileStaysAndWhatWasTakenOutMeanwhileStaysOut() {
        String before = "[Interface]\nListenPort = 51820\n\n[Peer]\nPublicKey = A\n\n[Peer]\nPublicKey = B\n";
        String after = before.replace("51820", "51999");
        String now = "[Interface]\nListenPort = 51999\n\n[Peer]\nPublicKey = B\n\n[Peer]\nPublicKey = C\n";

        assertThat(undone(before, after, now)).isEqualTo(now.replace("51999", "51820"));
    }

    @Test
    void aFileThatTheChangeDidNotTouchIsLeftAlone() {
        Snapshot before = files("a", "1\n", "list", "one\n");
        Snapshot after = files("a", "2\n", "list", "one\n");
        Snapshot now = files("a", "2\n", "list", "one\ntwo\n");

        Map<String, Optional<byte[]>> out = Undo.files(before, after, now);

        assertThat(out).containsOnlyKeys("a");
        assertThat(out.get("a")).hasValueSatisfying(c -> assertThat(c).isEqualTo(bytes("1\n")));
    }

    @Test
    void aFileThatTheChangeMadeGoesAndOneThatItTookOutComesBack() {
        Map<String, Optional<byte[]>> out =
                Undo.files(files("gone", "x\n"), files("made", "y\n"), files("made", "y\n"));

        assertThat(out.get("made")).isEmpty();
        assertThat(out.get("gone")).isPresent();
    }

    @Test
    void whatHasComeBackAlreadyIsNotWrittenAgain() {
        assertThat(Undo.files(files("a", "1\n"), files("a", "2\n"), files("a", "1\n")))
                .isEmpty();
        assertThat(undone("x\ny\n", "x\nz\n", "x\ny\nmore\n")).isEqualTo("x\ny\nmore\n");
    }

    @Test
    void aLineThatTheChangeAddedGoesThoughSomebodyAddedOneRightBehindIt() {
        assertThat(undone("a\n", "a\nrule\n", "a\nrule\ntheirs\n")).isEqualTo("a\ntheirs\n");
        assertThat(undone("b\n", "rule\nb\n", "theirs\nrule\nb\n")).isEqualTo("theirs\nb\n");
    }

    @Test
    void aLineThatBothChangedIsAsItWasBefore() {
        assertThat(undone("a\nport 1\nb\n", "a\nport 2\nb\n", "a\nport 3\nb\n")).isEqualTo("a\nport 1\nb\n");
    }

    /** Whatever others change in lines far from the change is the same as if the change had never been. */
    @Test
    void undoingEqualsNeverHavingChanged() {
        Random random = new Random(20261128);
        for (int round = 0; round < 2_000; round++) {
            List<String> base = new ArrayList<>();
            int size = 6 + random.nextInt(40);
            for (int i = 0; i < size; i++) {
                base.add(random.nextInt(4) == 0 ? "\n" : "line " + random.nextInt(30) + "/" + i + "\n");
            }
            int changed = random.nextInt(size);
            List<String> after = new ArrayList<>(base);
            after.set(changed, "changed " + round + "\n");
            List<String> without = new ArrayList<>(base);
            List<String> with = new ArrayList<>(after);
            int at = random.nextInt(size);
            if (Math.abs(at - changed) < 3 || base.get(at).isBlank()) {
                continue;
            }
            if (random.nextBoolean() || changed > size - 4) {
                without.set(at, "theirs\n");
                with.set(at, "theirs\n");
            } else {
                without.add("appended\n");
                with.add("appended\n");
            }
            assertThat(undone(String.join("", base), String.join("", after), String.join("", with)))
                    .as("round " + round)
                    .isEqualTo(String.join("", without));
        }
    }

    private static Snapshot files(String... pairs) {
        TreeMap<String, byte[]> out = new TreeMap<>();
        for (int i = 0; i < pairs.length; i += 2) {
            out.put(pairs[i], bytes(pairs[i + 1]));
        }
        return new Snapshot(out);
    }
}
