package tender.client.gateway;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Json;

@Command(
        name = "set",
        mixinStandardHelpOptions = true,
        description =
                "Set what you know about a gateway and how Tender signs in to it. A changed sign-in is tried before it is kept.",
        footer = {
            "",
            "  tender gateway set pier2 --endpoint pier2.skerrivane.example",
            "  tender gateway set slip-nas --uplink behind:slip-front",
            "  tender gateway set pier2 --address 192.0.2.14 --key-file ~/.ssh/pier2",
            "  tender gateway set pier2 --uplink \"fixed:192.0.2.10 pier2.skerrivane.example 100/20\" --factory changed"
        })
final class GatewaySetCommand extends ClientCommand {
    @Parameters(paramLabel = "NAME")
    String name;

    @Option(
            names = "--name",
            paramLabel = "NEW",
            description = "What it is called from now on. Profiles and files that were handed out work on.")
    Optional<String> newName;

    @Option(names = "--kind", description = "router, nas or firewall.")
    Optional<String> kind;

    @Mixin
    SignInOptions signIn;

    @Option(names = "--inside-host", description = "A host inside that answers ping.")
    Optional<String> insideHost;

    @Option(
            names = "--endpoint",
            description =
                    "Names or addresses that clients connect to, in order, separated by commas, without the port.")
    Optional<String> endpoint;

    @Option(
            names = "--uplink",
            description =
                    "fixed:ADDRESS [NAME] [DOWN/UP], changing:NAME, behind:GATEWAY or carrier-nat; bandwidth in Mbit/s.")
    List<String> uplinks = List.of();

    @Option(names = "--factory", description = "Whether the factory password still works: changed or still-work.")
    Optional<String> factory;

    @Option(
            names = "--read-only",
            arity = "1",
            description = "true: Tender never writes there; changes become instructions.")
    Optional<Boolean> readOnly;

    @Option(
            names = "--contact",
            paramLabel = "MAIL",
            description =
                    "Who does by hand there what Tender cannot; gets a mail when something is to be done. \"\": nobody")
    Optional<String> contact;

    @Option(names = "--description", description = "The device description.")
    Optional<String> description;

    @Option(names = "--joined-with", description = "A gateway it is joined with as one network.")
    Optional<String> joinedWith;

    @Override
    protected int run() {
        Calls calls = calls();
        Calls.Reply reply = calls.getVersioned("/gateways/named/" + name);
        OfficeApi.Gateway g = Json.read(reply.body(), OfficeApi.Gateway.class);
        GatewayCommands.show(
                terminal,
                calls.patch(
                        "/gateways/" + g.id(),
                        new OfficeApi.SetGateway(
                                newName,
                                kind,
                                signIn.address,
                                signIn.port,
                                signIn.user,
                                signIn.key(),
                                signIn.passphrase(),
                                signIn.password(),
                                signIn.jump,
                                signIn.identity,
                                insideHost,
                                endpoint,
                                uplinks.isEmpty() ? Optional.empty() : Optional.of(uplinks),
                                factory,
                                readOnly,
                                contact,
                                description,
                                joinedWith),
                        reply.version().orElse(""),
                        OfficeApi.Gateway.class));
        newName.ifPresent(n -> terminal.say(name + " is called " + n + " now"));
        if (endpoint.isPresent() || !uplinks.isEmpty()) {
            terminal.say("files handed out before may no longer fit: tender finding list");
        }
        return 0;
    }
}
