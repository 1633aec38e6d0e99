package tender.client.person;

import java.util.List;
import tender.client.command.CommandGroup;
import tender.client.departure.LeaveCommands;

/** People and their devices: the commands. */
public final class PersonGroup {
    public static final List<CommandGroup> ALL = List.of(
            new CommandGroup(
                    "person",
                    "People: staff and their profiles.",
                    List.of(
                            PersonCommands.Add.class,
                            PersonCommands.Put.class,
                            PersonCommands.Ls.class,
                            PersonCommands.Show.class,
                            PersonCommands.Bring.class,
                            LeaveCommands.Leave.class,
                            PersonCommands.Remove.class)),
            new CommandGroup(
                    "team",
                    "Teams of people.",
                    List.of(TeamCommands.Ls.class, TeamCommands.Put.class, TeamCommands.Remove.class)),
            new CommandGroup(
                    "device",
                    "Devices that people connect with.",
                    List.of(
                            DeviceCommands.Add.class,
                            DeviceCommands.Put.class,
                            LeaveCommands.Lost.class,
                            DeviceCommands.Remove.class)));

    private PersonGroup() {}
}
