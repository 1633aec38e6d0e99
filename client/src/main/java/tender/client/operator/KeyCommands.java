package tender.client.operator;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tender.api.KeyApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Terminal;

/** The master key. */
final class KeyCommands {
    private KeyCommands() {}

    @Command(
            name = "rotate",
            mixinStandardHelpOptions = true,
            description = {
                "Create a new master key and re-encrypt every secret in the database while Tender runs.",
                "Every node switches to the new key automatically; the old key is removed when nothing needs it any more."
            },
            footer = {
                "",
                "Database backups made before this need the old key: keep the file master-key.before-ID with them.",
                "",
                "  tender key rotate",
                "  tender key rotate --yes --no-wait"
            })
    static final class Rotate extends ClientCommand {
        @Option(names = "--yes", description = "Do not ask.")
        boolean yes;

        @Option(names = "--no-wait", description = "Do not wait; tender key status shows the progress.")
        boolean noWait;

        @Override
        protected int run() {
            if (!terminal.confirmed("Encrypt every secret in the database under a new master key?", yes)) {
                return 1;
            }
            Calls calls = calls();
            WatchApi.Job job = calls.post("/keys/rotate", null, WatchApi.Job.class);
            if (!noWait) {
                job = calls.await(job.id(), terminal::say);
            }
            if (terminal.json) {
                terminal.json(job);
            } else {
                terminal.print(
                        job.state().equals("done")
                                ? "every secret is encrypted under the new master key"
                                : job.state() + (job.note().isEmpty() ? "" : ": " + job.note()));
            }
            return noWait || job.state().equals("done") ? 0 : 1;
        }
    }

    @Command(
            name = "status",
            mixinStandardHelpOptions = true,
            description = "Show the present or last rotation of the master key.")
    static final class Status extends ClientCommand {
        @Override
        protected int run() {
            KeyApi.Rotation r;
            try {
                r = calls().get("/keys/rotation", KeyApi.Rotation.class);
            } catch (CallFailure e) {
                if (!e.is(ProblemCode.NOT_FOUND)) {
                    throw e;
                }
                terminal.say("the master key was never rotated; tender key rotate makes a new one");
                return 0;
            }
            if (terminal.json) {
                terminal.json(r);
            } else {
                terminal.table(
                        List.of("KEY", "STATE", "BY", "STARTED", "ENDED"),
                        List.of(List.of(
                                r.keyId(),
                                r.state(),
                                r.orderedBy(),
                                Terminal.ago(r.startedAt()),
                                r.endedAt().map(Terminal::ago).orElse("not yet"))),
                        "");
            }
            return 0;
        }
    }
}
