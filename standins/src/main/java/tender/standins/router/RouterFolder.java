package tender.standins.router;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tender.core.credential.RevealSecret;
import tender.core.credential.TunnelKeyPair;

/** A new router's files, put together piece by piece and written where there are none yet. */
public final class RouterFolder {
    private final String name;
    private final List<String> general = new ArrayList<>();
    private final List<String> rules = new ArrayList<>();
    private final List<String> forwards = new ArrayList<>();
    private final Map<String, String> tunnels = new LinkedHashMap<>();
    private final Map<String, String> clients = new LinkedHashMap<>();
    private final Map<String, TunnelKeyPair> keys = new LinkedHashMap<>();

    private RouterFolder(String name) {
        this.name = name;
    }

    /** A router with make and model and nothing else. */
    public static RouterFolder of(String name) {
        return new RouterFolder(name)
                .general("name = " + name)
                .general("make = Tidewright")
                .general("model = Pier 4");
    }

    /** A sound router: one inside network, one line, one tunnel, and a filter that opens what is needed. */
    public static RouterFolder sound(
            String name, String network, String insideHost, String uplink, String tunnelAddress, int tunnelPort) {
        return of(name).general("release = 3.2.1")
                .general("zone = Europe/Oslo")
                .general("network.office = " + network)
                .general("inside-host = " + insideHost)
                .general("uplink = " + uplink)
                .rule("inside any > device any : any any : open  # management")
                .rule("outside any > device any : udp " + tunnelPort + " : open  # staff tunnel")
                .rule("tunnel any > network " + network + " : any any : open  # staff")
                .rule("inside any > network any : any any : open")
                .tunnel("wg0", tunnelAddress, tunnelPort);
    }

    public RouterFolder general(String line) {
        general.add(line);
        return this;
    }

    public RouterFolder rule(String line) {
        rules.add(line);
        return this;
    }

    public RouterFolder forward(String line) {
        forwards.add(line);
        return this;
    }

    public RouterFolder tunnel(String listener, String address, int port) {
        TunnelKeyPair key = TunnelKeyPair.generate(new SecureRandom());
        String privateKey = text(key);
        keys.put(listener, key);
        tunnels.put(listener, """
                # staff tunnel of %s
                [Interface]
                PrivateKey = %s
                Address = %s
                ListenPort = %d
                """.formatted(name, privateKey, address, port));
        return this;
    }

    /** A client that the router made itself: a peer of the tunnel, and a file that calls the address the router knows of. */
    public RouterFolder client(String listener, String client, String address, String calls, String reach) {
        TunnelKeyPair key = TunnelKeyPair.generate(new SecureRandom());
        tunnels.merge(listener, """

                # %s
                [Peer]
                PublicKey = %s
                AllowedIPs = %s/32
                """.formatted(client, key.publicKey(), address), String::concat);
        clients.put(client, """
                [Interface]
                PrivateKey = %s
                Address = %s/32

                [Peer]
                PublicKey = %s
                Endpoint = %s
                AllowedIPs = %s
                """.formatted(text(key), address, keys.get(listener).publicKey(), calls, reach));
        return this;
    }

    private static String text(TunnelKeyPair key) {
        return Base64.getEncoder().encodeToString(key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
    }

    /** Writes the files where there are none yet. */
    public void layOut(Path folder) throws IOException {
        Path file = folder.resolve("general.conf");
        if (Files.exists(file)) {
            return;
        }
        Files.createDirectories(folder.resolve("tunnels"));
        for (Map.Entry<String, String> tunnel : tunnels.entrySet()) {
            write(
                    folder.resolve("tunnels/" + tunnel.getKey() + ".conf"),
                    List.of(tunnel.getValue().strip()));
        }
        Files.createDirectories(folder.resolve("clients"));
        for (Map.Entry<String, String> client : clients.entrySet()) {
            write(
                    folder.resolve("clients/" + client.getKey() + ".conf"),
                    List.of(client.getValue().strip()));
        }
        if (!rules.isEmpty()) {
            List<String> lines = new ArrayList<>(List.of("# first match decides"));
            lines.addAll(rules);
            lines.add("otherwise : shut");
            write(folder.resolve("filter.rules"), lines);
        }
        List<String> lines = new ArrayList<>(List.of("# what is passed on"));
        lines.addAll(forwards);
        write(folder.resolve("forwards"), lines);
        List<String> settings = new ArrayList<>(List.of("# general settings"));
        settings.addAll(general);
        write(file, settings);
    }

    private static void write(Path file, List<String> lines) throws IOException {
        Files.writeString(file, String.join("\n", lines) + "\n", StandardCharsets.UTF_8);
    }
}
