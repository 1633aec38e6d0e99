package tender.client;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;

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
    static final class Add extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--title", description = "The site's name as people say it.")
        Optional<String> title;

        @Option(
                names = "--network",
                paramLabel = "NAME=CIDR",
                description = "A network there; may be given several times.")
        Map<String, String> networks = Map.of();

        @Option(
                names = "--domain",
                description = "Routing domain; equal networks in different domains are no clash. Default: company")
        Optional<String> domain;

        @Option(names = "--zone", description = "Time zone, such as Europe/Oslo. Default: UTC")
        Optional<String> zone;

        @Override
        int run() {
            OfficeApi.Site site = calls().post(
                            "/sites",
                            new OfficeApi.AddSite(name, title, domain, zone, Optional.of(networks)),
                            OfficeApi.Site.class);
            if (terminal.json) {
                terminal.json(site);
            } else {
                terminal.say(site.name() + " was added with " + site.networks().size() + " networks");
            }
            return 0;
        }
    }

    @Command(name = "list", mixinStandardHelpOptions = true, description = "All sites.")
    static final class Ls extends Verb {
        @Override
        int run() {
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
            description = "Put or drop networks of a site.",
            footer = {"", "  tender site set pier-two --network cameras=10.20.40.0/24 --drop guests"})
    static final class Set extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--network", paramLabel = "NAME=CIDR", description = "A network to put.")
        Map<String, String> networks = Map.of();

        @Option(names = "--drop", paramLabel = "NAME", description = "A network that is no more.")
        List<String> drop = List.of();

        @Override
        int run() {
            Calls calls = calls();
            Calls.Reply reply = calls.getVersioned("/sites/named/" + name);
            OfficeApi.Site site = Json.read(reply.body(), OfficeApi.Site.class);
            OfficeApi.Site now = calls.patch(
                    "/sites/" + site.id(),
                    new OfficeApi.SetSite(Optional.of(networks), Optional.of(drop)),
                    reply.version().orElse(""),
                    OfficeApi.Site.class);
            terminal.say(now.name() + " has " + now.networks().size() + " networks; see tender finding list");
            return 0;
        }
    }
}
