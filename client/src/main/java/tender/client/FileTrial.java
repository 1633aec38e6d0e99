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
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SingleFile;
import tender.core.profile.WireGuardFile;
import tender.core.trial.Ladder;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Question;
import tender.core.trial.Wanted;
import tender.io.names.NameService;
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

    FileTrial(Path path, Optional<IpAddress> insideHost, NameService names, ClientSettings.Added added) {
        this.path = path;
        this.insideHost = insideHost;
        this.names = names;
        this.added = added;
    }

    Ladder run() {
        String text = new String(read(path), StandardCharsets.UTF_8);
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

    private Ladder openVpn(OpenVpnFile file) {
        Map<String, byte[]> beside = new HashMap<>();
        try (Stream<Path> all = Files.list(path.toAbsolutePath().getParent())) {
            all.filter(Files::isRegularFile)
                    .filter(p -> file.text().contains(p.getFileName().toString()))
                    .limit(MAX_BESIDE)
                    .forEach(p -> beside.put(p.getFileName().toString(), read(p)));
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "the folder of " + path + " cannot be read");
        }
        OpenVpnQuestion question = OpenVpnQuestion.of(
                SingleFile.inlined(file, beside).text(), added, insideHost, Optional.empty(), Instant.now());
        return OpenVpnLadder.judge(question, new OpenVpnTrial(question, names, Wanted.NOTHING, rung -> {}).run(), Optional.empty());
    }

    private Ladder wireGuard(String text) {
        Question question = Question.of(WireGuardFile.read(text).file(), Optional.empty(), insideHost);
        return Ladder.judge(question, new WireGuardTrial(question, names, Wanted.NOTHING, rung -> {}).run(), Optional.empty());
    }
}
