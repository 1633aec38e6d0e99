package tender.api;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Looking into a file. */
public final class InspectApi {
    /**
     * A file to look into; nothing of it is kept.
     *
     * @param content in base64
     * @param passphrase for a key or key store that is locked
     */
    public record Look(String name, String content, Optional<String> passphrase) {}

    /** A label and what the file says of it. */
    public record Fact(String label, String value) {}

    /**
     * Something against the file.
     *
     * @param line 0 for the whole file
     */
    public record Note(String code, String severity, int line, String says, String detail, String remedy) {}

    public record Certificate(
            String name, String role, List<String> names, String issuer, Instant starts, Instant ends, String key) {}

    /** What a file is; {@code depth} is 0 for what was sent and rises within archives. */
    public record Inspection(
            String name,
            int depth,
            String kind,
            String title,
            List<Fact> facts,
            List<Certificate> certificates,
            List<Note> notes,
            List<String> problems) {}

    /** What was sent, and what is in it where it is an archive, in order. */
    public record Report(boolean asksPassphrase, List<Inspection> files) {
        /** The same in the form of the API. */
        public static Report of(tender.core.inspect.Inspection i) {
            List<Inspection> files = new ArrayList<>();
            flat(i, 0, files);
            return new Report(i.asksPassphrase(), List.copyOf(files));
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
                    i.notes().stream()
                            .map(n -> new Note(
                                    n.hint().code(),
                                    n.hint().severity().name().toLowerCase(Locale.ROOT),
                                    n.line(),
                                    n.hint().says(),
                                    n.detail(),
                                    n.hint().remedy()))
                            .toList(),
                    i.problems().stream().map(Object::toString).toList()));
            i.parts().forEach(p -> flat(p, depth + 1, out));
        }
    }

    private InspectApi() {}
}
