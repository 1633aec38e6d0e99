package tender.client;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import tender.api.ProblemCode;
import tender.core.ike.IkeSettings;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SingleFile;
import tender.core.profile.WireGuardFile;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.Ladder;
import tender.core.trial.Measured;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Question;
import tender.core.trial.Wanted;
import tender.io.names.NameService;
import tender.io.trial.IkeTrial;
import tender.io.trial.OpenVpnTrial;
import tender.io.trial.WireGuardTrial;

/** A trial of a file from this machine, without the service; parts that an OpenVPN file names are read from beside it. */
final class FileTrial {
    private static final long MAX_BYTES = 1_000_000;
    private static final int MAX_BESIDE = 200;

    private final Path path;
    private final Optional<IpAddress> insideHost;
    private final NameService names;
    private final ClientSettings.Added added;
    private final Wanted wanted;

    FileTrial(Path path, Optional<IpAddress> insideHost, NameService names, ClientSettings.Added added, Wanted wanted) {
        this.path = path;
        this.insideHost = insideHost;
        this.names = names;
        this.added = added;
        this.wanted = wanted;
    }

    /** What came of it, and what was measured where it was asked for. */
    record Outcome(Ladder ladder, Optional<Measured> measured) {}

    Outcome run() {
        String text = new String(read(path), StandardCharsets.UTF_8);
        if (IkeQuestion.looksLike(text)) {
            return ike(text);
        }
        OpenVpnFile openVpn = OpenVpnFile.read(text).file();
        return OpenVpnClient.looksLike(openVpn) ? openVpn(openVpn) : wireGuard(text);
    }

    private static byte[] read(Path path) {
        try {
            if (Files.size(path) > MAX_BYTES) {
                throw CallFailure.of(ProblemCode.MALFORMED, path + " is larger than a profile is");
            }
            return Files.readAllBytes(path);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, path + " cannot be read");
        }
    }

    private Map<String, byte[]> beside(String text) {
        Map<String, byte[]> beside = new HashMap<>();
        try (Stream<Path> all = Files.list(path.toAbsolutePath().getParent())) {
            all.filter(Files::isRegularFile)
                    .filter(p -> text.contains(p.getFileName().toString()))
                    .limit(MAX_BESIDE)
                    .forEach(p -> beside.put(p.getFileName().toString(), read(p)));
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "the folder of " + path + " cannot be read");
        }
        return beside;
    }

    private Outcome ike(String text) {
        boolean whole = text.contains("-----BEGIN ");
        IkeQuestion question = IkeQuestion.of(
                whole ? text : IkeProfile.of(text, beside(text)).text(),
                new IkeSettings.Added(
                        added.login().map(ClientSettings.Login::name),
                        added.login().map(ClientSettings.Login::password)),
                Optional.empty(),
                insideHost,
                Instant.now());
        IkeTrial trial = new IkeTrial(question, names, wanted, rung -> {});
        Ladder ladder = IkeLadder.judge(question, trial.run(), Optional.empty());
        return new Outcome(ladder, trial.measured());
    }

    private Outcome openVpn(OpenVpnFile file) {
        OpenVpnQuestion question = OpenVpnQuestion.of(
                SingleFile.inlined(file, beside(file.text())).text(),
                added,
                insideHost,
                Optional.empty(),
                Instant.now());
        OpenVpnTrial trial = new OpenVpnTrial(question, names, wanted, rung -> {});
        Ladder ladder = OpenVpnLadder.judge(question, trial.run(), Optional.empty());
        return new Outcome(ladder, trial.measured());
    }

    private Outcome wireGuard(String text) {
        Question question = Question.of(WireGuardFile.read(text).file(), Optional.empty(), insideHost);
        WireGuardTrial trial = new WireGuardTrial(question, names, wanted, rung -> {});
        Ladder ladder = Ladder.judge(question, trial.run(), Optional.empty());
        return new Outcome(ladder, trial.measured());
    }
}
