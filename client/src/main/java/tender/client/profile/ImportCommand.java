package tender.client.profile;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ImportApi;
import tender.api.InspectApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.LocalFiles;
import tender.core.credential.Secret;

/** Enters an office from the client files that people have. */
@Command(
        name = "import",
        mixinStandardHelpOptions = true,
        description = {
            "Import the client files that your gateways exported, without entering anything before: files, folders and archives,"
                    + " mixed. Tender finds out which gateways they call, whose they are and what is wrong with them, shows"
                    + " what it would create, and creates it when you agree: sites, gateways managed by hand, listeners,"
                    + " people, devices and profiles. The originals are kept. Import again whenever there are new files."
        },
        footer = {
            "",
            "  tender import exports/ --dry-run",
            "  tender import exports/ router.zip ana.ovpn",
            "  tender import exports/ --name vpn=orrin --site orrin=head-office",
            "  tender import exports/ --assign office.ovpn=mara/laptop --leave-out old.ovpn",
            "",
            "Exit code 1 if a client file was not imported."
        })
public final class ImportCommand extends ClientCommand {
    private static final long LARGEST = 4L * 1024 * 1024;

    @Parameters(paramLabel = "FILE|FOLDER", arity = "1..*")
    List<Path> paths;

    @Option(names = "--name", paramLabel = "GATEWAY=NAME", description = "Call a gateway otherwise than proposed.")
    Map<String, String> names = Map.of();

    @Option(
            names = "--site",
            paramLabel = "GATEWAY=SITE",
            description = "The site of a gateway, by the gateway's proposed name.")
    Map<String, String> sites = Map.of();

    @Option(
            names = "--kind",
            paramLabel = "GATEWAY=KIND",
            description = "The kind of a gateway, by its proposed name: router, nas or firewall.")
    Map<String, String> kinds = Map.of();

    @Option(
            names = "--assign",
            paramLabel = "PATH=PERSON/DEVICE",
            description = "The person and device that a file belongs to; both are created if they are new.")
    Map<String, String> assign = Map.of();

    @Option(names = "--leave-out", paramLabel = "PATH", description = "A file that is not to be imported.")
    List<String> leaveOut = List.of();

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

    @Option(names = "--dry-run", description = "Show what would be created; keep nothing.")
    boolean dryRun;

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    @Override
    protected int run() {
        List<InspectApi.File> files = new ArrayList<>();
        LocalFiles.read(paths, LARGEST)
                .forEach((name, content) ->
                        files.add(new InspectApi.File(name, Base64.getEncoder().encodeToString(content))));
        Optional<Secret> passphrase =
                passphraseFd.map(fd -> terminal.secret("passphrase of the key stores", Optional.of(fd)));
        Calls calls = calls();
        boolean asks = !dryRun && !yes;
        if (dryRun || asks) {
            ImportApi.Proposed proposed = call(calls, files, passphrase, true);
            if (dryRun) {
                return shown(proposed);
            }
            show(proposed);
            if (!terminal.confirmed("Create all this?", false)) {
                return 1;
            }
        }
        return shown(call(calls, files, passphrase, false));
    }

    private ImportApi.Proposed call(
            Calls calls, List<InspectApi.File> files, Optional<Secret> passphrase, boolean proposeOnly) {
        return calls.post(
                "/imports",
                new ImportApi.ImportFiles(
                        files,
                        Optional.of(new ImportApi.Corrections(
                                Optional.of(names),
                                Optional.of(sites),
                                Optional.of(kinds),
                                Optional.of(assign),
                                Optional.of(leaveOut))),
                        passphrase,
                        Optional.of(keepPassphrase),
                        decision,
                        Optional.of(proposeOnly)),
                ImportApi.Proposed.class);
    }

    private int shown(ImportApi.Proposed p) {
        if (terminal.json) {
            terminal.json(p);
        } else {
            show(p);
            long failed = p.files().size() - p.imported() - p.present();
            terminal.say(p.imported() + " of " + p.files().size() + " client files"
                    + (p.dryRun() ? " would be imported; nothing was kept" : " imported")
                    + (p.present() == 0 ? "" : ", " + p.present() + " were there before")
                    + (failed == 0 ? "" : ", " + failed + " not"));
        }
        return p.imported() + p.present() == p.files().size() ? 0 : 1;
    }

    private void show(ImportApi.Proposed p) {
        for (ImportApi.NewSite s : p.sites()) {
            terminal.print("site " + s.name() + fresh(s.exists())
                    + (s.networks().isEmpty()
                            ? ""
                            : "  " + String.join(", ", s.networks().values())));
        }
        for (ImportApi.NewGateway g : p.gateways()) {
            terminal.print(
                    "gateway " + g.name() + fresh(g.exists()) + "  " + g.kind() + " at " + g.site() + ", called at "
                            + (g.calls().isEmpty() ? "no address: its files have none" : String.join(", ", g.calls())));
            g.listeners().forEach(l -> terminal.print("  listener " + l.name() + "  " + settings(l.settings())));
            p.files().stream()
                    .filter(f -> f.gateway().equals(g.name()))
                    .forEach(f -> ShownFile.print(
                            terminal, "  " + f.file().path() + "  " + state(p, f.file()), f.file(), false));
        }
        people("new people: ", p.people().stream().filter(x -> !x.exists()).toList());
        people(
                "new devices of people who are there: ",
                p.people().stream()
                        .filter(x -> x.exists() && x.devices().stream().anyMatch(d -> !d.exists()))
                        .toList());
        p.others().forEach(o -> terminal.print("no client file: " + o.path() + " (" + o.kind() + ")"));
    }

    private void people(String words, List<ImportApi.NewPerson> people) {
        if (!people.isEmpty()) {
            terminal.print(words
                    + people.stream()
                            .map(x -> x.handle() + " ("
                                    + x.devices().stream()
                                            .filter(d -> !d.exists())
                                            .map(ImportApi.NewDevice::name)
                                            .collect(Collectors.joining(", "))
                                    + ")")
                            .collect(Collectors.joining(", ")));
        }
    }

    private static String state(ImportApi.Proposed p, ImportApi.File f) {
        return p.dryRun() && f.state().equals("imported") ? "can be imported" : f.state();
    }

    private static String settings(Map<String, String> settings) {
        List<String> out = new ArrayList<>();
        out.add(settings.get("transport") + " " + settings.get("port"));
        Optional.ofNullable(settings.get("reach")).ifPresent(r -> out.add("reach " + r));
        Optional.ofNullable(settings.get("dns")).ifPresent(d -> out.add("DNS " + d));
        if ("local".equals(settings.get("accounts"))) {
            out.add("asks for a password");
        }
        return String.join(", ", out);
    }

    private static String fresh(boolean exists) {
        return exists ? "" : " (new)";
    }
}
