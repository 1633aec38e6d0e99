package tender.client;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;

@Command(
        name = "set",
        mixinStandardHelpOptions = true,
        description = "Set what operators know of a gateway: what clients call, how it is reached, and more.",
        footer = {
            "",
            "  tender gateway set pier2 --endpoint pier2.skerrivane.example",
            "  tender gateway set slip-nas --uplink behind:slip-front",
            "  tender gateway set pier2 --uplink \"fixed:192.0.2.10 pier2.skerrivane.example 100/20\" --factory changed"
        })
final class GatewaySetCommand extends Verb {
    @Parameters(paramLabel = "NAME")
    String name;

    @Option(names = "--inside-host", description = "A host inside that answers echo.")
    Optional<String> insideHost;

    @Option(
            names = "--endpoint",
            description = "Names or addresses that clients call, in order, parted by commas, without the port.")
    Optional<String> endpoint;

    @Option(
            names = "--uplink",
            description =
                    "fixed:ADDRESS [NAME] [DOWN/UP], changing:NAME, behind:GATEWAY or carrier-nat; bandwidth in Mbit/s.")
    List<String> uplinks = List.of();

    @Option(names = "--factory", description = "Whether factory credentials still work: changed or still-work.")
    Optional<String> factory;

    @Option(names = "--read-only", arity = "1", description = "true refuses every change of it.")
    Optional<Boolean> readOnly;

    @Option(names = "--description", description = "The kind of box.")
    Optional<String> description;

    @Option(names = "--joined-with", description = "A gateway it is joined with as one network.")
    Optional<String> joinedWith;

    @Override
    int run() {
        Calls calls = calls();
        Calls.Reply reply = calls.getVersioned("/gateways/named/" + name);
        OfficeApi.Gateway g = Json.read(reply.body(), OfficeApi.Gateway.class);
        GatewayCommands.show(
                terminal,
                calls.patch(
                        "/gateways/" + g.id(),
                        new OfficeApi.SetGateway(
                                insideHost,
                                endpoint,
                                uplinks.isEmpty() ? Optional.empty() : Optional.of(uplinks),
                                factory,
                                readOnly,
                                description,
                                joinedWith),
                        reply.version().orElse(""),
                        OfficeApi.Gateway.class));
        terminal.say("files handed out before may no longer fit: tender finding list");
        return 0;
    }
}
