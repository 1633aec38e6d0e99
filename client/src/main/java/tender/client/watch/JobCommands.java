package tender.client.watch;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tender.api.WatchApi;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;

/** Jobs. */
final class JobCommands {
    private JobCommands() {}

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List jobs, newest first.")
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
            List<WatchApi.Job> all = calls().list("/jobs", WatchApi.Job.class, 100);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("KIND", "STATE", "DONE", "TRIES", "ADDED", "ID", "NOTE"),
                        all.stream()
                                .map(j -> List.of(
                                        j.kind(),
                                        j.state(),
                                        j.progress() + " %",
                                        Integer.toString(j.attempts()),
                                        Terminal.ago(j.createdAt()),
                                        j.id(),
                                        j.note()))
                                .toList(),
                        "no jobs yet");
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
