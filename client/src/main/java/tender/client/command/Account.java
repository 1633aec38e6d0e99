package tender.client.command;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Optional;
import tender.api.ProblemCode;

/** Where the service is and the token to call it with: a file of mode 0600 in the folder TENDER_CONFIG. */
public record Account(String service, String token) {
    private static Path file() {
        String folder = System.getenv("TENDER_CONFIG");
        String base = System.getenv("XDG_CONFIG_HOME");
        Path home =
                base == null || base.isEmpty() ? Path.of(System.getProperty("user.home"), ".config") : Path.of(base);
        return (folder == null || folder.isEmpty() ? home.resolve("tender") : Path.of(folder)).resolve("account");
    }

    public static Optional<Account> load() {
        try {
            List<String> lines = Files.readAllLines(file());
            return lines.size() < 2 ? Optional.empty() : Optional.of(new Account(lines.get(0), lines.get(1)));
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    public static Account require() {
        return load().orElseThrow(() -> CallFailure.of(ProblemCode.NOT_SIGNED_IN, "this client is not signed in"));
    }

    public void save() {
        try {
            Path target = file();
            Files.createDirectories(target.toAbsolutePath().getParent());
            Path fresh = Files.createTempFile(
                    target.toAbsolutePath().getParent(),
                    "account",
                    ".new",
                    PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
            Files.writeString(fresh, service + "\n" + token + "\n");
            Files.move(fresh, target, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    public static void forget() {
        try {
            Files.deleteIfExists(file());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public String toString() {
        return "account at " + service;
    }
}
