package tender.client.change;

import java.util.List;
import tender.client.command.CommandGroup;

/** Changes of devices' settings: the commands. */
public final class ChangeGroup {
    public static final List<CommandGroup> ALL = List.of(new CommandGroup(
            "change",
            "Changes of devices' settings, with their impact and a rollback.",
            List.of(
                    ChangeApplyCommand.class,
                    ChangeSetCommands.ApplySet.class,
                    ChangeCommands.Ls.class,
                    ChangeCommands.Keep.class,
                    ChangeCommands.Rollback.class)));

    private ChangeGroup() {}
}
