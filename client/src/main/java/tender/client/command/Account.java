package tender.client.command;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import tender.api.ProblemCode;

/** Where the service is and the token to call it with: a file of mode 0600 in the folder TENDER_CONFIG. */
public record Account(String service, String token) {
    private static Path file() {
        return PrivateFile.folder().resolve("account");
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
        PrivateFile.write(file(), (service + "\n" + token + "\n").getBytes(StandardCharsets.UTF_8));
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
