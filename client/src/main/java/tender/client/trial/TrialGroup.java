package tender.client.trial;

import java.util.List;
import tender.client.command.CommandGroup;

/** Trials and vantages: the commands. */
public final class TrialGroup {
    public static final List<CommandGroup> ALL = List.of(
            new CommandGroup(
                    "trial",
                    "Trials: connect with the very file, and find out what is wrong.",
                    List.of(
                            TrialRunCommand.class,
                            TrialExplainCommand.class,
                            TrialCommands.Ls.class,
                            TrialCommands.Show.class)),
            new CommandGroup(
                    "vantage",
                    "Vantages: where trials run from.",
                    List.of(VantageCommands.Ls.class, VantageCommands.Run.class, VantageCommands.Remove.class)));

    private TrialGroup() {}
}
