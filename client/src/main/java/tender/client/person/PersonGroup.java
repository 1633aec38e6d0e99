package tender.client.person;

import java.util.List;
import java.util.stream.Stream;
import tender.client.command.ClientCommand;
import tender.client.command.CommandGroup;
import tender.client.departure.LeaveCommands;
import tender.client.device.DeviceGroup;

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
                    Stream.concat(
                                    Stream.of(
                                            DeviceCommands.Add.class,
                                            DeviceCommands.Put.class,
                                            LeaveCommands.Lost.class,
                                            DeviceCommands.Remove.class),
                                    DeviceGroup.VERBS.stream())
                            .<Class<? extends ClientCommand>>map(c -> c)
                            .toList()));

    private PersonGroup() {}
}
