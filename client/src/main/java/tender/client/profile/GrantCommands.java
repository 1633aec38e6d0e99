package tender.client.profile;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.GrantApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;

/** Grants: what a team gets at a listener where it differs from everyone else. */
final class GrantCommands {
    private GrantCommands() {}

    private static List<GrantApi.Grant> all(Calls calls) {
        return calls.list("/grants", GrantApi.Grant.class, Integer.MAX_VALUE);
    }

    private static String words(GrantApi.Grant v) {
        return (v.fullTunnel()
                        ? "everything"
                        : v.reach().isEmpty() ? "what everyone reaches" : String.join(", ", v.reach()))
                + (v.dns().isEmpty() ? "" : ", names by " + String.join(", ", v.dns()))
                + v.validDays().map(d -> ", for " + d + " days").orElse("");
    }

    @Command(
            name = "set",
            mixinStandardHelpOptions = true,
            description = {
                "Set what a team gets at a listener if it differs from everyone else: reach, DNS servers, validity.",
                "Profiles of the team follow it when they are issued or renewed."
            },
            footer = {
                "",
                "  tender grant set orrin-fw --team accounts --reach 10.20.1.0/24 --dns 10.20.0.53",
                "  tender grant set orrin-fw staff --team ticket-desk --days 90 --renew",
                "  tender grant set pier2 --team masters --full-tunnel --dry-run"
            })
    static final class Put extends ClientCommand {
        @Parameters(index = "0", paramLabel = "GATEWAY")
        String gateway;

        @Parameters(
                index = "1",
                arity = "0..1",
                paramLabel = "LISTENER",
                description = "If the gateway has several listeners.")
        Optional<String> listener;

        @Option(names = "--team", required = true)
        String team;

        @Option(names = "--reach", paramLabel = "NETWORK", split = ",", description = "Reach instead of everyone's.")
        List<String> reach = List.of();

        @Option(names = "--full-tunnel", description = "Send everything through the tunnel.")
        boolean fullTunnel;

        @Option(
                names = "--dns",
                paramLabel = "ADDRESS",
                split = ",",
                description = "DNS servers instead of everyone's.")
        List<String> dns = List.of();

        @Option(
                names = "--days",
                description = "How long the team's profiles are valid, in days. Default: as for everyone")
        Optional<Integer> days;

        @Option(names = "--renew", description = "Renew profiles that differ from it now.")
        boolean renew;

        @Option(names = "--dry-run", description = "Show what would apply; write nothing.")
        boolean dryRun;

        @Override
        protected int run() {
            GrantApi.Grant v = calls().post(
                            "/grants",
                            new GrantApi.Put(
                                    gateway,
                                    listener,
                                    team,
                                    Optional.of(fullTunnel),
                                    Optional.of(reach),
                                    Optional.of(dns),
                                    days,
                                    Optional.of(renew),
                                    Optional.of(dryRun)),
                            GrantApi.Grant.class);
            if (terminal.json) {
                terminal.json(v);
                return 0;
            }
            terminal.print(v.team() + " at " + v.gateway() + " " + v.listener() + ": " + words(v));
            if (dryRun) {
                terminal.say("nothing was written");
            } else if (!v.behind().isEmpty()) {
                terminal.print("not yet so: " + String.join(", ", v.behind()));
                terminal.say("give them a new revision: the same again with --renew; then hand those out");
            } else if (renew) {
                terminal.say("every profile of the team follows it; hand out what is new: tender handout list");
            }
            return 0;
        }
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "What teams get at listeners if it differs from everyone else.")
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
            List<GrantApi.Grant> all = all(calls());
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("GATEWAY", "LISTENER", "TEAM", "GETS", "NOT YET SO"),
                        all.stream()
                                .map(v -> List.of(
                                        v.gateway(), v.listener(), v.team(), words(v), String.join(", ", v.behind())))
                                .toList(),
                        "every team gets what everyone gets; set another: tender grant set GATEWAY --team TEAM --reach NETWORK");
            }
            return 0;
        }
    }

    @Command(
            name = "drop",
            mixinStandardHelpOptions = true,
            description = "Remove a team's difference at a listener. Its profiles follow when they are renewed.",
            footer = {"", "  tender grant drop orrin-fw staff --team ticket-desk"})
    static final class Drop extends ClientCommand {
        @Parameters(index = "0", paramLabel = "GATEWAY")
        String gateway;

        @Parameters(index = "1", arity = "0..1", paramLabel = "LISTENER")
        Optional<String> listener;

        @Option(names = "--team", required = true)
        String team;

        @Override
        protected int run() {
            Calls calls = calls();
            List<GrantApi.Grant> those = all(calls).stream()
                    .filter(v -> v.gateway().equals(gateway) && v.team().equals(team))
                    .filter(v -> listener.isEmpty() || v.listener().equals(listener.get()))
                    .toList();
            if (those.size() != 1) {
                throw CallFailure.of(
                        ProblemCode.NOT_FOUND,
                        those.isEmpty()
                                ? "there is no such grant; see tender grant list"
                                : gateway + " has several for this team; name the listener");
            }
            calls.delete("/grants/" + those.get(0).id());
            terminal.say(team + " gets at " + gateway + " " + those.get(0).listener() + " what everyone gets");
            return 0;
        }
    }
}
