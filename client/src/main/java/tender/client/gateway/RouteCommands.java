package tender.client.gateway;

import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.WalkApi;
import tender.client.command.ClientCommand;

/** The way from a device to a host inside. */
final class RouteCommands {
    private RouteCommands() {}

    @Command(
            name = "walk",
            mixinStandardHelpOptions = true,
            description =
                    "Walk the route hop by hop, from the records, before anyone tries. Exit code 1 if a hop fails.",
            footer = {
                "",
                "  tender route walk mara-phone-pier2 --to 10.20.4.20",
                "  tender route walk mara-phone-pier2 --from hotel --lan 192.168.1.0/24 --to 10.20.4.20 --port tcp:445",
                "  tender route walk mara-phone-pier2 --from hotel --only-web --to 10.20.4.20"
            })
    static final class Walk extends ClientCommand {
        @Parameters(paramLabel = "PROFILE")
        String profile;

        @Option(names = "--from", description = "hotel, home, carrier or office. Default: hotel")
        String from = "hotel";

        @Option(names = "--lan", description = "The network the device is in there.")
        Optional<String> lan;

        @Option(names = "--only-web", description = "Only TCP 443 is allowed out there.")
        boolean onlyWeb;

        @Option(names = "--site", description = "The office, with --from office.")
        Optional<String> site;

        @Option(names = "--to", required = true, description = "An inside host's address.")
        String to;

        @Option(names = "--port", description = "The port of the host, such as tcp:445. Default: ping")
        Optional<String> port;

        @Override
        protected int run() {
            WalkApi.Path path = calls().post(
                            "/walks",
                            new WalkApi.Question(
                                    profile,
                                    from,
                                    lan,
                                    Optional.of(onlyWeb),
                                    site,
                                    to,
                                    port.map(d -> d.replace(':', ' '))),
                            WalkApi.Path.class);
            if (terminal.json) {
                terminal.json(path);
            } else {
                path.hops()
                        .forEach(h -> terminal.print(String.format(
                                "  %s %-15s %-22s %s   [%s]",
                                mark(h.verdict()), h.hop(), h.place(), h.detail(), h.decidedBy())));
                terminal.print(
                        path.passes()
                                ? "every hop lets it through, as far as the records tell"
                                : "stops at: " + path.failsAt().orElse(""));
                path.remedy().ifPresent(r -> terminal.print("  do: " + r));
            }
            return path.passes() ? 0 : 1;
        }

        private static String mark(String verdict) {
            return verdict.equals("passes") ? "ok     " : verdict.equals("fails") ? "FAILS  " : "unknown";
        }
    }
}
