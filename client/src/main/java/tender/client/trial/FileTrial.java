package tender.client.trial;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.core.profile.IkeProfile;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.SingleFile;

/** A profile's file on this machine; parts that it names are read from beside it. */
public final class FileTrial {
    private static final long MAX_BYTES = 1_000_000;
    private static final int MAX_BESIDE = 200;
    private static final List<String> IKE_FOLDERS = List.of("x509", "x509ca", "private", "rsa", "ecdsa", "pkcs8");

    private FileTrial() {}

    /** The file as it is, byte for byte, which is what it is known by. */
    static byte[] read(Path path) {
        try {
            if (Files.size(path) > MAX_BYTES) {
                throw CallFailure.of(ProblemCode.MALFORMED, path + " is larger than a profile is");
            }
            return Files.readAllBytes(path);
        } catch (NoSuchFileException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "there is no such file: " + path);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, path + " cannot be read");
        }
    }

    /** The profile with all its parts inside. */
    public static String whole(Path path) {
        String text = new String(read(path), StandardCharsets.UTF_8);
        if (IkeProfile.looksLike(text)) {
            return text.contains("-----BEGIN ")
                    ? text
                    : IkeProfile.of(text, ikeParts(path, text)).text();
        }
        OpenVpnFile openVpn = OpenVpnFile.read(text).file();
        return OpenVpnClient.looksLike(openVpn) ? whole(openVpn, beside(path, text)) : text;
    }

    private static String whole(OpenVpnFile file, Map<String, byte[]> beside) {
        OpenVpnFile out = SingleFile.inlined(file, beside);
        Optional<byte[]> login = out.last("auth-user-pass")
                .flatMap(d -> d.word(0))
                .map(word -> beside.get(Path.of(word).getFileName().toString()));
        return login.map(content -> out.withBlock("auth-user-pass", new String(content, StandardCharsets.UTF_8)))
                .orElse(out)
                .text();
    }

    /** Parts beside the file, and those in strongSwan's own folders beside it or beside its {@code conf.d}. */
    private static Map<String, byte[]> ikeParts(Path path, String text) {
        Map<String, byte[]> out = new HashMap<>(beside(path, text));
        Path folder = path.toAbsolutePath().getParent();
        Path root = folder.endsWith("conf.d") ? folder.getParent() : folder;
        for (String name : IKE_FOLDERS) {
            if (Files.isDirectory(root.resolve(name))) {
                try (Stream<Path> all = Files.list(root.resolve(name))) {
                    all.filter(Files::isRegularFile)
                            .sorted()
                            .limit(MAX_BESIDE)
                            .forEach(p -> out.put(name + "/" + p.getFileName(), read(p)));
                } catch (IOException e) {
                    throw CallFailure.of(ProblemCode.MALFORMED, root.resolve(name) + " cannot be read");
                }
            }
        }
        return out;
    }

    /** Files in its folder whose names stand in its text. */
    public static Map<String, byte[]> beside(Path path, String text) {
        Map<String, byte[]> beside = new HashMap<>();
        try (Stream<Path> all = Files.list(path.toAbsolutePath().getParent())) {
            all.filter(Files::isRegularFile)
                    .filter(p -> text.contains(p.getFileName().toString()))
                    .filter(p -> p.toFile().length() <= MAX_BYTES)
                    .limit(MAX_BESIDE)
                    .forEach(p -> beside.put(p.getFileName().toString(), read(p)));
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.MALFORMED, "the folder of " + path + " cannot be read");
        }
        return beside;
    }
}
