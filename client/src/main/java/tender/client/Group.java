package tender.client;

import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/** A thing that has verbs; alone it prints its help. */
abstract class Group implements Runnable {
    @Spec
    CommandSpec spec;

    @Override
    public final void run() {
        throw new CommandLine.ParameterException(spec.commandLine(), "a verb is missing");
    }
}
