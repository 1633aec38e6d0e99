package tender.client.handout;

import java.util.List;
import tender.client.command.CommandGroup;

/** Handouts: the commands. */
public final class HandoutGroup {
    public static final List<CommandGroup> ALL = List.of(new CommandGroup(
            "handout",
            "Handouts: give people their profiles.",
            List.of(
                    HandoutCommands.Prepare.class,
                    HandoutCommands.MarkSent.class,
                    HandoutCommands.Ls.class,
                    HandoutCommands.Show.class,
                    HandoutCommands.Withdraw.class,
                    HandoutCommands.Collect.class)));

    private HandoutGroup() {}
}
