package tender.io.trial;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;

/** Debian's OpenVPN server in a network namespace of its own, with an inside host behind it, reached from here. */
final class OpenVpnLab implements AutoCloseable {
    static final SecureRandom RANDOM = new SecureRandom();
    static final int PORT = 11941;
    static final String GATEWAY_INSIDE = "10.94.0.1";
    static final String INSIDE_HOST = "10.20.77.20";
    static final String SERVER_NAME = "orrin.skerrivane.example";
    private static final Duration PATIENCE = Duration.ofSeconds(30);

    final Instant now = Instant.now();
    final Authority authority = authority("Skerrivane Ferries");
    final Pair server = sign(authority, Authority.Purpose.SERVER, SERVER_NAME, 0, 30);
    final Pair client = sign(authority, Authority.Purpose.CLIENT, "mara", 0, 30);
    final String address;
    private final Path folder;
    private final String space;

    /** A certificate and its key as PEM. */
    record Pair(byte[] certificate, CertificateKey pair) {
        String pem() {
            return PemText.write("CERTIFICATE", certificate);
        }

        String key() {
            return PemText.write("PRIVATE KEY", pair.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
        }
    }

    OpenVpnLab(Path folder) {
        this.folder = folder;
        int third = 20 + (int) (ProcessHandle.current().pid() % 80);
        space = "tdr-tv" + third;
        String here = "10.213." + third + ".1";
        address = "10.213." + third + ".2";
        close();
        Shell.need(
                "bash",
                "-c",
                ("ip netns add %1$s && ip link add %1$s-o type veth peer name %1$s-i && ip link set %1$s-i netns %1$s"
                                + " && ip addr add %2$s/24 dev %1$s-o && ip link set %1$s-o up"
                                + " && ip -n %1$s addr add %3$s/24 dev %1$s-i && ip -n %1$s link set %1$s-i up"
                                + " && ip -n %1$s link set lo up && ip -n %1$s addr add %4$s/32 dev lo")
                        .formatted(space, here, address, INSIDE_HOST));
    }

    static boolean able() {
        return Shell.has("openvpn")
                && Shell.has("ip")
                && Files.exists(Path.of("/dev/net/tun"))
                && Shell.run("bash", "-c", "ip netns add tender-tv && ip netns del tender-tv")
                                .code()
                        == 0;
    }

    Authority authority(String name) {
        return Authority.make(
                name,
                CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
                now.minus(Duration.ofDays(100)),
                now.plus(Duration.ofDays(300)),
                RANDOM);
    }

    /** @param from and to in days from now */
    Pair sign(Authority by, Authority.Purpose purpose, String name, int from, int to) {
        return sign(by, purpose, name, from, to, CertificateKey.Kind.EC_P256);
    }

    Pair sign(Authority by, Authority.Purpose purpose, String name, int from, int to, CertificateKey.Kind kind) {
        CertificateKey key = CertificateKey.generate(kind, RANDOM);
        return new Pair(
                by.sign(
                        purpose,
                        name,
                        purpose == Authority.Purpose.SERVER ? List.of(name) : List.of(),
                        key.publicKey(),
                        now.plus(Duration.ofDays(from)).minus(Duration.ofMinutes(5)),
                        now.plus(Duration.ofDays(to)),
                        Optional.empty(),
                        RANDOM),
                key);
    }

    static String inline(String name, String content) {
        return "<" + name + ">\n" + content.strip() + "\n</" + name + ">\n";
    }

    Path revoked(List<Authority.Revoked> revoked, Instant ends) throws IOException {
        return Files.writeString(
                folder.resolve("revoked.pem"),
                PemText.write(
                        "X509 CRL",
                        authority.revocations(revoked, revoked.size() + 1, now.minus(Duration.ofDays(2)), ends)));
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

    /** How long the real client takes from its start to the first answer to a ping through the tunnel. */
    Duration realClient(String profile) throws IOException {
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
        Shell.run("ip", "netns", "del", space);
        Shell.run("ip", "link", "del", space + "-o"); // a deleted namespace lets go of its half only later
    }
}
