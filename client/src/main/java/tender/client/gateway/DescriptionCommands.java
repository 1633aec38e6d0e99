package tender.client.gateway;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.RemoveCommand;

/** Device descriptions. */
final class DescriptionCommands {
    private DescriptionCommands() {}

    @Command(name = "list", mixinStandardHelpOptions = true, description = "List device descriptions.")
    static final class Ls extends ClientCommand {
        @Override
        protected int run() {
            List<OfficeApi.Description> all = calls().list("/device-descriptions", OfficeApi.Description.class, 500);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("DESCRIPTION", "STATE", "DIGEST", "TITLE"),
                        all.stream()
                                .map(d -> List.of(
                                        d.name(),
                                        d.shipped() ? "shipped" : d.approved() ? "approved" : "to be approved",
                                        d.digest().substring(0, 16),
                                        d.title()))
                                .toList(),
                        "");
            }
            return 0;
        }
    }

    @Command(name = "show", mixinStandardHelpOptions = true, description = "Show a device description.")
    static final class Show extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected int run() {
            terminal.print(new String(
                            calls().send("GET", "/device-descriptions/" + name + "/text", null)
                                    .body(),
                            StandardCharsets.UTF_8)
                    .stripTrailing());
            return 0;
        }
    }

    @Command(
            name = "put",
            mixinStandardHelpOptions = true,
            description = "Add or change a device description; it takes effect when an owner approves it.")
    static final class Put extends ClientCommand {
        @Parameters(paramLabel = "FILE")
        Path file;

        @Override
        protected int run() {
            try {
                OfficeApi.Description d = calls().post(
                                "/device-descriptions",
                                new OfficeApi.PutDescription(Files.readString(file)),
                                OfficeApi.Description.class);
                if (terminal.json) {
                    terminal.json(d);
                    return 0;
                }
                terminal.print(d.name() + " " + d.digest());
                terminal.say("  do: tender description approve " + d.name() + " " + d.digest() + "   (an owner)");
                return 0;
            } catch (IOException e) {
                throw CallFailure.of(ProblemCode.MALFORMED, "the file cannot be read as text");
            }
        }
    }

    @Command(
            name = "check",
            mixinStandardHelpOptions = true,
            description =
                    "Look whether a description's files are on a gateway, also before it is approved. None of its commands is run.",
            footer = {"", "  tender description check plain-machine --gateway pier2"})
    static final class Check extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--gateway", required = true, description = "The gateway to look at.")
        String gateway;

        @Override
        protected int run() {
            OfficeApi.Recognition r = calls().post(
                            "/device-descriptions/" + name + "/check",
                            new OfficeApi.CheckDescription(gateway),
                            OfficeApi.Recognition.class);
            if (terminal.json) {
                terminal.json(r);
                return r.fits() ? 0 : 1;
            }
            terminal.print(name + (r.fits() ? " fits " : " does not fit ") + gateway);
            r.found().forEach(f -> terminal.print("  found    " + f));
            r.missing().forEach(f -> terminal.print("  missing  " + f));
            return r.fits() ? 0 : 1;
        }
    }

    @Command(name = "approve", mixinStandardHelpOptions = true, description = "Approve a description by its digest.")
    static final class Approve extends ClientCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Parameters(paramLabel = "DIGEST")
        String digest;

        @Override
        protected int run() {
            calls().post(
                            "/device-descriptions/" + name + "/approve",
                            new OfficeApi.ApproveDescription(digest),
                            OfficeApi.Description.class);
            terminal.say(name + " counts from now on");
            return 0;
        }
    }

    @Command(
            name = "remove",
            mixinStandardHelpOptions = true,
            description = "Remove a device description of your own that no gateway uses.",
            footer = {"", "  tender description remove plain-machine"})
    static final class Remove extends RemoveCommand {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        protected String path(Calls calls) {
            return "/device-descriptions/" + name;
        }
    }
}
