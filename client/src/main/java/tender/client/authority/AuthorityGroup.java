package tender.client.authority;

import java.util.List;
import tender.client.command.CommandGroup;

/** Certificate authorities: the commands. */
public final class AuthorityGroup {
    public static final List<CommandGroup> ALL = List.of(new CommandGroup(
            "authority",
            "Certificate authorities, their certificates and revocation lists.",
            List.of(
                    AuthorityCommands.Create.class,
                    AuthorityCommands.Import.class,
                    AuthorityCommands.Ls.class,
                    AuthoritySignCommand.class,
                    AuthorityCommands.Certificates.class,
                    AuthorityCommands.Revoke.class,
                    AuthorityCommands.Revocations.class)));

    private AuthorityGroup() {}
}
