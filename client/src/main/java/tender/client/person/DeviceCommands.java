package tender.client.person;

import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.PersonApi;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.RemoveCommand;

/** Devices. */
final class DeviceCommands {
    private DeviceCommands() {}

    @Command(
            name = "add",
            mixinStandardHelpOptions = true,
            description = "Add a device to a person.",
            footer = {"", "  tender device add mara phone --kind phone --system \"Android 15\""})
    static final class Add extends ClientCommand {
        @Parameters(paramLabel = "PERSON")
        String person;

        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--kind", required = true, description = "laptop, phone, tablet, travel-router or server")
        String kind;

        @Option(names = "--system", description = "Operating system and release.")
        Optional<String> system;

        @Override
        protected int run() {
            PersonApi.Device d = calls().post(
                            "/people/" + person + "/devices",
                            new PersonApi.AddDevice(name, kind, system),
                            PersonApi.Device.class);
            if (terminal.json) {
                terminal.json(d);
            } else {
                terminal.say(person + "'s " + d.name() + " was added");
                terminal.say("  do: tender profile issue " + person + " " + d.name() + " --gateway GATEWAY");
            }
            return 0;
        }
    }

    @Command(
            name = "set",
            mixinStandardHelpOptions = true,
            description = "Change a device: its name, kind and operating system.",
            footer = {"", "  tender device set mara phone --system \"Android 16\""})
    static final class Put extends ClientCommand {
        @Parameters(paramLabel = "PERSON")
        String person;

        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--name", paramLabel = "NEW", description = "What it is called from now on.")
        Optional<String> newName;

        @Option(names = "--kind", description = "laptop, phone, tablet, travel-router or server")
        Optional<String> kind;

        @Option(names = "--system", description = "Operating system and release.")
        Optional<String> system;

        @Override
        protected int run() {
            PersonApi.Device d = calls().post(
                            "/people/" + person + "/devices/" + name,
                            new PersonApi.SetDevice(newName, kind, system),
                            PersonApi.Device.class);
            if (terminal.json) {
                terminal.json(d);
            } else {
                terminal.say(person + "'s " + d.name() + ": " + d.kind()
                        + (d.system().isEmpty() ? "" : ", " + d.system()));
            }
            return 0;
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Remove a device. Its profiles have to be withdrawn first.",
            footer = {"", "  tender device remove mara phone"})
    static final class Remove extends RemoveCommand {
        @Parameters(paramLabel = "PERSON")
        String person;

        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected String path(Calls calls) {
            return "/people/" + person + "/devices/" + name;
        }
    }
}
