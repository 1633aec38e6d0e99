package tender.client;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tender.api.KeyApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;

/** The master key. */
final class KeyCommands {
    private KeyCommands() {}

    @Command(
            name = "rotate",
            mixinStandardHelpOptions = true,
            description = {
                "Make a new master key and encrypt every secret in the database under it, while Tender works.",
                "Every node takes the new key over by itself; the old one is put aside when nothing needs it any more."
            },
            footer = {
                "",
                "Backups of the database from before need the old key: keep the file master-key.before-ID with them.",
                "",
                "  tender key rotate",
                "  tender key rotate --yes --no-wait"
            })
    static final class Rotate extends Verb {
        @Option(names = "--yes", description = "Don't ask.")
        boolean yes;

        @Option(names = "--no-wait", description = "Come back at once; tender key status says how far it is.")
        boolean noWait;

        @Override
        int run() {
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
            description = "The rotation of the master key that goes on, or the last one.")
    static final class Status extends Verb {
        @Override
        int run() {
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
