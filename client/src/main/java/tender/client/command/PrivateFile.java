package tender.client.command;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermissions;

/** Files that nobody else on this machine reads: mode 0600, written whole or not at all. */
public final class PrivateFile {
    /** What an unfinished one is called at its end. */
    public static final String UNFINISHED = ".tender-new";

    private PrivateFile() {}

    /** Where this client keeps what it knows: the folder TENDER_CONFIG, else {@code tender} under the user's configuration. */
    public static Path folder() {
        String folder = System.getenv("TENDER_CONFIG");
        if (folder != null && !folder.isEmpty()) {
            return Path.of(folder);
        }
        String base = System.getenv("XDG_CONFIG_HOME");
        return (base == null || base.isEmpty() ? Path.of(System.getProperty("user.home"), ".config") : Path.of(base))
                .resolve("tender");
    }

    /**
     * Writes a file beside the old one and puts it in its place: whoever reads, and whoever comes after a power cut, finds the old one or
     * the new one.
     *
     * @throws UncheckedIOException where it cannot be written; the old one stays
     */
    public static void write(Path target, byte[] content) {
        Path folder = target.toAbsolutePath().getParent();
        Path fresh = folder.resolve(target.getFileName() + UNFINISHED);
        try {
            Files.createDirectories(folder);
            Files.deleteIfExists(fresh);
            Files.createFile(fresh, owners(folder));
            try (FileChannel out = FileChannel.open(fresh, StandardOpenOption.WRITE)) {
                ByteBuffer bytes = ByteBuffer.wrap(content);
                while (bytes.hasRemaining()) {
                    out.write(bytes);
                }
                out.force(true);
            }
            Files.move(fresh, target, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        } catch (IOException e) {
            throw new UncheckedIOException(target + " cannot be written: " + e.getMessage(), e);
        }
    }

    /** Systems without POSIX modes keep a user's folders to the user. */
    private static FileAttribute<?>[] owners(Path folder) {
        return folder.getFileSystem().supportedFileAttributeViews().contains("posix")
                ? new FileAttribute<?>[] {
                    PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"))
                }
                : new FileAttribute<?>[0];
    }
}
