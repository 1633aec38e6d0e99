package tender.service.profile;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Optional;
import java.util.TreeMap;
import tender.core.backup.Snapshot;
import tender.core.credential.Custody;
import tender.core.credential.RevealSecret;
import tender.core.inspect.Hint;
import tender.core.inspect.Inspection;
import tender.core.inspect.Inspector;
import tender.core.office.Protocol;
import tender.core.profile.IkeProfile;

/** A revision looked into, as one would look into the file that it is handed out as. */
public final class LookedInto {
    private LookedInto() {}

    public static Inspection of(ProfileFiles.Newest chosen, Instant now) {
        Inspection found = look(chosen, now);
        boolean keyOnDevice = chosen.profile().custody() == Custody.DEVICE_ONLY;
        return keyOnDevice ? found.without(Hint.KEY_MISSING) : found; // the device has the key that is missing here
    }

    private static Inspection look(ProfileFiles.Newest chosen, Instant now) {
        String name = chosen.revision().fileName();
        String text = chosen.content().revealText(RevealSecret.TO_WRITE_FILE);
        if (Sheets.protocol(chosen) != Protocol.IKEV2) {
            return Inspector.of(name, text.getBytes(StandardCharsets.UTF_8), now, Optional.empty());
        }
        TreeMap<String, byte[]> files = new TreeMap<>();
        IkeProfile.read(text)
                .files(name.replaceAll("\\.[a-z]+$", ""))
                .forEach((path, content) -> files.put(
                        path.startsWith("private/")
                                ? "key-" + path.substring(path.lastIndexOf('/') + 1)
                                : path.substring(path.lastIndexOf('/') + 1),
                        content.reveal(RevealSecret.TO_WRITE_FILE)));
        return Inspector.of(name, new Snapshot(files).toZip(), now, Optional.empty());
    }
}
