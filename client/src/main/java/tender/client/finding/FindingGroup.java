package tender.client.finding;

import java.util.List;
import tender.client.command.CommandGroup;

/** Findings and monitors: the commands. */
public final class FindingGroup {
    public static final List<CommandGroup> ALL = List.of(
            new CommandGroup(
                    "finding",
                    "Findings: what is wrong or about to be.",
                    List.of(
                            FindingCommands.Ls.class,
                            FindingCommands.Show.class,
                            FindingCommands.Fix.class,
                            FindingCommands.Accept.class,
                            FindingCommands.Reopen.class)),
            new CommandGroup(
                    "monitor",
                    "Trials of listeners on a schedule, with history and alerts.",
                    List.of(
                            MonitorCommands.Put.class,
                            MonitorCommands.Ls.class,
                            MonitorCommands.History.class,
                            MonitorCommands.Remove.class)));

    private FindingGroup() {}
}
