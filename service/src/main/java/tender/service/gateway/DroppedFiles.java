package tender.service.gateway;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.Map;

/** Keeps files that were dropped by hand, laid out as on the device, readable by the service alone. */
final class DroppedFiles {
    private DroppedFiles() {}

    /**
     * @param files texts by absolute path on the device, checked already
     * @param taken when they were copied there
     */
    static void put(Path root, Map<String, String> files, Instant taken) {
        try {
            Files.createDirectories(
                    root, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
            for (Map.Entry<String, String> file : files.entrySet()) {
                Path target = root.resolve(file.getKey().substring(1)).normalize();
                if (!target.startsWith(root)) {
                    throw new IllegalStateException("a path left its folder though it was checked");
                }
                Files.createDirectories(target.getParent());
                Path fresh = Files.createTempFile(target.getParent(), ".drop", null);
                Files.write(fresh, file.getValue().getBytes(StandardCharsets.UTF_8));
                Files.move(fresh, target, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
            }
            Files.setLastModifiedTime(root, FileTime.from(taken));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
