package tender.client.profile;

import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ImportApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.LocalFiles;

/** Imports client files that a gateway exported. */
@Command(
        name = "import",
        mixinStandardHelpOptions = true,
        description = {
            "Import client files that a gateway exported, one file or an archive. Tender matches each file to a device, repairs"
                    + " it by rule and keeps the original. A repaired file becomes revision 2."
        },
        footer = {
            "",
            "  tender profile import --gateway slip-nas --dry-run",
            "  tender profile import bundle-from-the-nas.tar.gz --gateway slip-nas",
            "  tender profile import office.ovpn --gateway orrin-vpn --assign office.ovpn=mara/laptop",
            "",
            "Exit code 1 if a file was not imported."
        })
final class ProfileImportCommand extends ClientCommand {
    private static final long LARGEST = 4L * 1024 * 1024;

    @Parameters(
            paramLabel = "FILE",
            arity = "0..1",
            description = "A file or archive. Default: the files that the gateway exports")
    Optional<Path> file;

    @Option(names = "--gateway", required = true)
    String gateway;

    @Option(names = "--listener", description = "Needed if the gateway has several listeners of the files' kind.")
    Optional<String> listener;

    @Option(
            names = "--assign",
            paramLabel = "PATH=PERSON/DEVICE",
            description = "The device that a file belongs to, if Tender cannot tell.")
    Map<String, String> assign = Map.of();

    @Option(
            names = "--refuse",
            paramLabel = "RULE",
            description = "Do not repair by this rule, such as endpoint; PATH=RULE for one file alone.")
    List<String> refuse = List.of();

    @Option(
            names = "--decide",
            paramLabel = "REASON",
            description = "Why dangerous lines may stay; recorded in the journal.")
    Optional<String> decision;

    @Option(
            names = "--passphrase-fd",
            paramLabel = "N",
            description = "Read the passphrase of locked key stores from this file descriptor.")
    Optional<Integer> passphraseFd;

    @Option(
            names = "--keep-passphrase",
            description =
                    "Keep the passphrase, encrypted, with each profile whose file it opens: trials use it, and handouts"
                            + " contain it.")
    boolean keepPassphrase;

    @Option(names = "--dry-run", description = "Show what would be imported and repaired; keep nothing.")
    boolean dryRun;

    @Override
    protected int run() {
        Calls calls = calls();
        ImportApi.Imported done = calls.post(
                "/gateways/" + Found.gateway(calls, gateway).id() + "/imports",
                new ImportApi.Import(
                        listener,
                        file.map(f -> f.getFileName().toString()),
                        file.map(ProfileImportCommand::content),
                        Optional.of(assign),
                        Optional.of(refuse),
                        passphraseFd.map(fd -> terminal.secret("passphrase of the key stores", Optional.of(fd))),
                        Optional.of(keepPassphrase),
                        decision,
                        Optional.of(dryRun)),
                ImportApi.Imported.class);
        if (terminal.json) {
            terminal.json(done);
        } else {
            done.files().forEach(this::show);
            terminal.say(done.imported() + " of " + done.files().size()
                    + (dryRun ? " would be imported; nothing was kept" : " imported"));
        }
        return done.files().stream()
                        .allMatch(f -> Set.of("imported", "renewed", "present").contains(f.state()))
                ? 0
                : 1;
    }

    private static String content(Path file) {
        byte[] content = LocalFiles.read(file);
        if (content.length > LARGEST) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " is over 4 MiB");
        }
        return Base64.getEncoder().encodeToString(content);
    }

    private void show(ImportApi.File f) {
        ShownFile.print(terminal, f.path() + "  " + f.state(), f, true);
    }
}
