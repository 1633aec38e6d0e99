package tender.client.profile;

import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.FileRequestApi;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Terminal;

/** Requests for client files that only a gateway can make. */
final class RequestCommands {
    private RequestCommands() {}

    @Command(
            name = "add",
            mixinStandardHelpOptions = true,
            description = {
                "Request client files that only the gateway can make, and show what to do there. A request stays open until the"
                        + " file is imported with tender import.",
                "For a device that has a file there, the new file becomes the next revision of its profile."
            },
            footer = {
                "",
                "  tender request add pier2 ana/laptop bo",
                "  tender request add pier2 --team crew",
                "  tender request add pier2 --team crew --dry-run"
            })
    static final class Add extends ClientCommand {
        @Parameters(index = "0", paramLabel = "GATEWAY")
        String gateway;

        @Parameters(
                index = "1..*",
                paramLabel = "PERSON/DEVICE",
                arity = "0..*",
                description = "Whose file; without a device, the only one that the person has.")
        List<String> devices = List.of();

        @Option(names = "--team", description = "Every device of this team that has no profile there.")
        Optional<String> team;

        @Option(names = "--dry-run", description = "Show what would be requested; keep nothing.")
        boolean dryRun;

        @Override
        protected int run() {
            Calls calls = calls();
            FileRequestApi.FileRequests all = calls.post(
                    "/gateways/" + Found.gateway(calls, gateway).id() + "/file-requests",
                    new FileRequestApi.Ask(Optional.of(devices), team, Optional.of(dryRun)),
                    FileRequestApi.FileRequests.class);
            show(terminal, all);
            if (dryRun) {
                terminal.say("nothing was kept");
            }
            return 0;
        }
    }

    @Command(
            name = "list",
            mixinStandardHelpOptions = true,
            description =
                    "List the client files that were requested and not imported yet, with what to do at each gateway.",
            footer = {"", "  tender request list", "  tender request list --gateway pier2 --json"})
    static final class Ls extends ClientCommand {
        @Option(names = "--gateway", description = "Of this gateway.")
        Optional<String> gateway;

        @Override
        protected int run() {
            Calls calls = calls();
            String path = gateway.map(
                            g -> "/gateways/" + Found.gateway(calls, g).id() + "/file-requests")
                    .orElse("/file-requests");
            show(terminal, calls.get(path, FileRequestApi.FileRequests.class));
            return 0;
        }
    }

    @Command(
            name = "cancel",
            mixinStandardHelpOptions = true,
            description = "Cancel a request for a client file.",
            footer = {"", "  tender request cancel pier2 ana/laptop"})
    static final class Cancel extends ClientCommand {
        @Parameters(index = "0", paramLabel = "GATEWAY")
        String gateway;

        @Parameters(index = "1", paramLabel = "PERSON/DEVICE")
        String device;

        @Override
        protected int run() {
            Calls calls = calls();
            FileRequestApi.FileRequests all = calls.get(
                    "/gateways/" + Found.gateway(calls, gateway).id() + "/file-requests",
                    FileRequestApi.FileRequests.class);
            List<FileRequestApi.FileRequest> meant = all.requests().stream()
                    .filter(r -> device.equals(r.person() + "/" + r.device()) || device.equals(r.person()))
                    .toList();
            if (meant.size() != 1) {
                throw CallFailure.of(
                        ProblemCode.NOT_FOUND,
                        meant.isEmpty()
                                ? "no file of " + gateway + " is requested for " + device
                                : device + " has " + meant.size() + " requests there; write PERSON/DEVICE");
            }
            calls.delete("/file-requests/" + meant.get(0).id());
            terminal.say("the request for " + device + " at " + gateway + " was cancelled");
            return 0;
        }
    }

    private static void show(Terminal terminal, FileRequestApi.FileRequests all) {
        if (terminal.json) {
            terminal.json(all);
            return;
        }
        if (all.requests().isEmpty()) {
            terminal.say("no client file is requested; request some with: tender request add GATEWAY PERSON/DEVICE");
            return;
        }
        terminal.table(
                List.of("GATEWAY", "PERSON", "DEVICE", "USER THERE", "WHY", "REQUESTED"),
                all.requests().stream()
                        .map(r -> List.of(
                                r.gateway(), r.person(), r.device(), r.user(), why(r), Terminal.ago(r.askedAt())))
                        .toList(),
                "");
        all.instructions().forEach(i -> terminal.print("\n" + i));
    }

    private static String why(FileRequestApi.FileRequest r) {
        return r.reason().equals("renewal")
                ? r.ends()
                        .map(e -> "ends " + LocalDate.ofInstant(e, ZoneOffset.UTC))
                        .orElse("renewal")
                : r.replaces().map(label -> "replaces " + label).orElse("has no file");
    }
}
