package tender.client.trial;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tender.api.ProblemCode;
import tender.api.WalkApi;
import tender.client.command.CallFailure;
import tender.client.command.ClientCommand;
import tender.core.trial.LogLine;

/** Says in plain words what a VPN client's or server's log means. */
@Command(
        name = "explain",
        mixinStandardHelpOptions = true,
        description =
                "Explain a VPN client's or server's log: what it means and what to do. The log is a file or standard input. Works offline.",
        footer = {"", "  tender trial explain /var/log/openvpn.log", "  journalctl -u openvpn | tender trial explain"})
final class TrialExplainCommand extends ClientCommand {
    private static final int MAX_BYTES = 4_000_000;

    @Parameters(arity = "0..1", paramLabel = "FILE", description = "Default: standard input")
    Optional<Path> file;

    @Override
    protected int run() {
        List<WalkApi.LogMeaning> all = LogLine.read(text().lines().toList()).stream()
                .map(WalkApi.LogMeaning::of)
                .toList();
        if (terminal.json) {
            terminal.json(all);
            return all.isEmpty() ? 1 : 0;
        }
        if (all.isEmpty()) {
            terminal.print("no line of it says what went wrong; a trial does: tender trial run FILE");
            return 1;
        }
        for (WalkApi.LogMeaning m : all) {
            terminal.print(m.certainty() + ": " + m.what());
            terminal.print("    do:    " + m.remedy());
            terminal.print("    rung:  " + m.rung());
            terminal.print("    line " + m.line() + ": " + m.said());
        }
        return 0;
    }

    private String text() {
        try (InputStream in = file.isPresent() ? Files.newInputStream(file.get()) : System.in) {
            return new String(in.readNBytes(MAX_BYTES), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED, file.map(Path::toString).orElse("standard input") + " cannot be read");
        }
    }
}
