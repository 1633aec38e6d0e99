package tender.client;

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
        terminal.print(a.name() + "  " + a.key() + ", until " + a.ends());
        terminal.say("  list of the revoked: number " + a.listNumber() + ", counts until " + a.listUntil());
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
            name = "make",
            mixinStandardHelpOptions = true,
            description = "Make a certificate authority of the company's own.",
            footer = {
                "",
                "  tender authority make skerrivane --publish http://revoked.skerrivane.example/revocations/skerrivane.crl"
            })
    static final class Make extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(
                names = "--key-kind",
                description = "ec-p256, rsa-2048, rsa-3072, rsa-4096 or ed25519. Default: ec-p256")
        Optional<String> key;

        @Option(names = "--years", description = "Its life. Default: 10")
        Optional<Integer> years;

        @Option(
                names = "--publish",
                paramLabel = "URL",
                description =
                        "Where strangers fetch its list of the revoked; the staff's page serves /revocations/NAME.crl.")
        Optional<String> publish;

        @Override
        int run() {
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
            name = "take-in",
            mixinStandardHelpOptions = true,
            description = "Take in an authority that exists, with its key.",
            footer = {
                "",
                "  tender authority take-in old-office --certificate ca.crt --key-file ca.key --passphrase-fd 3 3<passphrase",
                "  tender authority take-in old-office --certificate ca.crt --key-file ca.key --revocation-list crl.pem --index index.txt"
            })
    static final class TakeIn extends Verb {
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
                        "Its revocation list in PEM, so that whoever was revoked before stays refused. Lists at gateways are read as well.")
        Optional<Path> revocationList;

        @Option(
                names = "--index",
                paramLabel = "FILE",
                description = "The index of issued certificates that openssl ca keeps.")
        Optional<Path> index;

        @Option(names = "--publish", paramLabel = "URL", description = "Where strangers fetch its revocation list.")
        Optional<String> publish;

        @Override
        int run() {
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

    @Command(name = "list", mixinStandardHelpOptions = true, description = "All authorities.")
    static final class Ls extends Verb {
        @Override
        int run() {
            List<CertificateApi.Authority> all = calls().list("/authorities", CertificateApi.Authority.class, 1_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("AUTHORITY", "KEY", "ENDS", "REVOKED", "LIST", "LIST COUNTS UNTIL"),
                        all.stream()
                                .map(a -> List.of(
                                        a.name(),
                                        a.key(),
                                        a.ends().toString(),
                                        Integer.toString(a.revoked()),
                                        Long.toString(a.listNumber()),
                                        a.listUntil().toString()))
                                .toList(),
                        "no authority yet; make one: tender authority make NAME");
            }
            return 0;
        }
    }

    @Command(
            name = "revocations",
            mixinStandardHelpOptions = true,
            description = "Write the list of revoked certificates to a file, DER.",
            footer = {"", "  tender authority revocations skerrivane --out skerrivane.crl"})
    static final class Revocations extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--out", required = true, paramLabel = "FILE")
        Path out;

        @Override
        int run() {
            Calls calls = calls();
            write(
                    out,
                    calls.getVersioned("/authorities/" + find(calls, name).id() + "/list")
                            .body());
            terminal.say("written to " + out);
            return 0;
        }
    }

    @Command(name = "certificates", mixinStandardHelpOptions = true, description = "What an authority signed.")
    static final class Certificates extends Verb {
        @Parameters(paramLabel = "AUTHORITY")
        String authority;

        @Override
        int run() {
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
                                        c.ends().toString(),
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
            description = "Revoke a certificate: the list is signed anew at once. Cannot be taken back.",
            footer = {"", "  tender authority revoke 7f3a… --reason key-compromise"})
    static final class Revoke extends Verb {
        @Parameters(paramLabel = "SERIAL")
        String serial;

        @Option(
                names = "--reason",
                description = "unspecified, key-compromise, affiliation-changed, superseded or cessation-of-operation")
        Optional<String> reason;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        int run() {
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
