package tender.client.instruction;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.InstructionApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Terminal;
import tender.core.credential.RevealSecret;

/** What somebody has to do by hand at gateways. */
final class InstructionCommands {
    private static final int MOST = 1_000;

    private InstructionCommands() {}

    /** How an instruction is named here: by its profile's label, or by the end of its id. */
    private static String name(InstructionApi.Instruction i) {
        return i.profileId().isPresent() ? i.subject() : Found.shortId(i.id());
    }

    private static InstructionApi.Instruction find(Calls calls, String name) {
        List<InstructionApi.Instruction> all = calls.list("/instructions", InstructionApi.Instruction.class, MOST);
        return all.stream()
                .filter(i -> name.equals(name(i)) || name.equals(i.id()))
                .findFirst()
                .orElseThrow(() -> CallFailure.of(
                        ProblemCode.NOT_FOUND,
                        "no instruction " + name + " is open; tender instruction list names those that are"));
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description = "List what somebody has to do by hand at gateways, oldest first.",
            footer = {"", "  tender instruction list", "  tender instruction list --gateway slip-router --json"})
    static final class Ls extends ClientCommand {
        @Option(names = "--gateway", description = "At this gateway.")
        Optional<String> gateway;

        @Override
        protected int run() {
            Calls calls = calls();
            List<InstructionApi.Instruction> all = calls.list(
                    Calls.query(
                            "/instructions",
                            Map.of(
                                    "gateway",
                                    gateway.map(g -> Found.gateway(calls, g).id()))),
                    InstructionApi.Instruction.class,
                    MOST);
            if (terminal.json) {
                terminal.json(all);
            } else {
                terminal.table(
                        List.of("INSTRUCTION", "GATEWAY", "OPEN SINCE", "ASKED", "WHAT"),
                        all.stream()
                                .map(i -> List.of(
                                        name(i),
                                        i.gateway(),
                                        Terminal.ago(i.askedAt()),
                                        i.askedOf().orElse("nobody yet"),
                                        i.words().replaceFirst("^to be [a-z]+ at [^:]+: ", "")))
                                .toList(),
                        "nothing is to be done by hand");
            }
            return 0;
        }
    }

    @Command(
            name = "show",
            mixinStandardHelpOptions = true,
            description =
                    "Show what to do for one instruction: the values to enter, and the text to copy, which may contain a secret.",
            footer = {"", "  tender instruction show mara-phone-hut-west", "  tender instruction show 3f9c01aa"})
    static final class Show extends ClientCommand {
        @Parameters(
                paramLabel = "INSTRUCTION",
                description = "A profile's label, or as tender instruction list shows it.")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            InstructionApi.Shown shown =
                    calls.post("/instructions/" + find(calls, name).id() + "/show", null, InstructionApi.Shown.class);
            if (terminal.json) {
                terminal.json(shown);
                return 0;
            }
            terminal.print("On " + shown.instruction().gateway() + ": " + shown.what());
            shown.values().forEach(v -> terminal.print("  " + v.label() + ": " + v.value()));
            if (!shown.why().isEmpty()) {
                terminal.print("why         " + shown.why());
            }
            terminal.print("cut off     " + shown.cuts());
            terminal.print("afterwards  " + shown.check());
            terminal.say("  do: tender instruction done " + name);
            shown.texts()
                    .forEach(t -> terminal.print(
                            "\n" + t.label() + ", to copy:\n\n" + t.text().revealText(RevealSecret.TO_HAND_OUT)));
            return 0;
        }
    }

    @Command(
            name = "done",
            mixinStandardHelpOptions = true,
            description =
                    "Say that an instruction is carried out. Tender checks it at once; it stays open where a trial shows otherwise.",
            footer = {"", "  tender instruction done mara-phone-hut-west"})
    static final class Done extends ClientCommand {
        @Parameters(paramLabel = "INSTRUCTION")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            InstructionApi.Checked checked =
                    calls.post("/instructions/" + find(calls, name).id() + "/done", null, InstructionApi.Checked.class);
            if (terminal.json) {
                terminal.json(checked);
            } else if (checked.done()) {
                terminal.print(
                        name + ": " + (checked.found().isEmpty() ? "a trial shows that it is done" : checked.found()));
            } else {
                terminal.print(name + ": it stays open: " + checked.found());
            }
            return checked.done() ? 0 : 1;
        }
    }

    @Command(
            name = "cancel",
            mixinStandardHelpOptions = true,
            description =
                    "Cancel a change that was to be made by hand. What is to be done for a profile ends with the profile.",
            footer = {"", "  tender instruction cancel 3f9c01aa"})
    static final class Cancel extends ClientCommand {
        @Parameters(paramLabel = "INSTRUCTION")
        String name;

        @Override
        protected int run() {
            Calls calls = calls();
            calls.post("/instructions/" + find(calls, name).id() + "/cancel", null, null);
            terminal.say("cancelled");
            return 0;
        }
    }

    @Command(
            name = "send",
            mixinStandardHelpOptions = true,
            description = {
                "Send all that is to be done by hand at a gateway by mail, also the client files that are requested there. The mail"
                        + " contains no secret.",
                "A gateway with a contact gets its mail without this, within half a minute: tender gateway set GATEWAY --contact MAIL"
            },
            footer = {
                "",
                "  tender instruction send slip-router",
                "  tender instruction send slip-router --to it@harbour-it.example"
            })
    static final class Send extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Option(names = "--to", paramLabel = "MAIL", description = "To this address. Default: the gateway's contact")
        Optional<String> to;

        @Override
        protected int run() {
            Calls calls = calls();
            InstructionApi.Sent sent = calls.post(
                    "/gateways/" + Found.gateway(calls, gateway).id() + "/instructions/send",
                    new InstructionApi.Send(to),
                    InstructionApi.Sent.class);
            if (terminal.json) {
                terminal.json(sent);
            } else {
                terminal.print(sent.instructions() + (sent.instructions() == 1 ? " thing" : " things")
                        + " to do sent to " + sent.to());
            }
            return 0;
        }
    }

    @Command(
            name = "sheet",
            mixinStandardHelpOptions = true,
            description =
                    "Write all that is to be done by hand at a gateway into a PDF to print, with the texts to copy, which may contain secrets.",
            footer = {"", "  tender instruction sheet slip-router --out to-do.pdf"})
    static final class Sheet extends ClientCommand {
        @Parameters(paramLabel = "GATEWAY")
        String gateway;

        @Option(names = "--out", paramLabel = "FILE", description = "Default: GATEWAY-to-do.pdf")
        Optional<Path> out;

        @Override
        protected int run() {
            Calls calls = calls();
            byte[] pdf =
                    calls.download("/gateways/" + Found.gateway(calls, gateway).id() + "/instructions/sheet", null);
            Path file = out.orElse(Path.of(gateway + "-to-do.pdf"));
            try {
                Files.createFile(
                        file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
                Files.write(file, pdf);
            } catch (IOException e) {
                throw CallFailure.of(
                        ProblemCode.MALFORMED, file + " cannot be written, or is there already: " + e.getMessage());
            }
            terminal.say("written to " + file + ", for you alone to read; destroy it when all is done");
            return 0;
        }
    }
}
