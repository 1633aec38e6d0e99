package tender.store.document;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.credential.RevealSecret;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;

/** What a row keeps is read by the release before, by this one and by the next, or refused in words. */
class DocumentTest {
    private record Note(String text, Optional<Integer> line) {}

    private record NoteOfNext(String text, Optional<Integer> line, List<String> tags) {}

    private record Heading(String title, Optional<Integer> line) {}

    private static final Document<Note> NOTE = Document.of("a note", new TypeReference<>() {});
    private static final Document<List<Note>> NOTES = Document.of("notes", new TypeReference<>() {});
    private static final Document<NoteOfNext> NEXT = Document.of("a note", new TypeReference<>() {});
    private static final Document<Heading> HEADING =
            Document.of("a note", 2, new TypeReference<>() {}, (from, value) -> {
                ObjectNode note = value.deepCopy();
                note.set("title", note.remove("text"));
                return note;
            });

    @Test
    void aValueComesBackAsItWas() {
        Note note = new Note("ü \u0000 \"quoted\"", Optional.of(3));

        assertThat(NOTE.read(NOTE.write(note))).isEqualTo(note);
        assertThat(NOTES.read(NOTES.write(List.of(note, note)))).containsExactly(note, note);
        assertThat(NOTE.write(note)).startsWith("{\"version\":1,\"value\":{");
    }

    @Test
    void aRowFromBeforeVersionsHoldsTheValueAlone() {
        assertThat(NOTE.read("{\"text\": \"old\", \"line\": 4}")).isEqualTo(new Note("old", Optional.of(4)));
        assertThat(NOTES.read("[{\"text\": \"old\", \"line\": null}]"))
                .containsExactly(new Note("old", Optional.empty()));
        assertThat(NOTES.read("[]")).isEmpty();
    }

    @Test
    void aFieldMoreOrLessIsReadByBothReleases() {
        NoteOfNext later = new NoteOfNext("new", Optional.of(1), List.of("a"));

        assertThat(NOTE.read(NEXT.write(later))).isEqualTo(new Note("new", Optional.of(1)));
        assertThat(NEXT.read("{\"version\": 1, \"value\": {\"text\": \"t\", \"unheard-of\": {\"deep\": [1]}}}")
                        .text())
                .isEqualTo("t");
    }

    @Test
    void anEarlierFormIsMadeTheOneOfNow() {
        Heading wanted = new Heading("old", Optional.of(4));

        assertThat(HEADING.read("{\"text\": \"old\", \"line\": 4}")).isEqualTo(wanted);
        assertThat(HEADING.read(NOTE.write(new Note("old", Optional.of(4))))).isEqualTo(wanted);
        assertThat(HEADING.read(HEADING.write(wanted))).isEqualTo(wanted);
    }

    @Test
    void aLaterFormIsRefusedRatherThanMisread() {
        assertThatThrownBy(() -> NOTE.read(HEADING.write(new Heading("t", Optional.empty()))))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("form 2")
                .hasMessageContaining("newer release");
        assertThatThrownBy(() -> NOTE.read("[1, 2"))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("a note");
    }

    private record Open(String name, Secret key) {}

    private record Shown(
            @Revealed Secret key,
            @Revealed Optional<Secret> other,
            @Revealed List<Secret> more) {}

    @Test
    void aSecretIsWrittenOnlyWhereItsComponentSaysSo() {
        Document<Open> open = Document.of("open", new TypeReference<>() {});
        Document<Shown> shown = Document.of("shown", new TypeReference<>() {});
        Secret secret = Secret.of("tide-table");

        assertThatThrownBy(() -> open.write(new Open("n", secret)))
                .isInstanceOf(UncheckedIOException.class)
                .hasMessageContaining("@Revealed")
                .hasMessageNotContaining("tide-table");
        Shown back = shown.read(shown.write(new Shown(secret, Optional.of(secret), List.of(secret))));
        assertThat(back.key().revealText(RevealSecret.TO_COMPARE)).isEqualTo("tide-table");
        assertThat(back.other().orElseThrow().revealText(RevealSecret.TO_COMPARE))
                .isEqualTo("tide-table");
        assertThat(back.more()).hasSize(1);
    }
}
