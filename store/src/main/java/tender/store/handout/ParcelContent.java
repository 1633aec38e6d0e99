package tender.store.handout;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.List;
import java.util.Optional;
import tender.core.credential.Revealed;
import tender.core.credential.Secret;
import tender.store.document.Document;

/**
 * What waits in a sealed parcel for whoever has link and passphrase.
 *
 * @param qr an SVG where the client of that kind takes one
 * @param parts files that belong to the first
 */
public record ParcelContent(
        String title,
        String fileName,
        @Revealed Secret file,
        @Revealed Optional<Secret> qr,
        List<Part> parts,
        List<String> steps) {
    /** A file beside the first, in base64; its name may be a path under the folder it is put in. */
    public record Part(String name, @Revealed Secret content) {}

    /** Sealed before a row keeps it. */
    public static final Document<ParcelContent> DOCUMENT = Document.of("a parcel", new TypeReference<>() {});
}
