package tender.client.departure;

import java.util.List;
import tender.client.command.CommandGroup;

/** People who leave and devices that are lost: the commands. */
public final class DepartureGroup {
    public static final List<CommandGroup> ALL = List.of(new CommandGroup(
            "departure",
            "People who left and devices that were lost, and the proof that they are refused.",
            List.of(DepartureCommands.Ls.class, DepartureCommands.Show.class, DepartureCommands.Check.class)));

    private DepartureGroup() {}
}
