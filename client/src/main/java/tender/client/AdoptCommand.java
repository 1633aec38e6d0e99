package tender.client;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.AdoptApi;
import tender.api.ProblemCode;

/** Takes in client files that a gateway made itself. */
@Command(
        name = "adopt",
        mixinStandardHelpOptions = true,
        description = {
            "Take in client files that a gateway made itself, one or a whole archive: each is matched to a device, mended by"
                    + " rule, and kept as it came. What is mended becomes revision 2."
        },
        footer = {
            "",
            "  tender profile adopt --gateway slip-nas --dry-run",
            "  tender profile adopt bundle-from-the-nas.tar.gz --gateway slip-nas",
            "  tender profile adopt office.ovpn --gateway orrin-vpn --assign office.ovpn=mara/laptop",
            "",
            "Exit code 1 where a file was not adopted."
        })
final class AdoptCommand extends Verb {
    private static final long LARGEST = 4L * 1024 * 1024;

    @Parameters(
            paramLabel = "FILE",
            arity = "0..1",
            description = "A file or archive. Default: what the gateway itself gives out")
    Optional<Path> file;

    @Option(names = "--gateway", required = true)
    String gateway;

    @Option(names = "--listener", description = "Needed where the gateway has several of the files' kind.")
    Optional<String> listener;

    @Option(
            names = "--assign",
            paramLabel = "PATH=PERSON/DEVICE",
            description = "Whose a file is, where that cannot be told.")
    Map<String, String> assign = Map.of();

    @Option(
            names = "--refuse",
            paramLabel = "RULE",
            description = "Do not mend by this rule, such as endpoint; PATH=RULE for one file alone.")
    List<String> refuse = List.of();

    @Option(
            names = "--decide",
            paramLabel = "REASON",
            description = "Why dangerous lines may stay; it goes into the journal.")
    Optional<String> decision;

    @Option(
            names = "--passphrase-fd",
            paramLabel = "N",
            description = "Read the passphrase of locked key stores from this file descriptor.")
    Optional<Integer> passphraseFd;

    @Option(names = "--dry-run", description = "Say what would be adopted and mended; keep nothing.")
    boolean dryRun;

    @Override
    int run() {
        Calls calls = calls();
        AdoptApi.Adopted done = calls.post(
                "/gateways/" + GatewayCommands.find(calls, gateway).id() + "/adoptions",
                new AdoptApi.Adopt(
                        listener,
                        file.map(f -> f.getFileName().toString()),
                        file.map(AdoptCommand::content),
                        Optional.of(assign),
                        Optional.of(refuse),
                        passphraseFd.map(fd -> terminal.secret("passphrase of the key stores", Optional.of(fd))),
                        decision,
                        Optional.of(dryRun)),
                AdoptApi.Adopted.class);
        if (terminal.json) {
            terminal.json(done);
        } else {
            done.files().forEach(this::show);
            terminal.say(done.adopted() + " of " + done.files().size()
                    + (dryRun ? " would be adopted; nothing was kept" : " adopted"));
        }
        return done.adopted() == done.files().size() ? 0 : 1;
    }

    private static String content(Path file) {
        try {
            if (Files.size(file) > LARGEST) {
                throw CallFailure.of(ProblemCode.MALFORMED, file + " is over 4 MiB");
            }
            return Base64.getEncoder().encodeToString(Files.readAllBytes(file));
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " cannot be read");
        }
    }

    private void show(AdoptApi.File f) {
        String whose = f.person()
                .map(p -> "  " + p + "/" + f.device().orElse("") + ", by "
                        + f.matchedBy().orElse(""))
                .orElse("");
        terminal.print(f.path() + "  " + f.state() + whose);
        if (!f.why().isEmpty()) {
            terminal.print("    " + f.why());
        }
        f.notes().stream()
                .filter(n -> n.severity().equals("breaks"))
                .forEach(n -> terminal.print(
                        "    breaks: " + n.says() + (n.detail().isEmpty() ? "" : " (" + n.detail() + ")")));
        for (AdoptApi.Repair r : f.repairs()) {
            terminal.print("    mended (" + r.rule() + "): " + r.reason());
            r.before().lines().forEach(l -> terminal.print("      - " + l));
            r.after().lines().forEach(l -> terminal.print("      + " + l));
        }
    }
}
