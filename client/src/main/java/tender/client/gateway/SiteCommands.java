package tender.client.gateway;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Json;
import tender.client.command.RemoveCommand;

/** Sites. */
final class SiteCommands {
    private SiteCommands() {}

    private static List<String> row(OfficeApi.Site s) {
        return List.of(
                s.name(),
                s.title(),
                s.domain(),
                s.networks().entrySet().stream()
                        .map(n -> n.getKey() + " " + n.getValue())
                        .collect(Collectors.joining(", ")));
    }

    @Command(
            name = "add",
            mixinStandardHelpOptions = true,
            description = "Add a site.",
            footer = {"", "  tender site add pier-two --title \"Pier two\" --network office=10.20.4.0/24"})
    static final class Add extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--title", description = "The site's display name.")
        Optional<String> title;

        @Option(
                names = "--network",
                paramLabel = "NAME=CIDR",
                description = "A network there; may be given several times.")
        Map<String, String> networks = Map.of();

        @Option(
                names = "--domain",
                description = "Routing domain; equal networks in different domains do not conflict. Default: company")
        Optional<String> domain;

        @Option(names = "--zone", description = "Time zone, such as Europe/Oslo. Default: UTC")
        Optional<String> zone;

        @Override
        protected int run() {
            OfficeApi.Site site = calls().post(
                            "/sites",
                            new OfficeApi.AddSite(name, title, domain, zone, Optional.of(networks)),
                            OfficeApi.Site.class);
            if (terminal.json) {
                terminal.json(site);
            } else {
                terminal.say(site.name() + " was added"
                        + (site.networks().isEmpty()
                                ? ""
                                : " with " + String.join(", ", site.networks().keySet())));
            }
            return 0;
        }
    }

    @Command(
            name = "show",
            mixinStandardHelpOptions = true,
            description = "Show a site, its networks and its gateways.")
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            OfficeApi.Site s = calls.get("/sites/named/" + name, OfficeApi.Site.class);
            if (terminal.json) {
                terminal.json(s);
                return 0;
            }
            terminal.print(s.name() + ", " + s.title());
            terminal.print("  domain     " + s.domain());
            s.networks().forEach((network, cidr) -> terminal.print("  network    " + network + " " + cidr));
            calls.list(Calls.query("/gateways", Map.of("site", Optional.of(s.name()))), OfficeApi.Gateway.class, 1_000)
                    .forEach(g -> terminal.print("  gateway    " + g.name() + ", " + GatewayCommands.state(g)));
            return 0;
        }
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List sites.")
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
            List<OfficeApi.Site> all = calls().list("/sites", OfficeApi.Site.class, 10_000);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("SITE", "TITLE", "DOMAIN", "NETWORKS"),
                        all.stream().map(SiteCommands::row).toList(),
                        "no sites yet; add one: tender site add NAME --network office=CIDR");
            }
            return 0;
        }
    }

    @Command(
            name = "set",
            mixinStandardHelpOptions = true,
            description = "Change a site: its name, title, time zone and networks.",
            footer = {"", "  tender site set pier-two --network cameras=10.20.40.0/24 --drop guests"})
    static final class Set extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--name", paramLabel = "NEW", description = "What it is called from now on.")
        Optional<String> newName;

        @Option(names = "--title", description = "What people call the place.")
        Optional<String> title;

        @Option(names = "--zone", description = "Time zone, such as Europe/Oslo.")
        Optional<String> zone;

        @Option(names = "--network", paramLabel = "NAME=CIDR", description = "Add or change this network.")
        Map<String, String> networks = Map.of();

        @Option(names = "--drop", paramLabel = "NAME", description = "Remove this network.")
        List<String> drop = List.of();

        @Override
        protected int run() {
            Calls calls = calls();
            Calls.Reply reply = calls.getVersioned("/sites/named/" + name);
            OfficeApi.Site site = Json.read(reply.body(), OfficeApi.Site.class);
            OfficeApi.Site now = calls.patch(
                    "/sites/" + site.id(),
                    new OfficeApi.SetSite(newName, title, zone, Optional.of(networks), Optional.of(drop)),
                    reply.version().orElse(""),
                    OfficeApi.Site.class);
            terminal.say(now.name() + " was changed; see tender finding list");
            return 0;
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Remove a site. Its gateways have to be removed first.",
            footer = {"", "  tender site remove winter-store"})
    static final class Remove extends RemoveCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected String path(Calls calls) {
            return "/sites/"
                    + calls.get("/sites/named/" + name, OfficeApi.Site.class).id();
        }
    }
}
