package tender.client.authority;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.CertificateApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;
import tender.core.credential.Secret;

/** Certificate authorities and what they sign. */
final class AuthorityCommands {
    private AuthorityCommands() {}

    static CertificateApi.Authority find(Calls calls, String name) {
        return calls.list("/authorities", CertificateApi.Authority.class, 1_000).stream()
                .filter(a -> a.name().equals(name))
                .findFirst()
                .orElseThrow(() -> CallFailure.of(ProblemCode.NOT_FOUND, "there is no authority " + name));
    }

    private static void show(Terminal terminal, CertificateApi.Authority a) {
        if (terminal.json) {
            terminal.json(a);
            return;
        }
        terminal.print(a.name() + "  " + a.key() + ", until " + a.expiresAt());
        terminal.say("  revocation list: number " + a.listNumber() + ", valid until " + a.listUntil());
    }

    /** Writes a file that only its owner can read; one there is stays. */
    static void write(Path file, byte[] content) {
        try {
            Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
            Files.write(file, content);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " cannot be written; one there is stays as it is");
        }
    }

    static String text(Path file) {
        try {
            return Files.readString(file);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " cannot be read as text");
        }
    }

    @Command(
            name = "create",
            mixinStandardHelpOptions = true,
            description = "Create a certificate authority of your own.",
            footer = {
                "",
                "  tender authority create skerrivane --publish http://revoked.skerrivane.example/revocations/skerrivane.crl"
            })
    static final class Create extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(
                names = "--key-kind",
                description = "ec-p256, rsa-2048, rsa-3072, rsa-4096 or ed25519. Default: ec-p256")
        Optional<String> key;

        @Option(names = "--years", description = "How long it is valid, in years. Default: 10")
        Optional<Integer> years;

        @Option(
                names = "--publish",
                paramLabel = "URL",
                description =
                        "URL of its revocation list (CRL), written into its certificates; the staff page serves /revocations/NAME.crl.")
        Optional<String> publish;

        @Override
        protected int run() {
            terminal.say(
                    key.filter(k -> k.startsWith("rsa")).isPresent()
                            ? "making the key, which takes seconds"
                            : "making the key");
            show(
                    terminal,
                    calls().post(
                                    "/authorities",
                                    new CertificateApi.MakeAuthority(name, key, years, publish),
                                    CertificateApi.Authority.class));
            return 0;
        }
    }

    @Command(
            name = "import",
            mixinStandardHelpOptions = true,
            description = "Import an existing certificate authority with its private key.",
            footer = {
                "",
                "  tender authority import old-office --certificate ca.crt --key-file ca.key --passphrase-fd 3 3<passphrase",
                "  tender authority import old-office --certificate ca.crt --key-file ca.key --revocation-list crl.pem --index index.txt"
            })
    static final class Import extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--certificate", required = true, paramLabel = "FILE", description = "Its certificate in PEM.")
        Path certificate;

        @Option(names = "--key-file", required = true, paramLabel = "FILE", description = "Its private key in PEM.")
        Path key;

        @Option(
                names = "--passphrase-fd",
                paramLabel = "N",
                description = "Read the key's passphrase from this file descriptor.")
        Optional<Integer> passphraseFd;

        @Option(
                names = "--revocation-list",
                paramLabel = "FILE",
                description =
                        "Its revocation list (CRL) in PEM, so that certificates revoked earlier stay revoked. Tender also reads the lists on gateways.")
        Optional<Path> revocationList;

        @Option(
                names = "--index",
                paramLabel = "FILE",
                description = "The index of issued certificates that openssl ca keeps.")
        Optional<Path> index;

        @Option(names = "--publish", paramLabel = "URL", description = "URL of its revocation list (CRL).")
        Optional<String> publish;

        @Override
        protected int run() {
            Optional<Secret> passphrase = passphraseFd.map(fd -> terminal.secret("passphrase", Optional.of(fd)));
            show(
                    terminal,
                    calls().post(
                                    "/authorities/taken-in",
                                    new CertificateApi.TakeAuthority(
                                            name,
                                            text(certificate),
                                            Secret.of(text(key)),
                                            passphrase,
                                            publish,
                                            revocationList.map(AuthorityCommands::text),
                                            index.map(AuthorityCommands::text)),
                                    CertificateApi.Authority.class));
            return 0;
        }
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List certificate authorities.")
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
            List<CertificateApi.Authority> all = calls().list("/authorities", CertificateApi.Authority.class, 1_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("AUTHORITY", "KEY", "EXPIRES", "REVOKED", "CRL NUMBER", "CRL VALID UNTIL"),
                        all.stream()
                                .map(a -> List.of(
                                        a.name(),
                                        a.key(),
                                        a.expiresAt().toString(),
                                        Integer.toString(a.revoked()),
                                        Long.toString(a.listNumber()),
                                        a.listUntil().toString()))
                                .toList(),
                        "no authority yet; create one: tender authority create NAME");
            }
            return 0;
        }
    }

    @Command(
            name = "revocations",
            mixinStandardHelpOptions = true,
            description = "Write the revocation list (CRL) to a file, in DER.",
            footer = {"", "  tender authority revocations skerrivane --out skerrivane.crl"})
    static final class Revocations extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--out", required = true, paramLabel = "FILE")
        Path out;

        @Override
        protected int run() {
            Calls calls = calls();
            write(
                    out,
                    calls.getVersioned("/authorities/" + find(calls, name).id() + "/list")
                            .body());
            terminal.say("written to " + out);
            return 0;
        }
    }

    @Command(
            name = "certificates",
            mixinStandardHelpOptions = true,
            description = "List the certificates of an authority.")
    static final class Certificates extends ClientCommand {
        @Parameters(paramLabel = "AUTHORITY")
        String authority;

        @Override
        protected int run() {
            Calls calls = calls();
            List<CertificateApi.Certificate> all = calls.list(
                    "/authorities/" + find(calls, authority).id() + "/certificates",
                    CertificateApi.Certificate.class,
                    10_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("NAME", "FOR A", "STATE", "ENDS", "KEY", "SERIAL"),
                        all.stream()
                                .map(c -> List.of(
                                        c.commonName(),
                                        c.purpose(),
                                        c.state(),
                                        c.expiresAt().toString(),
                                        c.custody(),
                                        c.serial()))
                                .toList(),
                        "nothing signed yet; tender authority sign " + authority + " --help");
            }
            return 0;
        }
    }

    @Command(
            name = "revoke",
            mixinStandardHelpOptions = true,
            description = "Revoke a certificate and renew the revocation list. This cannot be undone.",
            footer = {"", "  tender authority revoke 7f3a… --reason key-compromise"})
    static final class Revoke extends ClientCommand {
        @Parameters(paramLabel = "SERIAL")
        String serial;

        @Option(
                names = "--reason",
                description = "unspecified, key-compromise, affiliation-changed, superseded or cessation-of-operation")
        Optional<String> reason;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        protected int run() {
            if (!terminal.confirmed("Revoke " + serial + "? Whoever holds it cannot connect any more.", yes)) {
                return 1;
            }
            CertificateApi.Certificate c = calls().post(
                            "/certificates/" + serial + "/revoke",
                            new CertificateApi.Revoke(reason),
                            CertificateApi.Certificate.class);
            terminal.say(c.commonName() + " is revoked; the list names it from now");
            return 0;
        }
    }
}
