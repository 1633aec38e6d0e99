package tender.client;

import java.util.concurrent.Callable;
import picocli.CommandLine.Mixin;

/** One command. Gives its exit code: 0 well, 1 found something wrong, 2 wrong call, 3 not reachable, 4 not allowed. */
abstract class Verb implements Callable<Integer> {
    @Mixin
    final Terminal terminal = new Terminal();

    /** What the command does. */
    abstract int run();

    @Override
    public final Integer call() {
        return run();
    }

    final Calls calls() {
        return Calls.signedIn();
    }
}
