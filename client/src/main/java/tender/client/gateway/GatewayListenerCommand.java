package tender.client.gateway;

import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;

/** Enters what a listener of a gateway managed by hand is set to. */
@Command(
        name = "listener",
        mixinStandardHelpOptions = true,
        description = {
            "Enter how a listener is set on a gateway that you manage by hand. A listener that Tender does not know is added.",
            "An empty value removes what was known. tender explain settings lists the settings."
        },
        footer = {
            "",
            "  tender gateway listener pier5 wireguard --set protocol=wireguard --set port=51820",
            "  tender gateway listener pier5 wireguard --set public-key=KEY --set tunnel-network=10.99.5.0/24",
            "  tender gateway listener pier5 wireguard --set port=443",
            "  tender gateway listener pier5 wireguard --remove"
        })
final class GatewayListenerCommand extends ClientCommand {
    @Parameters(index = "0", paramLabel = "GATEWAY")
    String gateway;

    @Parameters(index = "1", paramLabel = "LISTENER")
    String listener;

    @Option(names = "--set", paramLabel = "SETTING=VALUE", description = "What a setting is on the device.")
    Map<String, Optional<String>> settings = Map.of();

    @Option(names = "--remove", description = "The device has this listener no longer.")
    boolean remove;

    @Option(names = "--yes", description = "Do not ask.")
    boolean yes;

    @Override
    protected int run() {
        Calls calls = calls();
        String path = "/gateways/" + Found.gateway(calls, gateway).id() + "/listeners/" + listener;
        if (remove) {
            if (!terminal.confirmed("Remove listener " + listener + " of " + gateway + "?", yes)) {
                return 1;
            }
            calls.delete(path);
            terminal.say(listener + " of " + gateway + " was removed");
            return 0;
        }
        Map<String, String> values = new java.util.LinkedHashMap<>();
        settings.forEach((word, value) -> values.put(word, value.orElse("")));
        OfficeApi.Gateway g = calls.post(path, new OfficeApi.EnterListener(values), OfficeApi.Gateway.class);
        if (terminal.json) {
            terminal.json(g);
        } else {
            terminal.say(listener + " of " + gateway + " was entered; see tender gateway facts " + gateway);
        }
        return 0;
    }
}
