package tender.client.gateway;

import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.client.command.ClientCommand;

@Command(
        name = "add",
        mixinStandardHelpOptions = true,
        description = "Add a gateway. Its identity is shown; compare it with the one on the device, then accept it.",
        footer = {
            "",
            "  tender gateway add pier2 --site pier-two --address 192.0.2.10 --user keeper --key-file ~/.ssh/keeper"
        })
final class GatewayAddCommand extends ClientCommand {
    @Parameters(paramLabel = "NAME")
    String name;

    @Option(names = "--site", description = "Default: the only site; without any, a site named office is created")
    Optional<String> site;

    @Mixin
    SignInOptions signIn;

    @Option(
            names = "--connector",
            description = "ssh, https (the gateway API), file, or manual: you manage it by hand. Default: ssh")
    Optional<String> connector;

    @Option(
            names = "--description",
            description = "The device description; see tender description list. Default: plain-router")
    Optional<String> description;

    @Option(names = "--read-only", description = "Refuse every change to this gateway.")
    boolean readOnly;

    @Option(names = "--kind", description = "router, nas or firewall. Default: router")
    Optional<String> kind;

    @Option(
            names = "--inside-host",
            description = "A host inside that answers ping; proofs depend on it. Default: what the gateway says")
    Optional<String> insideHost;

    @Option(
            names = "--endpoint",
            description = "Name or address that clients connect to. Default: what the gateway says")
    Optional<String> endpoint;

    @Override
    protected int run() {
        OfficeApi.Gateway g = calls().post(
                        "/gateways",
                        new OfficeApi.AddGateway(
                                name,
                                site,
                                kind,
                                signIn.address.orElse(""),
                                signIn.port,
                                signIn.user.orElse("api"),
                                signIn.key(),
                                signIn.passphrase(),
                                signIn.password(),
                                signIn.jump,
                                signIn.identity,
                                insideHost,
                                endpoint,
                                connector,
                                description,
                                Optional.of(readOnly)),
                        OfficeApi.Gateway.class);
        if (terminal.json) {
            terminal.json(g);
        } else if (g.connector().equals("manual")) {
            terminal.print(g.name() + " is added; you manage it by hand");
            terminal.say("  do: enter its listeners:   tender gateway listener " + g.name()
                    + " LISTENER --set protocol=wireguard --set port=51820");
        } else if (g.connector().equals("file")) {
            terminal.print(g.name() + " is added");
            terminal.say("  do: copy its files and load them:   tender gateway load " + g.name() + " FOLDER");
        } else if (g.identityAccepted()) {
            terminal.print(g.name() + " is added, its identity is accepted, and Tender reads it now");
            terminal.say("  do: tender gateway show " + g.name());
        } else {
            terminal.print(g.name() + " is added; its host key is " + g.identity());
            terminal.say("  do: compare it on the device, with any of its host keys, then   tender gateway accept "
                    + g.name() + " \"" + g.identity() + "\"");
        }
        return 0;
    }
}
