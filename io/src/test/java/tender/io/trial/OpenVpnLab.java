package tender.io.trial;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import tender.core.certificate.Authority;
import tender.core.certificate.PemText;

/** Debian's OpenVPN server in a network namespace of its own, with an inside host behind it, reached from here. */
final class OpenVpnLab extends Lab {
    static final int PORT = 11941;
    static final String GATEWAY_INSIDE = "10.94.0.1";
    private static final Duration PATIENCE = Duration.ofSeconds(30);

    OpenVpnLab(Path folder) {
        super(folder, "tv", 213);
    }

    static boolean able() {
        return Shell.has("openvpn") && ableToMakeSpaces();
    }

    static String inline(String name, String content) {
        return "<" + name + ">\n" + content.strip() + "\n</" + name + ">\n";
    }

    /** Starts a server, in place of the one that ran; {@code lines} are added to its file. */
    void serve(String transport, Pair shown, String lines) throws IOException {
        Shell.stop(folder.resolve("server.pid"));
        Files.deleteIfExists(folder.resolve("server.log"));
        Path file = Files.writeString(
                folder.resolve("server.conf"),
                "dev tun\nport " + PORT + "\nproto " + (transport.equals("tcp") ? "tcp-server" : "udp") + "\nlocal "
                        + address
                        + "\nserver 10.94.0.0 255.255.255.0\ntopology subnet\ndh none\nkeepalive 2 10\n"
                        + "push \"route 10.20.77.0 255.255.255.0\"\nverb 3\nlog " + folder.resolve("server.log")
                        + "\nwritepid " + folder.resolve("server.pid") + "\ndaemon\n" + lines
                        + inline("ca", PemText.write("CERTIFICATE", authority.certificate()))
                        + inline("cert", shown.pem()) + inline("key", shown.key()));
        Shell.need("ip", "netns", "exec", space, "openvpn", "--config", file.toString());
        Shell.until(
                "the server to wait:\n" + file,
                PATIENCE,
                () -> log().stream().anyMatch(l -> l.contains("Initialization Sequence Completed")));
    }

    List<String> log() {
        try {
            Path file = folder.resolve("server.log");
            return Files.exists(file)
                    ? Files.readAllLines(file, java.nio.charset.StandardCharsets.ISO_8859_1)
                    : List.of();
        } catch (IOException e) {
            return List.of();
        }
    }

    /** A client's file; {@code lines} are added to it. */
    String profile(String transport, Pair own, String lines) {
        return profile(transport, authority, own, lines);
    }

    String profile(String transport, Authority believed, Pair own, String lines) {
        return "client\ndev tun\nnobind\nremote " + address + " " + PORT + " " + transport
                + "\nremote-cert-tls server\n" + lines
                + inline("ca", PemText.write("CERTIFICATE", believed.certificate()))
                + (own == null ? "" : inline("cert", own.pem()) + inline("key", own.key()));
    }

    /** Makes a network namespace for a real client, from which the server can be called. */
    String outside() {
        String outside = space + "c";
        Shell.run("ip", "netns", "del", outside);
        Shell.need(
                "bash",
                "-c",
                ("ip netns add %1$s && ip link add %1$s-o type veth peer name %1$s-i && ip link set %1$s-i netns %1$s"
                                + " && ip link set %1$s-o netns %2$s && ip -n %2$s addr add 10.214.9.2/24 dev %1$s-o"
                                + " && ip -n %2$s link set %1$s-o up && ip -n %1$s addr add 10.214.9.1/24 dev %1$s-i"
                                + " && ip -n %1$s link set %1$s-i up && ip -n %1$s route add %3$s via 10.214.9.2")
                        .formatted(outside, space, address));
        return outside;
    }

    /** How long the real client takes from its start to the first answer to a ping through the tunnel. */
    Duration realClient(String profile) throws IOException {
        String outside = outside();
        Path file = Files.writeString(folder.resolve("real.ovpn"), profile);
        Instant began = Instant.now();
        try {
            Shell.need(
                    "ip",
                    "netns",
                    "exec",
                    outside,
                    "openvpn",
                    "--config",
                    file.toString(),
                    "--daemon",
                    "--log",
                    folder.resolve("real.log").toString(),
                    "--writepid",
                    folder.resolve("real.pid").toString());
            Shell.until(
                    "the real client's first ping",
                    PATIENCE,
                    () -> Shell.run("ip", "netns", "exec", outside, "ping", "-c", "1", "-W", "1", GATEWAY_INSIDE)
                                    .code()
                            == 0);
            return Duration.between(began, Instant.now());
        } finally {
            Shell.stop(folder.resolve("real.pid"));
            Shell.run("ip", "netns", "del", outside);
        }
    }

    @Override
    public void close() {
        Shell.stop(folder.resolve("server.pid"));
        remove();
    }
}
