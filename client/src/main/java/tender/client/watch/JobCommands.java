package tender.client.watch;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.WatchApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;

/** Jobs. */
final class JobCommands {
    private JobCommands() {}

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List jobs, newest first.")
    static final class Ls extends ClientCommand {
        @Option(names = "--state", description = "waiting, running, done, failed or cancelled")
        Optional<String> state;

        @Option(names = "--kind", description = "Of this kind, such as read-gateway.")
        Optional<String> kind;

        @Option(names = "--limit", description = "How many. Default: 100")
        int limit = 100;

        @Override
        protected int run() {
            List<WatchApi.Job> all =
                    calls().list(Calls.query("/jobs", Map.of("state", state, "kind", kind)), WatchApi.Job.class, limit);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("KIND", "SUBJECT", "STATE", "DONE", "ADDED", "ID", "NOTE"),
                        all.stream()
                                .map(j -> List.of(
                                        j.kind(),
                                        j.subject().orElse(""),
                                        j.state(),
                                        j.progress() + " %",
                                        Terminal.ago(j.createdAt()),
                                        j.id(),
                                        j.note()))
                                .toList(),
                        state.isPresent() || kind.isPresent() ? "no job fits" : "no jobs yet");
            }
            return 0;
        }
    }

    @Command(name = "show", mixinStandardHelpOptions = true, description = "Show a job and what came of it.")
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "ID")
        String id;

        @Override
        protected int run() {
            WatchApi.Job j = calls().get("/jobs/" + id, WatchApi.Job.class);
            if (terminal.json) {
                terminal.json(j);
                return 0;
            }
            terminal.print(j.kind() + j.subject().map(s -> " of " + s).orElse("") + ": " + j.state() + ", "
                    + j.progress() + " %");
            terminal.print("  added      " + Terminal.ago(j.createdAt())
                    + j.endedAt().map(at -> ", ended " + Terminal.ago(at)).orElse(""));
            terminal.print("  tries      " + j.attempts());
            if (!j.note().isEmpty()) {
                terminal.print("  note       " + j.note());
            }
            return 0;
        }
    }

    @Command(
            name = "cancel",
            mixinStandardHelpOptions = true,
            description = "Cancel a job: at once if it waits, else at its next step.")
    static final class Cancel extends ClientCommand {
        @Parameters(paramLabel = "ID")
        String id;

        @Override
        protected int run() {
            calls().post("/jobs/" + id + "/cancel", null, null);
            terminal.say("cancelled, or will be when it next looks");
            return 0;
        }
    }
}
