package tender.client.device;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;

/** What this device holds. */
@Command(
        name = "status",
        mixinStandardHelpOptions = true,
        description =
                "Show what this device holds, in the order in which gateways are to be tried, and whether it connects. Nothing is sent.",
        footer = {"", "  tender device status", "", "Exit code 1 if a profile does not connect."})
final class StatusCommand extends ClientCommand {
    /** What programs read of a profile that is held. */
    record Shown(
            String profile,
            String gateway,
            String protocol,
            int revision,
            String file,
            boolean whole,
            Optional<Boolean> works,
            Optional<String> found,
            boolean first,
            List<String> copies) {}

    @Override
    protected int run() {
        DeviceState state = DeviceState.require();
        terminal.say("device  " + state.device() + ", signer "
                + state.opened().signer().fingerprint());
        ProfileFolder folder = new ProfileFolder(Path.of(state.folder()));
        return show(
                terminal, state.held().stream().map(h -> h.at(folder.found(h))).toList());
    }

    static int show(Terminal terminal, List<HeldProfile> held) {
        Optional<HeldProfile> first =
                held.stream().filter(h -> h.works().orElse(false)).findFirst();
        List<Shown> all = held.stream()
                .map(h -> new Shown(
                        h.label(),
                        h.gateway(),
                        h.protocol(),
                        h.revision(),
                        h.main().toString(),
                        ProfileFolder.isWhole(h),
                        h.works(),
                        h.found(),
                        first.filter(f -> f.profile().equals(h.profile())).isPresent(),
                        h.copies()))
                .toList();
        if (terminal.json) {
            terminal.json(all);
        } else {
            terminal.table(
                    List.of("FILE", "GATEWAY", "REVISION", "STATE"),
                    all.stream()
                            .map(s -> List.of(s.file(), s.gateway(), Integer.toString(s.revision()), words(s)))
                            .toList(),
                    "this device holds no profile");
            all.stream()
                    .flatMap(s -> s.copies().stream())
                    .forEach(c -> terminal.say("a copy with the same key: " + c
                            + "; tender device keep --copies replace removes it with the next revision"));
        }
        return held.stream().anyMatch(h -> h.works().equals(Optional.of(false))) ? 1 : 0;
    }

    private static String words(Shown s) {
        return s.whole()
                ? s.found().orElse("not tried") + (s.first() ? "; use this one" : "")
                : "changed or missing; tender device keep writes it again";
    }
}
