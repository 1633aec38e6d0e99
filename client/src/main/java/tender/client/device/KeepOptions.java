package tender.client.device;

import java.net.UnknownHostException;
import java.util.Locale;
import java.util.Optional;
import picocli.CommandLine.Option;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Terminal;
import tender.client.trial.TrialRunCommand;
import tender.io.names.DnsNameService;

/** How files are kept current. */
final class KeepOptions {
    @Option(
            names = "--copies",
            paramLabel = "WHAT",
            description =
                    "Other files in the folder with the same key: replace them, keep both, or leave them and write nothing. Default: keep")
    Optional<String> copies;

    @Option(names = "--no-trial", description = "Do not connect with new files.")
    boolean noTrial;

    @Option(
            names = "--resolver",
            paramLabel = "ADDRESS:PORT",
            description = "Name server for trials. Default: this machine's")
    Optional<String> resolver;

    Keeping keeping(Terminal terminal) {
        return new Keeping(noTrial ? Optional.empty() : Optional.of(trials()), wanted(), terminal::say);
    }

    private ProfileFolder.Copies wanted() {
        try {
            return copies.map(c -> ProfileFolder.Copies.valueOf(c.toUpperCase(Locale.ROOT)))
                    .orElse(ProfileFolder.Copies.KEEP);
        } catch (IllegalArgumentException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "--copies is replace, keep or leave");
        }
    }

    private DeviceTrials trials() {
        try {
            return new DeviceTrials(new DnsNameService(resolver.map(TrialRunCommand::socket)));
        } catch (UnknownHostException e) {
            throw CallFailure.of(
                    ProblemCode.MALFORMED, "this machine knows no name server; say one: --resolver ADDRESS:PORT");
        }
    }
}
