package tender.client.explain;

import java.util.List;
import tender.client.command.CommandGroup;

/** Explanations: the commands. */
public final class ExplainGroup {
    public static final List<CommandGroup> ALL = List.of(new CommandGroup(
            "explain",
            "Explanations of settings, ports, networks and VPN protocols.",
            List.of(
                    ExplainCommands.Settings.class,
                    ExplainCommands.Ports.class,
                    ExplainCommands.Network.class,
                    ExplainCommands.Choose.class)));

    private ExplainGroup() {}
}
