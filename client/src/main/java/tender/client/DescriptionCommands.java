package tender.client;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.api.ProblemCode;

/** Kinds of box. */
final class DescriptionCommands {
    private DescriptionCommands() {}

    @Command(name = "list", mixinStandardHelpOptions = true, description = "All device descriptions.")
    static final class Ls extends Verb {
        @Override
        int run() {
            List<OfficeApi.Description> all = calls().list("/device-descriptions", OfficeApi.Description.class, 500);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("DESCRIPTION", "STATE", "DIGEST", "KIND OF BOX"),
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

    @Command(name = "show", mixinStandardHelpOptions = true, description = "A description's text.")
    static final class Show extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        int run() {
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
            description = "Add or change a description of the company's own; it counts once an owner approves it.")
    static final class Put extends Verb {
        @Parameters(paramLabel = "FILE")
        Path file;

        @Override
        int run() {
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

    @Command(name = "approve", mixinStandardHelpOptions = true, description = "Approve a description by its digest.")
    static final class Approve extends Verb {
        @Parameters(paramLabel = "NAME")
        String name;

        @Parameters(paramLabel = "DIGEST")
        String digest;

        @Override
        int run() {
            calls().post(
                            "/device-descriptions/" + name + "/approve",
                            new OfficeApi.ApproveDescription(digest),
                            OfficeApi.Description.class);
            terminal.say(name + " counts from now on");
            return 0;
        }
    }
}
