package tender.client.profile;

import java.util.List;
import tender.client.command.CommandGroup;

/** Profiles and grants: the commands. */
public final class ProfileGroup {
    public static final List<CommandGroup> ALL = List.of(
            new CommandGroup(
                    "profile",
                    "Profiles: all that a device needs to connect.",
                    List.of(
                            ProfileIssueCommand.class,
                            ProfileCommands.Ls.class,
                            ProfileCommands.Show.class,
                            ProfileCommands.Settings.class,
                            ProfileCommands.Renew.class,
                            ProfileCommands.Withdraw.class,
                            InspectCommand.class,
                            ProfileImportCommand.class)),
            new CommandGroup(
                    "request",
                    "Client files that somebody has to make at a gateway.",
                    List.of(RequestCommands.Add.class, RequestCommands.Ls.class, RequestCommands.Cancel.class)),
            new CommandGroup(
                    "grant",
                    "What teams get at listeners if it differs from everyone else.",
                    List.of(GrantCommands.Put.class, GrantCommands.Ls.class, GrantCommands.Drop.class)));

    /** Commands without a verb. */
    public static final List<CommandGroup> ALONE = List.of(new CommandGroup(
            "import", "Import client files of gateways that nobody entered yet.", List.of(ImportCommand.class)));

    private ProfileGroup() {}
}
