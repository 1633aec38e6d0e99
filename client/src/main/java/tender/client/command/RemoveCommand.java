package tender.client.command;

import picocli.CommandLine.Option;
import tender.api.ProblemCode;
import tender.api.RemovalApi;

/** Removes one thing: tells what goes with it, asks, and refuses where it still works for somebody. */
public abstract class RemoveCommand extends ClientCommand {
    @Option(names = "--dry-run", description = "Show what would be removed; remove nothing.")
    boolean dryRun;

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    /** The thing's path under the API. */
    protected abstract String path(Calls calls);

    @Override
    protected int run() {
        Calls calls = calls();
        String path = path(calls);
        RemovalApi.Preview preview = calls.get(path + "/removal", RemovalApi.Preview.class);
        if (dryRun && terminal.json) {
            terminal.json(preview);
            return preview.obstacles().isEmpty() ? 0 : 1;
        }
        terminal.say("to be removed: " + preview.what());
        preview.effects().forEach(e -> terminal.say("  - " + e));
        if (!preview.obstacles().isEmpty()) {
            throw CallFailure.of(ProblemCode.CONFLICT, String.join("; ", preview.obstacles()));
        }
        if (dryRun) {
            terminal.print("nothing was removed");
            return 0;
        }
        if (!terminal.confirmed("Remove " + preview.what() + "?", yes)) {
            terminal.print("nothing was removed");
            return 1;
        }
        calls.delete(path);
        terminal.print(preview.what() + " was removed");
        return 0;
    }
}
