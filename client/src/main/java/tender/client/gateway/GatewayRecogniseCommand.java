package tender.client.gateway;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;

/** Looks what a device is. */
@Command(
        name = "recognise",
        mixinStandardHelpOptions = true,
        description = {
            "Look on the device which descriptions fit it: which of their files are there, and which of their commands can be run."
                    + " Nothing is changed on it. A machine with several VPN servers has several descriptions.",
            "Exit code 1 if none fits."
        },
        footer = {
            "",
            "  tender gateway recognise pier2",
            "  tender gateway set pier2 --description linux-wireguard+linux-network"
        })
final class GatewayRecogniseCommand extends ClientCommand {
    @Parameters(paramLabel = "GATEWAY")
    String gateway;

    @Override
    protected int run() {
        Calls calls = calls();
        OfficeApi.Gateway g = Found.gateway(calls, gateway);
        OfficeApi.Recognised r = calls.post("/gateways/" + g.id() + "/recognise", null, OfficeApi.Recognised.class);
        if (terminal.json) {
            terminal.json(r);
        } else {
            terminal.table(
                    List.of("DESCRIPTION", "FITS", "FOUND"),
                    r.descriptions().stream()
                            .map(d -> List.of(
                                    d.description(),
                                    d.fits() ? "yes" : "no",
                                    d.found().isEmpty() ? "nothing of it" : String.join(", ", d.found())))
                            .toList(),
                    "");
            terminal.say(
                    r.proposed().isEmpty()
                            ? "none fits; write one: see docs/device-descriptions.md"
                            : r.proposed().equals(g.description())
                                    ? gateway + " is described by " + r.proposed() + ", which fits"
                                    : "do: tender gateway set " + gateway + " --description " + r.proposed());
        }
        return r.proposed().isEmpty() ? 1 : 0;
    }
}
