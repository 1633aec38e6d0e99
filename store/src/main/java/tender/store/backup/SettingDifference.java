package tender.store.backup;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.List;
import tender.store.document.Document;

/** A setting of the gateway that differs from the backup before; empty text for what is not there. */
public record SettingDifference(String field, String was, String is) {
    static final Document<List<SettingDifference>> ALL =
            Document.of("settings that differ in a backup", new TypeReference<>() {});
}
