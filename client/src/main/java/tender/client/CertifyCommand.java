package tender.client;

import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.CertificateApi;
import tender.api.ChangeApi;
import tender.api.OfficeApi;

/** A listener shows a certificate of our own authority from now on. */
@Command(
        name = "certify",
        mixinStandardHelpOptions = true,
        description = {
            "Give a listener a certificate of one of our authorities. The device makes the key, which never leaves it.",
            "Profiles that believe another authority stop working at this listener: renew them."
        },
        footer = {"", "  tender gateway certify orrin-fw phones --authority skerrivane --name orrin.skerrivane.example"
        })
final class CertifyCommand extends Verb {
    @Parameters(paramLabel = "GATEWAY")
    String gateway;

    @Parameters(paramLabel = "LISTENER")
    String listener;

    @Option(names = "--authority", required = true, description = "Which authority signs.")
    String authority;

    @Option(
            names = "--name",
            description = "What callers call; may be repeated. Default: the names of its certificate until now")
    List<String> names = List.of();

    @Option(names = "--days", description = "The certificate's life. Default: 365")
    Optional<Integer> days;

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    @Override
    int run() {
        Calls calls = calls();
        OfficeApi.Gateway g = GatewayCommands.find(calls, gateway);
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
