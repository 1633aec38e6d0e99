package tender.standins.router;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.Base64;
import tender.core.credential.RevealSecret;
import tender.core.credential.TunnelKeyPair;

/** Lays out a new router's files: general settings and one tunnel with no peers. */
public record RouterFolder(
        String name, String network, String insideHost, String uplink, String tunnelAddress, int tunnelPort) {

    /** Writes the files where there are none yet. */
    public void layOut(Path folder) throws IOException {
        Path general = folder.resolve("general.conf");
        if (Files.exists(general)) {
            return;
        }
        Files.createDirectories(folder.resolve("tunnels"));
        TunnelKeyPair key = TunnelKeyPair.generate(new SecureRandom());
        String privateKey = Base64.getEncoder().encodeToString(key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
        Files.writeString(
                folder.resolve("tunnels/wg0.conf"),
                """
                # staff tunnel of %s
                [Interface]
                PrivateKey = %s
                Address = %s
                ListenPort = %d
                """.formatted(name, privateKey, tunnelAddress, tunnelPort),
                StandardCharsets.UTF_8);
        Files.writeString(general, """
                # general settings
                name = %s
                make = Tidewright
                model = Pier box 4
                release = 3.2.1
                network.office = %s
                inside-host = %s
                uplink = %s
                """.formatted(name, network, insideHost, uplink), StandardCharsets.UTF_8);
    }
}
