package tender.client.gateway;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import picocli.CommandLine.Option;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.core.credential.Secret;

/** What Tender signs in with at a gateway, and how it gets there. Secrets come from files, never from the command line. */
final class SignInOptions {
    @Option(names = "--address", description = "Name or address for managing it.")
    Optional<String> address;

    @Option(names = "--port", description = "Port to manage it at. Default for a new gateway: 22")
    Optional<Integer> port;

    @Option(names = "--user", description = "The user to sign in as. Default for https: api")
    Optional<String> user;

    @Option(names = "--key-file", description = "File with the private SSH key, or with the token of a gateway API.")
    Optional<Path> keyFile;

    @Option(
            names = "--key-passphrase-file",
            description = "File with the passphrase of the SSH key. Tender keeps the key without it, encrypted.")
    Optional<Path> passphraseFile;

    @Option(names = "--password-file", description = "File with the SSH password, in place of a key.")
    Optional<Path> passwordFile;

    @Option(
            names = "--jump",
            paramLabel = "GATEWAY",
            description = "Reach it through this gateway, which is managed over SSH.")
    Optional<String> jump;

    @Option(
            names = "--identity",
            paramLabel = "FINGERPRINT",
            description = "Fingerprint of one of its host keys, read on the device; accepted if the device has it.")
    Optional<String> identity;

    Optional<Secret> key() {
        return keyFile.map(f -> Secret.of(text(f)));
    }

    Optional<Secret> passphrase() {
        return passphraseFile.map(f -> Secret.of(firstLine(f)));
    }

    Optional<Secret> password() {
        return passwordFile.map(f -> Secret.of(firstLine(f)));
    }

    private static String firstLine(Path file) {
        return text(file).lines().findFirst().orElse("");
    }

    private static String text(Path file) {
        try {
            return Files.readString(file);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " cannot be read");
        }
    }
}
