package tender.client.person;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.PersonApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.RemoveCommand;

/** Teams. */
final class TeamCommands {
    private TeamCommands() {}

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List teams.")
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
            List<PersonApi.Team> all = calls().list("/teams", PersonApi.Team.class, Integer.MAX_VALUE);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("TEAM", "PEOPLE"),
                        all.stream()
                                .map(t -> List.of(t.name(), Integer.toString(t.people())))
                                .toList(),
                        "no teams yet; a team begins with its first person: tender person set HANDLE --team NAME");
            }
            return 0;
        }
    }

    @Command(
            name = "set",
            mixinStandardHelpOptions = true,
            description = "Rename a team. Its people and grants stay.",
            footer = {"", "  tender team set masters --name skippers"})
    static final class Put extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--name", required = true, paramLabel = "NEW", description = "What it is called from now on.")
        String newName;

        @Override
        protected int run() {
            PersonApi.Team team = calls().post("/teams/" + name, new PersonApi.SetTeam(newName), PersonApi.Team.class);
            if (terminal.json) {
                terminal.json(team);
            } else {
                terminal.say(name + " is called " + team.name() + " now");
            }
            return 0;
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Remove a team that nobody belongs to, with its grants.",
            footer = {"", "  tender team remove guests"})
    static final class Remove extends RemoveCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected String path(Calls calls) {
            return "/teams/" + name;
        }
    }
}
