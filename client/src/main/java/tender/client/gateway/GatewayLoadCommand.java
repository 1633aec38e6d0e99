package tender.client.gateway;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.ClientCommand;
import tender.client.command.Found;
import tender.client.command.Times;

/** Drops files of a gateway that nobody can reach. */
@Command(
        name = "load",
        mixinStandardHelpOptions = true,
        description =
                "Load copied configuration files of a gateway that Tender cannot connect to. Tender reads the gateway from them.",
        footer = {
            "",
            "  tender gateway load barge --as /etc/wireguard/wg0.conf wg0.conf",
            "  tender gateway load barge --taken 2026-11-02T08:00:00Z copied-from-barge/"
        })
final class GatewayLoadCommand extends ClientCommand {
    private static final int MOST_FILES = 100;
    private static final long LARGEST = 1024 * 1024;

    @Parameters(paramLabel = "NAME")
    String name;

    @Parameters(paramLabel = "FILE|FOLDER", description = "One file, or a folder laid out as on the device.")
    Path source;

    @Option(names = "--as", paramLabel = "PATH", description = "The file's absolute path on the device.")
    Optional<String> path;

    @Option(
            names = "--taken",
            paramLabel = "TIME",
            description = "When the files were copied from the device. Default: now")
    Optional<String> taken;

    @Override
    protected int run() {
        if (Files.isDirectory(source) == path.isPresent()) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED, "one file needs --as PATH; a folder is laid out as on the device");
        }
        Calls calls = calls();
        String id = Found.gateway(calls, name).id();
        OfficeApi.DropFiles request = new OfficeApi.DropFiles(files(), taken.map(Times::read));
        GatewayCommands.awaitReading(
                terminal, calls, name, calls.post("/gateways/" + id + "/dropped", request, WatchApi.Job.class));
        return 0;
    }

    private Map<String, String> files() {
        Map<String, String> out = new TreeMap<>();
        try {
            if (path.isPresent()) {
                out.put(path.get(), text(source));
                return out;
            }
            try (Stream<Path> all = Files.walk(source, 8)) {
                for (Path file :
                        all.filter(Files::isRegularFile).limit(MOST_FILES + 1L).toList()) {
                    out.put("/" + source.relativize(file), text(file));
                }
            }
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, source + " cannot be read as text");
        }
        return out;
    }

    private static String text(Path file) throws IOException {
        if (Files.size(file) > LARGEST) {
            throw CallFailure.of(ProblemCode.MALFORMED, file + " is over 1 MiB");
        }
        return Files.readString(file);
    }
}
