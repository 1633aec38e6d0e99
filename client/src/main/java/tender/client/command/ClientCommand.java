package tender.client.command;

import java.util.concurrent.Callable;
import picocli.CommandLine.Mixin;

/** One command. Gives its exit code: 0 ok, 1 something is wrong, 2 wrong call, 3 not reachable, 4 not allowed. */
public abstract class ClientCommand implements Callable<Integer> {
    @Mixin
    public final Terminal terminal = new Terminal();

    /** What the command does. */
    protected abstract int run();

    @Override
    public final Integer call() {
        return run();
    }

    public final Calls calls() {
        return Calls.signedIn();
    }
}
