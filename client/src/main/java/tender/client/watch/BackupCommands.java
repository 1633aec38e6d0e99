package tender.client.watch;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Terminal;
import tender.core.credential.Secret;

/** Backups. */
final class BackupCommands {
    private BackupCommands() {}

    private static List<String> row(WatchApi.Backup b) {
        String differences = b.differences().stream()
                .map(d -> d.path() + " +" + d.linesAdded() + " -" + d.linesRemoved())
                .collect(Collectors.joining(", "));
        return List.of(
                b.gateway(),
                Integer.toString(b.number()),
                Terminal.ago(b.takenAt()),
                b.reason(),
                b.release(),
                Integer.toString(b.files()),
                Terminal.bytes(b.bytes()),
                b.digest().substring(0, 12),
                differences.isEmpty() ? "as before" : differences);
    }

    @Command(name = "take", mixinStandardHelpOptions = true, description = "Take a backup of a gateway now.")
    static final class Take extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Option(names = "--reason", description = "Why, for the list.")
        Optional<String> reason;

        @Override
        protected int run() {
            Calls calls = calls();
            OfficeApi.Gateway g = calls.post(
                    "/gateways/" + Found.gateway(calls, gateway).id() + "/backups",
                    new WatchApi.TakeBackup(reason),
                    OfficeApi.Gateway.class);
            if (terminal.json) {
                terminal.json(g.newestBackup());
            } else {
                terminal.print(g.name() + ", backup number "
                        + g.newestBackup()
                                .map(b -> Integer.toString(b.number()))
                                .orElse("none"));
            }
            return 0;
        }
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "List backups, newest first, with what changed since the previous one.")
    static final class Ls extends ClientCommand {
        @Option(names = "--gateway", description = "Only this gateway's.")
        Optional<String> gateway;

        @Option(names = "--limit", description = "How many. Default: 50")
        int limit = 50;

        @Option(
                names = "--sort",
                paramLabel = "COLUMN",
                description = "gateway, taken, reason, release or size; --sort=-COLUMN puts the last first.")
        Optional<String> sort;

        @Override
        protected int run() {
            Calls calls = calls();
            Map<String, Optional<String>> asked = Map.of(
                    "gateway", gateway.map(name -> Found.gateway(calls, name).id()), "sort", sort);
            List<WatchApi.Backup> all = calls.list(Calls.query("/backups", asked), WatchApi.Backup.class, limit);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("GATEWAY", "NO.", "TAKEN", "REASON", "RELEASE", "FILES", "SIZE", "SHA-256", "CHANGED"),
                        all.stream().map(BackupCommands::row).toList(),
                        "no backups yet; take one: tender backup take GATEWAY");
            }
            return 0;
        }
    }

    @Command(
            name = "show",
            mixinStandardHelpOptions = true,
            description = "Show a backup and what differs from the one before, in the gateway's own terms and by file.",
            footer = {"", "  tender backup show pier2 3"})
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Parameters(paramLabel = "NUMBER")
        int number;

        @Override
        protected int run() {
            WatchApi.Backup b = find(calls(), gateway, number);
            if (terminal.json) {
                terminal.json(b);
                return 0;
            }
            terminal.print(b.gateway() + ", backup number " + b.number() + ", " + Terminal.ago(b.takenAt()) + ", "
                    + b.reason());
            terminal.print("  release    " + b.release());
            terminal.print("  files      " + b.files() + ", " + Terminal.bytes(b.bytes()));
            terminal.print("  SHA-256    " + b.digest());
            b.settings()
                    .forEach(s -> terminal.print(
                            "  setting    " + s.field() + ": " + (s.was().isEmpty() ? "not there" : s.was()) + " -> "
                                    + (s.becomes().isEmpty() ? "gone" : s.becomes())));
            b.differences()
                    .forEach(d -> terminal.print("  file       " + d.path() + " " + d.kind() + ", +" + d.linesAdded()
                            + " -" + d.linesRemoved() + " lines"));
            if (b.settings().isEmpty() && b.differences().isEmpty()) {
                terminal.print("  changed    nothing since the backup before");
            }
            return 0;
        }
    }

    private static WatchApi.Backup find(Calls calls, String gateway, int number) {
        return calls
                .list("/backups?gateway=" + Found.gateway(calls, gateway).id(), WatchApi.Backup.class, 10_000)
                .stream()
                .filter(b -> b.number() == number)
                .findFirst()
                .orElseThrow(() -> CallFailure.of(ProblemCode.NOT_FOUND, gateway + " has no backup number " + number));
    }

    @Command(
            name = "download",
            mixinStandardHelpOptions = true,
            description = "Download a backup as one encrypted file that openssl opens.",
            footer = {
                "",
                "  tender backup download pier2 3 --out pier2-3.zip.cms",
                "  openssl cms -decrypt -inform DER -in pier2-3.zip.cms -pwri_password PASSPHRASE -out f.tmp && mv f.tmp pier2-3.zip"
            })
    static final class Download extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Parameters(paramLabel = "NUMBER")
        int number;

        @Option(names = "--out", required = true, paramLabel = "FILE")
        Path out;

        @Option(
                names = "--passphrase-fd",
                paramLabel = "N",
                description = "Read the passphrase from this file descriptor.")
        Optional<Integer> passphraseFd;

        @Override
        protected int run() {
            Calls calls = calls();
            WatchApi.Backup backup = find(calls, gateway, number);
            Secret passphrase = terminal.secret("passphrase for the file, 12 characters or more", passphraseFd);
            byte[] sealed = calls.download("/backups/" + backup.id() + "/download", new WatchApi.Download(passphrase));
            try {
                Path fresh = out.resolveSibling(out.getFileName() + ".new");
                Files.write(fresh, sealed);
                Files.move(
                        fresh,
                        out,
                        java.nio.file.StandardCopyOption.ATOMIC_MOVE,
                        java.nio.file.StandardCopyOption.REPLACE_EXISTING);
            } catch (IOException e) {
                throw CallFailure.of(ProblemCode.CONFLICT, out + " cannot be written");
            }
            terminal.print(out.toString());
            terminal.say("Tender does not keep this passphrase; without it the file is lost.");
            return 0;
        }
    }
}
