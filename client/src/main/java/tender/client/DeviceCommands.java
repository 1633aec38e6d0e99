package tender.client;

import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.PersonApi;

/** Devices. */
final class DeviceCommands {
    private DeviceCommands() {}

    @Command(
            name = "add",
            mixinStandardHelpOptions = true,
            description = "Add a device to a person.",
            footer = {"", "  tender device add mara phone --kind phone --system \"Android 15\""})
    static final class Add extends Verb {
        @Parameters(paramLabel = "PERSON")
        String person;

        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--kind", required = true, description = "laptop, phone, tablet, travel-router or server")
        String kind;

        @Option(names = "--system", description = "Operating system and release.")
        Optional<String> system;

        @Override
        int run() {
            PersonApi.Device d = calls().post(
                            "/people/" + person + "/devices",
                            new PersonApi.AddDevice(name, kind, system),
                            PersonApi.Device.class);
            if (terminal.json) {
                terminal.json(d);
            } else {
                terminal.say(person + " has the " + d.kind() + " " + d.name());
                terminal.say("  do: tender profile issue " + person + " " + d.name() + " --gateway GATEWAY");
            }
            return 0;
        }
    }
}
