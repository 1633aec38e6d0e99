package tender.client.gateway;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.CertificateApi;
import tender.api.ChangeApi;
import tender.api.OfficeApi;
import tender.client.change.ChangeCommands;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;

/** A listener shows a certificate of our own authority from now on. */
@Command(
        name = "certificate",
        mixinStandardHelpOptions = true,
        description = {
            "Issue a certificate for a listener from one of your authorities. The device creates the key; the key never leaves it.",
            "Profiles that trust another authority stop working at this listener. Renew them."
        },
        footer = {
            "",
            "  tender gateway certificate orrin-fw phones --authority skerrivane --name orrin.skerrivane.example"
        })
final class GatewayCertificateCommand extends ClientCommand {
    @Parameters(paramLabel = "GATEWAY")
    String gateway;

    @Parameters(paramLabel = "LISTENER")
    String listener;

    @Option(names = "--authority", required = true, description = "The authority that signs.")
    String authority;

    @Option(
            names = "--name",
            description =
                    "A name that clients connect to; can be repeated. Default: the names in its present certificate")
    List<String> names = List.of();

    @Option(names = "--days", description = "How long the certificate is valid, in days. Default: 365")
    Optional<Integer> days;

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    @Override
    protected int run() {
        Calls calls = calls();
        OfficeApi.Gateway g = Found.gateway(calls, gateway);
        if (!terminal.confirmed(
                listener + " of " + gateway + " will show a certificate of " + authority
                        + " and let nobody in by another authority's. Go on?",
                yes)) {
            return 1;
        }
        return ChangeCommands.await(
                terminal,
                calls,
                calls.post(
                        "/gateways/" + g.id() + "/certificate",
                        new CertificateApi.Certify(listener, authority, Optional.of(names), days),
                        ChangeApi.Ordered.class));
    }
}
