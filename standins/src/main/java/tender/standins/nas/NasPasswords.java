package tender.standins.nas;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;

/** Accounts of the device's callers: passwords where nobody reads them, names among the device's settings, for the tunnel alone. */
final class NasPasswords {
    private static final int MAX_INPUT = 1024 * 1024;

    private final Path file;
    private final Path settings;

    NasPasswords(Path folder) {
        this.file = folder.resolve("var/lib/callers");
        this.settings = folder.resolve("etc/device.conf");
    }

    Map<String, Secret> all() throws IOException {
        Map<String, Secret> out = new LinkedHashMap<>();
        if (Files.exists(file)) {
            for (String line : Files.readAllLines(file)) {
                String[] words = line.split(" ", 2);
                out.put(words[0], Secret.of(words[1]));
            }
        }
        return out;
    }

    /** Lines {@code set NAME PASSWORD} and {@code drop NAME}; all or none. Who administers the device is left alone. */
    void take(InputStream in) throws IOException {
        Map<String, Secret> passwords = all();
        List<String> lines = new ArrayList<>(Files.readAllLines(settings));
        String text = new String(in.readNBytes(MAX_INPUT), StandardCharsets.UTF_8);
        for (String line : text.lines().toList()) {
            String[] words = line.split(" ", 3);
            String name = words.length > 1 ? words[1] : "";
            if (lines.stream().anyMatch(l -> l.matches("user_" + java.util.regex.Pattern.quote(name) + " = .*admin"))) {
                throw new IOException(name + " administers the device and is no account for callers");
            }
            if (words[0].equals("set") && words.length == 3) {
                passwords.put(name, Secret.of(words[2]));
                lines.removeIf(l -> l.startsWith("user_" + name + " = "));
                lines.add("user_" + name + " = vpn");
            } else if (words[0].equals("drop") && words.length == 2) {
                passwords.remove(name);
                lines.removeIf(l -> l.startsWith("user_" + name + " = "));
            } else {
                throw new IOException("set NAME PASSWORD or drop NAME");
            }
        }
        Files.createDirectories(file.getParent());
        replace(
                file,
                passwords.entrySet().stream()
                        .map(e -> e.getKey() + " " + e.getValue().revealText(RevealSecret.TO_WRITE_FILE))
                        .toList());
        replace(settings, lines);
    }

    private static void replace(Path path, List<String> lines) throws IOException {
        Path fresh = path.resolveSibling(path.getFileName() + ".fresh");
        Files.write(fresh, lines);
        Files.move(fresh, path, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }
}
