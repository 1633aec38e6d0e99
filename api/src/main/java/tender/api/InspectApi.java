package tender.api;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Looking into a file. */
public final class InspectApi {
    /** @param content in base64 */
    public record File(String name, String content) {}

    /**
     * Files to look into together, of which one may name another; nothing of them is kept.
     *
     * @param passphrase for keys and key stores that are locked
     */
    public record Look(List<File> files, Optional<String> passphrase) {}

    /** A label and what the file says of it. */
    public record Fact(String label, String value) {}

    /**
     * Something against the file.
     *
     * @param line 0 for the whole file
     */
    public record Note(String code, String severity, int line, String says, String detail, String remedy) {
        /** The same in the form of the API. */
        public static Note of(tender.core.inspect.Inspection.Note n) {
            return new Note(
                    n.hint().code(),
                    n.hint().severity().name().toLowerCase(Locale.ROOT),
                    n.line(),
                    n.hint().says(),
                    n.detail(),
                    n.hint().remedy());
        }
    }

    public record Certificate(
            String name,
            String role,
            List<String> names,
            String issuer,
            Instant validFrom,
            Instant validUntil,
            String key) {}

    /** What a file is; {@code depth} is 0 for what was sent and rises within archives. */
    public record Inspection(
            String name,
            int depth,
            String kind,
            String title,
            List<Fact> facts,
            List<Certificate> certificates,
            List<Note> notes) {}

    /**
     * What can be done with files.
     *
     * @param verdict {@code usable}, {@code usable-after}, {@code not-usable}, {@code dangerous} or {@code not-known}
     * @param words the same in a sentence
     */
    public record Verdict(String verdict, String words) {}

    /** What was sent, and what is in it where it is an archive, in order; the verdict is on all of it. */
    public record Report(boolean asksPassphrase, Verdict verdict, List<Inspection> files) {
        /** The same in the form of the API. */
        public static Report of(List<tender.core.inspect.Inspection> all) {
            List<Inspection> files = new ArrayList<>();
            all.forEach(i -> flat(i, 0, files));
            tender.core.inspect.Judgement judgement = tender.core.inspect.Judgement.of(all);
            return new Report(
                    all.stream().anyMatch(tender.core.inspect.Inspection::asksPassphrase),
                    new Verdict(judgement.verdict().word(), judgement.words()),
                    List.copyOf(files));
        }

        public static Report of(tender.core.inspect.Inspection one) {
            return of(List.of(one));
        }

        private static void flat(tender.core.inspect.Inspection i, int depth, List<Inspection> out) {
            out.add(new Inspection(
                    i.name(),
                    depth,
                    i.kind().word(),
                    i.kind().words(),
                    i.facts().stream().map(f -> new Fact(f.label(), f.value())).toList(),
                    i.certificates().stream()
                            .map(c -> new Certificate(
                                    c.anyName().orElse(""),
                                    c.role().words(),
                                    c.names(),
                                    c.issuer(),
                                    c.starts(),
                                    c.ends(),
                                    c.key().words()))
                            .toList(),
                    i.notes().stream().map(Note::of).toList()));
            i.parts().forEach(p -> flat(p, depth + 1, out));
        }
    }

    private InspectApi() {}
}
