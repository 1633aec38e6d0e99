package tender.client.instruction;

import java.util.List;
import tender.client.command.CommandGroup;

/** What somebody has to do by hand at gateways: the commands. */
public final class InstructionGroup {
    public static final List<CommandGroup> ALL = List.of(new CommandGroup(
            "instruction",
            "What somebody has to do by hand at gateways that Tender does not write.",
            List.of(
                    InstructionCommands.Ls.class,
                    InstructionCommands.Show.class,
                    InstructionCommands.Done.class,
                    InstructionCommands.Cancel.class,
                    InstructionCommands.Send.class,
                    InstructionCommands.Sheet.class)));

    private InstructionGroup() {}
}
