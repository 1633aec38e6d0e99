package tender.client.change;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ChangeApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Json;
import tender.core.office.Change;

/** Changes of several gateways that are made together: all of them, or none. */
final class ChangeSetCommands {
    private ChangeSetCommands() {}

    /** The members in a file; none where it is not there yet. */
    private static List<ChangeApi.Member> members(Path file) {
        if (!Files.exists(file)) {
            return List.of();
        }
        try {
            List<ChangeApi.Member> members = Json.read(Files.readAllBytes(file), ChangeApi.OrderSet.class)
                    .members();
            if (members != null) {
                return members;
            }
        } catch (IOException | CallFailure e) {
            // said below, by the file's name
        }
        throw CallFailure.of(
                ProblemCode.MALFORMED, file + " is not what tender change apply … --into writes; name another file");
    }

    /** Replaces the file in one step, so that a copy is whole whenever it is read. */
    private static void write(Path file, byte[] content) {
        try {
            Path fresh = Files.createTempFile(file.toAbsolutePath().getParent(), ".changes", ".json");
            Files.write(fresh, content);
            Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " cannot be written: " + e.getMessage());
        }
    }

    /** Adds a gateway's changes to a file; those of a gateway that is there already are put together. */
    static void add(Path file, String gateway, List<Change> changes) {
        List<ChangeApi.Member> all = new ArrayList<>(members(file));
        List<Change> there = all.stream()
                .filter(m -> m.gateway().equals(gateway))
                .flatMap(m -> m.changes().stream())
                .collect(Collectors.toCollection(ArrayList::new));
        all.removeIf(m -> m.gateway().equals(gateway));
        there.addAll(changes);
        all.add(new ChangeApi.Member(gateway, there));
        write(file, Json.write(new ChangeApi.OrderSet(all)));
    }

    @Command(
            name = "apply-set",
            mixinStandardHelpOptions = true,
            description = {
                "Apply a change set to several gateways: all of them, or none. Each device keeps a rollback armed until all are"
                        + " written, read again and tried."
            },
            footer = {
                "",
                "  tender change apply slip-front --forward udp:1701=10.20.2.5:1701 --into move.json",
                "  tender change apply slip-nas --listener l2tp --set limit-total=8 --into move.json",
                "  tender change apply-set move.json --dry-run",
                "  tender change apply-set move.json"
            })
    static final class ApplySet extends ClientCommand {
        @Parameters(paramLabel = "FILE", description = "What tender change apply … --into FILE wrote.")
        Path file;

        @Option(names = "--dry-run", description = "Show what would change; change nothing.")
        boolean dryRun;

        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Override
        protected int run() {
            List<ChangeApi.Member> members = members(file);
            if (members.size() < 2) {
                throw CallFailure.of(
                        ProblemCode.MALFORMED,
                        file + " names " + (members.isEmpty() ? "no gateway" : "one gateway only")
                                + "; add another: tender change apply GATEWAY … --into " + file);
            }
            Calls calls = calls();
            ChangeApi.OrderSet order = new ChangeApi.OrderSet(members);
            ChangeApi.SetPreview preview = calls.post("/change-sets/preview", order, ChangeApi.SetPreview.class);
            show(preview);
            if (dryRun) {
                terminal.say("nothing was changed");
                return 0;
            }
            String names = members.stream().map(ChangeApi.Member::gateway).collect(Collectors.joining(", "));
            if (!terminal.confirmed("Make these changes at " + names + ", all or none?", yes)) {
                return 1;
            }
            return await(calls, calls.post("/change-sets", order, ChangeApi.OrderedSet.class));
        }

        private void show(ChangeApi.SetPreview preview) {
            if (terminal.json) {
                if (dryRun) {
                    terminal.json(preview);
                }
                return;
            }
            preview.members().forEach(m -> {
                terminal.print(m.gateway());
                ChangeCommands.show(terminal, m.preview());
            });
        }

        private int await(Calls calls, ChangeApi.OrderedSet ordered) {
            calls.await(ordered.jobId(), note -> terminal.say("  " + note));
            ChangeApi.ChangeSet set = calls.get("/change-sets/" + ordered.set().id(), ChangeApi.ChangeSet.class);
            if (terminal.json) {
                terminal.json(set);
            } else {
                set.changes().forEach(c -> terminal.print(c.gateway() + ": " + c.state() + ", " + c.note()));
                terminal.print("together: " + set.state() + ", " + set.note());
            }
            return set.state().equals("kept") ? 0 : 1;
        }
    }
}
