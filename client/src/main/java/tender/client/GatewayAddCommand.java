package tender.client;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.core.credential.Secret;

@Command(
        name = "add",
        mixinStandardHelpOptions = true,
        description = "Add a gateway. Its identity is shown; compare it with the one on the device, then accept it.",
        footer = {
            "",
            "  tender gateway add pier2 --site pier-two --address 192.0.2.10 --user keeper --key-file ~/.ssh/keeper"
        })
final class GatewayAddCommand extends Verb {
    @Parameters(paramLabel = "NAME")
    String name;

    @Option(names = "--site", required = true)
    String site;

    @Option(names = "--address", description = "Name or address to manage it at.")
    Optional<String> address;

    @Option(names = "--port", description = "Port to manage it at. Default: 22")
    Optional<Integer> port;

    @Option(names = "--user", description = "As whom to sign in there. Default for https: bridge")
    Optional<String> user;

    @Option(
            names = "--key-file",
            description = "File with the private SSH key without a passphrase, or with a bridge's token.")
    Optional<Path> keyFile;

    @Option(names = "--connector", description = "ssh, https (the bridge interface) or file. Default: ssh")
    Optional<String> connector;

    @Option(
            names = "--description",
            description = "The kind of box; tender description list shows them. Default: plain-router")
    Optional<String> description;

    @Option(names = "--read-only", description = "Refuse every change of it.")
    boolean readOnly;

    @Option(names = "--kind", description = "router, nas or firewall. Default: router")
    Optional<String> kind;

    @Option(
            names = "--inside-host",
            description = "A host inside that answers echo; proofs rest on it. Default: what the gateway says")
    Optional<String> insideHost;

    @Option(names = "--endpoint", description = "Name or address that clients call. Default: what the gateway says")
    Optional<String> endpoint;

    @Override
    int run() {
        Secret key;
        try {
            key = Secret.of(keyFile.isPresent() ? Files.readString(keyFile.get()) : "");
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "the key file cannot be read");
        }
        OfficeApi.Gateway g = calls().post(
                        "/gateways",
                        new OfficeApi.AddGateway(
                                name,
                                site,
                                kind,
                                address.orElse(""),
                                port,
                                user.orElse("bridge"),
                                key,
                                insideHost,
                                endpoint,
                                connector,
                                description,
                                Optional.of(readOnly)),
                        OfficeApi.Gateway.class);
        if (terminal.json) {
            terminal.json(g);
        } else if (g.identityAccepted()) {
            terminal.print(g.name() + " is added");
            terminal.say("  do: copy its files and drop them:   tender gateway drop " + g.name() + " FOLDER");
        } else {
            terminal.print(g.name() + " shows the identity " + g.identity());
            terminal.say(
                    "  do: compare it on the device, then   tender gateway accept " + g.name() + " " + g.identity());
        }
        return 0;
    }
}
