package tender.client;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.VariantApi;

/** Variants: what a team gets at a listener where it differs from everyone else. */
final class VariantCommands {
    private VariantCommands() {}

    private static List<VariantApi.Variant> all(Calls calls) {
        return calls.list("/variants", VariantApi.Variant.class, Integer.MAX_VALUE);
    }

    private static String words(VariantApi.Variant v) {
        return (v.fullTunnel()
                        ? "everything"
                        : v.reach().isEmpty() ? "what everyone reaches" : String.join(", ", v.reach()))
                + (v.dns().isEmpty() ? "" : ", names by " + String.join(", ", v.dns()))
                + v.lifeDays().map(d -> ", for " + d + " days").orElse("");
    }

    @Command(
            name = "set",
            mixinStandardHelpOptions = true,
            description = {
                "Set what a team gets at a listener where it differs from everyone else: reach, name servers, how long it lasts.",
                "It is a rule and no copy: the team's profiles follow it when they are issued and when they are renewed."
            },
            footer = {
                "",
                "  tender variant set orrin-fw --team accounts --reach 10.20.1.0/24 --dns 10.20.0.53",
                "  tender variant set orrin-fw staff --team ticket-desk --days 90 --renew",
                "  tender variant set pier2 --team masters --full-tunnel --dry-run"
            })
    static final class Put extends Verb {
        @Parameters(index = "0", paramLabel = "GATEWAY")
        String gateway;

        @Parameters(
                index = "1",
                arity = "0..1",
                paramLabel = "LISTENER",
                description = "Where the gateway has several.")
        Optional<String> listener;

        @Option(names = "--team", required = true)
        String team;

        @Option(
                names = "--reach",
                paramLabel = "NETWORK",
                split = ",",
                description = "In place of what everyone reaches.")
        List<String> reach = List.of();

        @Option(names = "--full-tunnel", description = "Send everything through the tunnel.")
        boolean fullTunnel;

        @Option(
                names = "--dns",
                paramLabel = "ADDRESS",
                split = ",",
                description = "Name servers in place of everyone's.")
        List<String> dns = List.of();

        @Option(names = "--days", description = "How long the team's profiles live. Default: as everyone's")
        Optional<Integer> days;

        @Option(names = "--renew", description = "Give those that differ from it a new revision at once.")
        boolean renew;

        @Option(names = "--dry-run", description = "Say what would count; write nothing.")
        boolean dryRun;

        @Override
        int run() {
            VariantApi.Variant v = calls().post(
                            "/variants",
                            new VariantApi.Put(
                                    gateway,
                                    listener,
                                    team,
                                    Optional.of(fullTunnel),
                                    Optional.of(reach),
                                    Optional.of(dns),
                                    days,
                                    Optional.of(renew),
                                    Optional.of(dryRun)),
                            VariantApi.Variant.class);
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
            description = "What teams get at listeners where it differs from everyone else.")
    static final class Ls extends Verb {
        @Override
        int run() {
            List<VariantApi.Variant> all = all(calls());
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("GATEWAY", "LISTENER", "TEAM", "GETS", "NOT YET SO"),
                        all.stream()
                                .map(v -> List.of(
                                        v.gateway(), v.listener(), v.team(), words(v), String.join(", ", v.behind())))
                                .toList(),
                        "every team gets what everyone gets; set another: tender variant set GATEWAY --team TEAM --reach NETWORK");
            }
            return 0;
        }
    }

    @Command(
            name = "drop",
            mixinStandardHelpOptions = true,
            description = "Let a team get at a listener what everyone gets. Its files follow when they are renewed.",
            footer = {"", "  tender variant drop orrin-fw staff --team ticket-desk"})
    static final class Drop extends Verb {
        @Parameters(index = "0", paramLabel = "GATEWAY")
        String gateway;

        @Parameters(index = "1", arity = "0..1", paramLabel = "LISTENER")
        Optional<String> listener;

        @Option(names = "--team", required = true)
        String team;

        @Override
        int run() {
            Calls calls = calls();
            List<VariantApi.Variant> those = all(calls).stream()
                    .filter(v -> v.gateway().equals(gateway) && v.team().equals(team))
                    .filter(v -> listener.isEmpty() || v.listener().equals(listener.get()))
                    .toList();
            if (those.size() != 1) {
                throw CallFailure.of(
                        ProblemCode.NOT_FOUND,
                        those.isEmpty()
                                ? "there is no such variant; see tender variant list"
                                : gateway + " has several for this team; name the listener");
            }
            calls.delete("/variants/" + those.get(0).id());
            terminal.say(team + " gets at " + gateway + " " + those.get(0).listener() + " what everyone gets");
            return 0;
        }
    }
}
