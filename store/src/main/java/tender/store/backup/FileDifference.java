package tender.store.backup;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.List;
import tender.store.document.Document;

/** How a file of a backup differs from the one before; {@code kind} is {@code added}, {@code removed} or {@code changed}. */
public record FileDifference(String path, String kind, int linesAdded, int linesRemoved) {
    static final Document<List<FileDifference>> ALL = Document.of("differences of a backup", new TypeReference<>() {});
}
