package tender.client.provision;

import java.util.List;
import tender.client.command.CommandGroup;

/** Provisioning files: the commands. */
public final class ProvisionGroup {
    public static final List<CommandGroup> ALL = List.of(new CommandGroup(
            "provision",
            "Provisioning files, with which devices join and keep their profiles current.",
            List.of(
                    ProvisionCommands.Create.class,
                    ProvisionCommands.Ls.class,
                    ProvisionCommands.Devices.class,
                    ProvisionCommands.Check.class,
                    ProvisionCommands.Withdraw.class,
                    ProvisionCommands.End.class)));

    private ProvisionGroup() {}
}
