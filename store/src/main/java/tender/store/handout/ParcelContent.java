package tender.store.handout;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;
import tender.store.document.Document;

/**
 * What waits in a sealed parcel for whoever has link and passphrase.
 *
 * @param qr an SVG where the client of that kind takes one
 * @param parts files that belong to the first
 * @param language of title, steps and sheets; of a parcel of before, which had one, it is English
 * @param chosen whether the person is set to that language, so that no other is offered
 * @param translations the same in other languages, by their ISO 639 codes
 */
public record ParcelContent(
        String title,
        String fileName,
        @Revealed Secret file,
        @Revealed Optional<Secret> qr,
        List<Part> parts,
        List<String> steps,
        Optional<String> language,
        boolean chosen,
        Map<String, Translation> translations) {
    public ParcelContent {
        translations = translations == null ? Map.of() : Map.copyOf(translations);
    }

    /** What differs in another language; its files stand in place of those of the same name. */
    public record Translation(String title, List<String> steps, List<Part> files) {}

    /** All of it in one of its languages, as whoever collects gets it. */
    public ParcelContent in(String wanted) {
        Translation t = chosen ? null : translations.get(wanted);
        if (t == null) {
            return this;
        }
        Map<String, Secret> files = new HashMap<>();
        t.files().forEach(part -> files.put(part.name(), part.content()));
        return new ParcelContent(
                t.title(),
                fileName,
                files.getOrDefault(fileName, file),
                qr,
                parts.stream()
                        .map(part -> new Part(part.name(), files.getOrDefault(part.name(), part.content())))
                        .toList(),
                t.steps(),
                Optional.of(wanted),
                false,
                Map.of());
    }

    /** A file beside the first, in base64; its name may be a path under the folder it is put in. */
    public record Part(String name, @Revealed Secret content) {}

    /** Sealed before a row keeps it. */
    public static final Document<ParcelContent> DOCUMENT = Document.of("a parcel", new TypeReference<>() {});
}
