package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.Authority;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.CertificateKey;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.inspect.Bundle;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.profile.OpenVpnFile;
import tender.core.profile.OpenVpnProfile;
import tender.core.profile.SingleFile;
import tender.core.profile.StaticKey;
import tender.core.repair.OpenVpnRepairs;
import tender.core.repair.Repaired;
import tender.core.repair.Target;
import tender.standins.nas.NasFolder;

/** Debian's own OpenVPN on both ends with files and certificates of ours: they connect, and not once revoked. */
class RealOpenVpnTest {
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final Duration PATIENCE = Duration.ofSeconds(30);

    @TempDir
    Path folder;

    private String space;
    private String outside;
    private Authority authority;
    private CertificateKey clientKey;
    private byte[] client;
    private final Instant now = Instant.now();

    @BeforeAll
    static void canRun() {
        boolean able = Shell.has("openvpn")
                && Shell.has("ip")
                && Files.exists(Path.of("/dev/net/tun"))
                && Shell.run("bash", "-c", "ip netns add tender-ov && ip netns del tender-ov")
                                .code()
                        == 0;
        if (!able) {
            System.out.println("SKIPPED: no openvpn, tun device or right to make network namespaces here");
        }
        assumeTrue(able);
    }

    @BeforeEach
    void lay() throws IOException {
        int third = 100 + (int) (ProcessHandle.current().pid() % 100);
        space = "tdr-ov" + third;
        outside = "10.212." + third + ".1";
        Shell.run("ip", "netns", "del", space);
        Shell.run("ip", "link", "del", space + "-o"); // a deleted namespace lets go of its half only later
        Shell.need(
                "bash",
                "-c",
                ("ip netns add %1$s && ip link add %1$s-o type veth peer name %1$s-i && ip link set %1$s-i netns %1$s"
                                + " && ip addr add %2$s/24 dev %1$s-o && ip link set %1$s-o up"
                                + " && ip -n %1$s addr add %3$s/24 dev %1$s-i && ip -n %1$s link set %1$s-i up && ip -n %1$s link set lo up")
                        .formatted(space, outside, outside.replaceAll("1$", "2")));
        authority = Authority.make(
                "Skerrivane Ferries",
                CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM),
                now,
                now.plus(Duration.ofDays(30)),
                RANDOM);
        clientKey = CertificateKey.generate(CertificateKey.Kind.EC_P256, RANDOM);
        client = authority.sign(
                Authority.Purpose.CLIENT,
                "mara",
                List.of(),
                clientKey.publicKey(),
                now,
                now.plus(Duration.ofDays(10)),
                Optional.empty(),
                RANDOM);
    }

    @AfterEach
    void clear() {
        for (String side : new String[] {"client", "server"}) {
            Shell.stop(folder.resolve(side + ".pid"));
        }
        Shell.run("ip", "netns", "del", space);
    }

    private static String key(CertificateKey key) {
        return PemText.write("PRIVATE KEY", key.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
    }

    private static String inline(String name, String content) {
        return "<" + name + ">\n" + content.strip() + "\n</" + name + ">\n";
    }

    private Path list(List<Authority.Revoked> revoked, long number) throws IOException {
        return Files.writeString(
                folder.resolve("revoked.pem"),
                PemText.write("X509 CRL", authority.revocations(revoked, number, now, now.plus(Duration.ofDays(7)))));
    }

    private void serve(String transport, String controlChannelKey, String wrap, String cipher, CertificateKey.Kind kind)
            throws IOException {
        CertificateKey serverKey = CertificateKey.generate(kind, RANDOM);
        byte[] certificate = authority.sign(
                Authority.Purpose.SERVER,
                "orrin.skerrivane.example",
                List.of("orrin.skerrivane.example"),
                serverKey.publicKey(),
                now,
                now.plus(Duration.ofDays(10)),
                Optional.empty(),
                RANDOM);
        list(List.of(), 1);
        Path file = Files.writeString(
                folder.resolve("server.conf"),
                "dev tun\nport 11940\nproto " + (transport.equals("tcp") ? "tcp-server" : "udp") + "\nlocal " + outside
                        + "\nserver 10.93.0.0 255.255.255.0\ntopology subnet\ndh none\nkeepalive 2 10\nauth SHA256\n"
                        + "data-ciphers " + cipher + "\nremote-cert-tls client\ncrl-verify "
                        + folder.resolve("revoked.pem")
                        + "\nverb 3\nlog " + folder.resolve("server.log") + "\nwritepid " + folder.resolve("server.pid")
                        + "\ndaemon\n"
                        + (controlChannelKey.equals("auth") ? "key-direction 0\n" : "")
                        + inline("ca", PemText.write("CERTIFICATE", authority.certificate()))
                        + inline("cert", PemText.write("CERTIFICATE", certificate))
                        + inline("key", key(serverKey))
                        + (controlChannelKey.equals("none") ? "" : inline("tls-" + controlChannelKey, wrap)));
        Shell.need("openvpn", "--config", file.toString());
        Shell.until("the server to wait", PATIENCE, () -> log("server").contains("Initialization Sequence Completed"));
    }

    private String log(String side) {
        try {
            Path file = folder.resolve(side + ".log");
            return Files.exists(file) ? Files.readString(file) : "";
        } catch (IOException e) {
            return "";
        }
    }

    private OpenVpnProfile profile(String transport, String controlChannelKey, String wrap, String cipher) {
        return new OpenVpnProfile(
                "mara, revision 1",
                List.of(Endpoint.parse(outside + ":11940", transport.equals("tcp") ? Transport.TCP : Transport.UDP)),
                controlChannelKey.equals("none")
                        ? Optional.empty()
                        : Optional.of(new OpenVpnProfile.ControlChannelKey(
                                controlChannelKey,
                                Secret.of(wrap),
                                controlChannelKey.equals("auth") ? Optional.of("1") : Optional.empty())),
                PemText.write("CERTIFICATE", authority.certificate()),
                Optional.of(PemText.write("CERTIFICATE", client)),
                Optional.of(Secret.of(key(clientKey))),
                false,
                Optional.of("orrin.skerrivane.example"),
                List.of(cipher),
                "SHA256",
                false,
                List.of(Cidr.parse("10.20.0.0/24")),
                false,
                List.of(),
                OptionalInt.empty());
    }

    private void connect(OpenVpnProfile profile) throws IOException {
        connect(profile.text());
    }

    private void connect(String text) throws IOException {
        Files.deleteIfExists(folder.resolve("client.log"));
        Path file = Files.writeString(folder.resolve("client.ovpn"), text);
        Shell.need(
                "ip",
                "netns",
                "exec",
                space,
                "openvpn",
                "--config",
                file.toString(),
                "--daemon",
                "--log",
                folder.resolve("client.log").toString(),
                "--writepid",
                folder.resolve("client.pid").toString(),
                "--connect-retry",
                "1",
                "--verb",
                "3");
    }

    @ParameterizedTest
    @CsvSource({
        "udp,none,AES-256-GCM,EC_P256",
        "udp,crypt,CHACHA20-POLY1305,RSA_2048",
        "tcp,auth,AES-128-GCM,ED25519",
        "tcp,crypt,AES-256-GCM,EC_P256"
    })
    void theRealClientConnectsWithAFileOfOurs(
            String transport, String controlChannelKey, String cipher, CertificateKey.Kind kind) throws IOException {
        String wrap = StaticKey.generate(RANDOM);
        serve(transport, controlChannelKey, wrap, cipher, kind);

        connect(profile(transport, controlChannelKey, wrap, cipher));

        Shell.until(
                "the client to connect:\n" + log("client"),
                PATIENCE,
                () -> log("client").contains("Initialization Sequence Completed"));
        Shell.until(
                "an answer through the tunnel",
                PATIENCE,
                () -> Shell.run("ip", "netns", "exec", space, "ping", "-c", "1", "-W", "1", "10.93.0.1")
                                .code()
                        == 0);
        assertThat(log("client")).contains("VERIFY X509NAME OK: CN=orrin.skerrivane.example");
        assertThat(Shell.need("ip", "-n", space, "route")).contains("10.20.0.0/24");
    }

    @Test
    void aFileThatTheStorageDeviceMadeConnectsOnceItIsRepaired() throws IOException {
        NasFolder.layOut(folder.resolve("nas"));
        Path keys = folder.resolve("nas/etc/vpn/keys");
        Path file = Files.writeString(
                folder.resolve("server.conf"),
                "dev tun\nport 11940\nproto udp\nlocal " + outside
                        + "\nserver 10.93.0.0 255.255.255.0\ntopology subnet\ndh none\n"
                        + "auth SHA256\ndata-ciphers AES-256-GCM\nca " + keys + "/ca.pem\ncert " + keys
                        + "/server.pem\nkey "
                        + keys + "/server-key.pem\nverb 3\n");
        Shell.need(
                "openvpn",
                "--config",
                file.toString(),
                "--daemon",
                "--log",
                folder.resolve("server.log").toString(),
                "--writepid",
                folder.resolve("server.pid").toString());
        Shell.until("the server to wait", PATIENCE, () -> log("server").contains("Initialization Sequence Completed"));
        Map<String, byte[]> given = Bundle.read(Files.readAllBytes(folder.resolve("nas/var/export/clients.tar.gz")));
        Map<String, byte[]> beside = new HashMap<>();
        given.forEach((path, bytes) -> beside.put(path.replaceAll(".*/", ""), bytes));
        String whole = SingleFile.inlined(
                        OpenVpnFile.read(new String(given.get("bram-laptop/bram-laptop.ovpn"), StandardCharsets.UTF_8))
                                .file(),
                        beside)
                .text();
        Repaired repaired = OpenVpnRepairs.of(
                whole,
                new Target(
                        new Listener(
                                "openvpn",
                                Map.of(
                                        Attribute.PROTOCOL, "openvpn",
                                        Attribute.DIGEST, "SHA256",
                                        Attribute.CIPHERS, "AES-256-GCM",
                                        Attribute.COMPRESSION, "no",
                                        Attribute.SERVER_NAMES, "vault")),
                        List.of(Endpoint.parse(outside + ":11940", Transport.UDP)),
                        Optional.empty(),
                        List.of(),
                        Set.of()));

        connect(repaired.text());

        Shell.until(
                "the client to connect", PATIENCE, () -> log("client").contains("Initialization Sequence Completed"));
        assertThat(log("client")).contains("VERIFY X509NAME OK: CN=vault");
    }

    @Test
    void onceRevokedTheRealServerRefusesIt() throws IOException {
        serve("tcp", "none", "", "AES-256-GCM", CertificateKey.Kind.EC_P256);
        list(List.of(new Authority.Revoked(CertificateFacts.of(client).serial(), now, 1)), 2);

        connect(profile("tcp", "none", "", "AES-256-GCM"));

        Shell.until(
                "the server to refuse:\n" + log("server"),
                PATIENCE,
                () -> log("server").contains("certificate revoked"));
        assertThat(log("client")).doesNotContain("Initialization Sequence Completed");
    }
}
