package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/**
 * A Linux machine with Debian's sshd and a running OpenVPN server, managed through Tender by the client: a certificate for
 * the server, a profile that the real client connects with, the session seen, and after withdrawal the revocation list
 * delivered and the client refused.
 */
class OpenVpnStoryTest {
    private static final String HOST = "127.10.93.1";
    private static final Duration PATIENCE = Duration.ofSeconds(30);

    @TempDir
    Path folder;

    private String space;
    private String outside;
    private Path device;
    private Process sshd;
    private int port;

    @BeforeEach
    void lay() throws Exception {
        boolean able = Shell.has("openvpn")
                && Files.isExecutable(Path.of("/usr/sbin/sshd"))
                && Files.exists(Path.of("/dev/net/tun"))
                && Shell.run("bash", "-c", "ip netns add tender-os && ip netns del tender-os")
                                .code()
                        == 0;
        if (!able) {
            System.out.println("SKIPPED: no openvpn, sshd, tun device or right to make network namespaces here");
        }
        assumeTrue(able);
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
        int third = 100 + (int) (ProcessHandle.current().pid() % 100);
        space = "tdr-os" + third;
        outside = "10.213." + third + ".1";
        Shell.run("ip", "netns", "del", space);
        Shell.run("ip", "link", "del", space + "-o"); // a deleted namespace lets go of its half only later
        Shell.need(
                "bash",
                "-c",
                ("ip netns add %1$s && ip link add %1$s-o type veth peer name %1$s-i && ip link set %1$s-i netns %1$s"
                                + " && ip addr add %2$s/24 dev %1$s-o && ip link set %1$s-o up"
                                + " && ip -n %1$s addr add %3$s/24 dev %1$s-i && ip -n %1$s link set %1$s-i up && ip -n %1$s link set lo up")
                        .formatted(space, outside, outside.replaceAll("1$", "2")));
        device = Files.createDirectories(folder.resolve("device/server")).getParent();
        Files.createDirectories(device.resolve("run"));
        for (String name : new String[] {"host", "key"}) {
            Shell.need(
                    "ssh-keygen",
                    "-q",
                    "-t",
                    "ed25519",
                    "-N",
                    "",
                    "-f",
                    folder.resolve(name).toString());
        }
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getByName(HOST))) {
            port = free.getLocalPort();
        }
        Files.createDirectories(Path.of("/run/sshd"));
        Path config = Files.writeString(
                folder.resolve("sshd_config"),
                "ListenAddress " + HOST + ":" + port + "\nHostKey " + folder
                        + "/host\nPidFile none\nAuthorizedKeysFile " + folder
                        + "/key.pub\nStrictModes no\nPasswordAuthentication no\nUsePAM no\nPermitRootLogin prohibit-password\nSubsystem sftp internal-sftp\n");
        sshd = new ProcessBuilder("/usr/sbin/sshd", "-D", "-e", "-f", config.toString())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("sshd.log").toFile())
                .start();
    }

    @AfterEach
    void clear() {
        if (sshd != null) {
            sshd.destroy();
        }
        for (String side : new String[] {"client", "server"}) {
            Shell.stop(folder.resolve(side + ".pid"));
        }
        Shell.run("ip", "netns", "del", space);
    }

    private Path description() throws IOException {
        return Files.writeString(folder.resolve("vpn-machine.yaml"), """
                description: vpn-machine
                title: A machine with an OpenVPN server
                files:
                  - path: @/server/*.conf
                    format: openvpn
                  - path: @/server/*.pem
                    format: kept
                  - path: @/server/*.key
                    format: kept
                commands:
                  apply: uname -s
                  clock: date -u +%Y-%m-%dT%H:%M:%SZ
                  connected: {file: @/run/status-*.log}
                """.replace("@", device.toString()));
    }

    private String log(String name) {
        try {
            Path file = folder.resolve(name);
            return Files.exists(file) ? Files.readString(file) : "";
        } catch (IOException e) {
            return "";
        }
    }

    /** Puts the server's files together from what the client wrote, and starts it. */
    private void serve() throws IOException {
        Path server = device.resolve("server");
        Shell.need(
                "bash",
                "-c",
                "cd " + server
                        + " && openssl pkcs12 -in ../../orrin.p12 -passin pass:harbour-lights -nodes -nocerts -out staff.key"
                        + " && openssl x509 -in ../../orrin.pem -out staff-cert.pem && awk '/BEGIN/{n++} n==2' ../../orrin.pem >staff-ca.pem"
                        + " && openssl crl -inform DER -in ../../list.crl -out staff-list.pem && openvpn --genkey secret wrap.key");
        Path file = Files.writeString(
                server.resolve("staff.conf"),
                "dev tun\nport 11941\nproto udp\nlocal " + outside
                        + "\nserver 10.94.0.0 255.255.255.0\ntopology subnet\ndh none\nkeepalive 1 4\nauth SHA256\ndata-ciphers AES-256-GCM\n"
                        + "ca staff-ca.pem\ncert staff-cert.pem\nkey staff.key\ntls-crypt wrap.key\ncrl-verify staff-list.pem\nverb 3\n");
        Shell.need(
                "openvpn",
                "--cd",
                server.toString(),
                "--config",
                file.toString(),
                "--daemon",
                "--log",
                folder.resolve("server.log").toString(),
                "--writepid",
                folder.resolve("server.pid").toString(),
                "--status",
                device.resolve("run/status-staff.log").toString(),
                "1",
                "--status-version",
                "2");
        Shell.until(
                "the server to wait", PATIENCE, () -> log("server.log").contains("Initialization Sequence Completed"));
    }

    private void connect(Path file) throws IOException {
        Files.deleteIfExists(folder.resolve("client.log"));
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

    /** The machine as a gateway, and somebody to connect to it. */
    private void addMachine(Tender tender) throws IOException {
        JsonNode put = tender.json("description", "put", description().toString());
        tender.client(
                "description", "approve", "vpn-machine", put.path("digest").asText());
        tender.client("site", "add", "port-orrin", "--network", "office=10.20.0.0/24");
        JsonNode added = tender.json(
                "gateway",
                "add",
                "orrin-vpn",
                "--site",
                "port-orrin",
                "--address",
                HOST,
                "--port",
                Integer.toString(port),
                "--user",
                System.getProperty("user.name"),
                "--key-file",
                folder.resolve("key").toString(),
                "--description",
                "vpn-machine");
        tender.client("gateway", "accept", "orrin-vpn", added.path("identity").asText());
        tender.client("gateway", "set", "orrin-vpn", "--endpoint", outside);
        tender.client("person", "add", "mara", "--name", "Mara Quillfeather");
    }

    @Test
    void issuedConnectedSeenWithdrawnAndRefused() throws Exception {
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.94.1");
                Tender tender = new Tender(folder, office)) {
            tender.client("authority", "create", "skerrivane", "--years", "2");
            tender.client(
                    "authority",
                    "sign",
                    "skerrivane",
                    "--server",
                    "orrin.skerrivane.example",
                    "--out",
                    folder.resolve("orrin").toString(),
                    "--passphrase-fd",
                    "3<harbour-lights");
            tender.client(
                    "authority",
                    "revocations",
                    "skerrivane",
                    "--out",
                    folder.resolve("list.crl").toString());
            serve();
            addMachine(tender);
            tender.client("device", "add", "mara", "laptop", "--kind", "laptop");

            assertThat(tender.client("profile", "issue", "mara", "laptop", "--gateway", "orrin-vpn"))
                    .contains("mara-laptop-orrin-vpn");
            Path file = tender.collect("mara-laptop-orrin-vpn");
            assertThat(file.getFileName().toString()).endsWith(".ovpn");
            assertThat(tender.tryClient("profile", "inspect", file.toString()).out())
                    .contains("connects to            " + outside + ":11941 udp")
                    .contains("server must be         orrin.skerrivane.example name")
                    .doesNotContain("warning");

            assertThat(tender.client("trial", "run", "mara-laptop-orrin-vpn"))
                    .contains("proven, rests on this profile, revision 1");
            triedByNobody(file);

            connect(file);
            Shell.until(
                    "the client to connect:\n" + log("client.log"),
                    PATIENCE,
                    () -> log("client.log").contains("Initialization Sequence Completed"));
            Shell.until(
                    "an answer through the tunnel",
                    PATIENCE,
                    () -> Shell.run("ip", "netns", "exec", space, "ping", "-c", "1", "-W", "1", "10.94.0.1")
                                    .code()
                            == 0);
            Shell.until(
                    "the session to be seen",
                    PATIENCE,
                    () -> tender.client("session", "list", "--json")
                            .contains("\"profile\" : \"mara-laptop-orrin-vpn\""));

            assertThat(tender.client("trial", "run", "mara-laptop-orrin-vpn"))
                    .contains("is connected now and was left alone", "proven, rests on a canary");

            tender.client("profile", "withdraw", "mara-laptop-orrin-vpn", "--yes");
            assertThat(tender.client("authority", "certificates", "skerrivane")).contains("revoked");
            assertThat(Shell.need(
                            "openssl",
                            "crl",
                            "-in",
                            device.resolve("server/staff-list.pem").toString(),
                            "-noout",
                            "-text"))
                    .contains("Cessation Of Operation");
            Shell.stop(folder.resolve("client.pid"));
            connect(file);
            Shell.until(
                    "the server to refuse", PATIENCE, () -> log("server.log").contains("certificate revoked"));
            assertThat(log("client.log")).doesNotContain("Initialization Sequence Completed");
            assertThat(tender.tryClient("trial", "run", file.toString()).out())
                    .contains("certificate", "revoked", "not proven");
            assertThat(tender.tryClient(
                                    "trial",
                                    "explain",
                                    folder.resolve("server.log").toString())
                            .out())
                    .contains("certain: the certificate was revoked");
        }
    }

    /** An authority made with openssl, which revoked somebody before Tender ever heard of it. */
    private void oldAuthority() {
        Shell.need("bash", "-c", """
                cd %s && openssl req -x509 -newkey rsa:2048 -nodes -keyout old.key -out old.crt -days 400 -subj '/CN=Old office' \
                  -addext keyUsage=critical,keyCertSign,cRLSign >/dev/null 2>&1
                openssl req -newkey rsa:2048 -nodes -keyout former.key -out former.csr -subj /CN=former >/dev/null 2>&1
                printf '[ca]\\ndefault_ca=a\\n[a]\\ndatabase=index.txt\\nserial=serial\\nnew_certs_dir=.\\ncertificate=old.crt\\nprivate_key=old.key\\ndefault_md=sha256\\npolicy=p\\ndefault_days=300\\ndefault_crl_days=300\\nx509_extensions=e\\n[p]\\ncommonName=supplied\\n[e]\\nextendedKeyUsage=clientAuth\\nkeyUsage=digitalSignature\\n' >ca.cnf
                : >index.txt; echo 1000 >serial
                openssl ca -batch -config ca.cnf -in former.csr -out former.crt -notext
                openssl ca -config ca.cnf -revoke former.crt
                openssl ca -config ca.cnf -gencrl -out old-crl.pem
                openssl crl -in old-crl.pem -outform DER -out list.crl
                """.formatted(folder));
    }

    private boolean isLetIn(Path file) throws IOException {
        Shell.stop(folder.resolve("client.pid"));
        int refused = count("revoked");
        connect(file);
        Shell.until(
                "the client to connect or to be refused",
                PATIENCE,
                () -> log("client.log").contains("Initialization Sequence Completed") || count("revoked") > refused);
        boolean in = log("client.log").contains("Initialization Sequence Completed");
        Shell.stop(folder.resolve("client.pid"));
        return in;
    }

    private int count(String word) {
        return log("server.log").split(word, -1).length;
    }

    private void assertStands(String when, Path former, Path leaver, Path newcomer) throws IOException {
        assertThat(isLetIn(newcomer)).as(when + ": the newcomer is let in").isTrue();
        assertThat(isLetIn(former))
                .as(when + ": whoever was revoked before is refused")
                .isFalse();
        assertThat(isLetIn(leaver)).as(when + ": the leaver is refused").isFalse();
    }

    @Test
    void whoeverWasRevokedBeforeOrIsWithdrawnNowStaysRefusedByTheRealServer() throws Exception {
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.95.1");
                Tender tender = new Tender(folder, office)) {
            oldAuthority();
            tender.client(
                    "authority",
                    "import",
                    "old-office",
                    "--certificate",
                    folder.resolve("old.crt").toString(),
                    "--key-file",
                    folder.resolve("old.key").toString(),
                    "--revocation-list",
                    folder.resolve("old-crl.pem").toString(),
                    "--index",
                    folder.resolve("index.txt").toString());
            tender.client(
                    "authority",
                    "sign",
                    "old-office",
                    "--server",
                    "orrin.skerrivane.example",
                    "--out",
                    folder.resolve("orrin").toString(),
                    "--passphrase-fd",
                    "3<harbour-lights");
            serve();
            addMachine(tender);
            for (String device : new String[] {"laptop", "phone"}) {
                tender.client("device", "add", "mara", device, "--kind", device);
                tender.client("profile", "issue", "mara", device, "--gateway", "orrin-vpn");
            }
            Path leaver = tender.collect("mara-laptop-orrin-vpn");
            Path newcomer = tender.collect("mara-phone-orrin-vpn");
            Path former = folder.resolve("former.ovpn");
            Files.writeString(
                    former,
                    Files.readString(leaver)
                            .replaceAll("(?s)<cert>.*</cert>", "<cert>\n" + log("former.crt") + "</cert>")
                            .replaceAll("(?s)<key>.*</key>", "<key>\n" + log("former.key") + "</key>"));
            assertThat(isLetIn(leaver)).as("before").isTrue();
            assertThat(isLetIn(former)).as("before").isFalse();

            tender.client("profile", "withdraw", "mara-laptop-orrin-vpn", "--yes");
            Shell.until(
                    "the list to be delivered",
                    PATIENCE,
                    () -> log("device/server/staff-list.pem").length() > 0
                            && tender.client("profile", "list").contains("withdrawn"));
            assertStands("after the first withdrawal", former, leaver, newcomer);
            assertThat(tender.client("backup", "list")).contains("orrin-vpn");

            // the list of before comes back, as a restored machine would have it; and the power fails
            Shell.need(
                    "openssl",
                    "crl",
                    "-inform",
                    "DER",
                    "-in",
                    folder.resolve("list.crl").toString(),
                    "-out",
                    device.resolve("server/staff-list.pem").toString());
            tender.kill();
            tender.start();
            tender.moved();
            tender.client("gateway", "read", "orrin-vpn");
            assertThat(tender.tryClient("finding", "list").out()).contains("revocation-list-incomplete");
            tender.client("gateway", "sync", "orrin-vpn");
            assertThat(tender.tryClient("finding", "list").out()).doesNotContain("revocation-list-incomplete");
            assertStands("after a restart", former, leaver, newcomer);

            String list = log("device/server/staff-list.pem");
            String serial = "";
            for (JsonNode c : tender.json("authority", "certificates", "old-office")) {
                serial = c.toString().contains("mara-phone-orrin-vpn")
                        ? c.path("serial").asText()
                        : serial;
            }
            tender.client("authority", "revoke", serial, "--reason", "key-compromise", "--yes");
            Shell.until(
                    "the list to reach the gateway",
                    PATIENCE,
                    () -> !log("device/server/staff-list.pem").equals(list));
            assertThat(isLetIn(newcomer)).as("revoked by hand").isFalse();
        }
    }

    /** The client alone, run by an account that owns nothing and may do nothing, without a service. */
    private void triedByNobody(Path file) throws IOException {
        Instant began = Instant.now();
        String out = Nobody.tries(file, "profile.ovpn", "");
        Duration bare = Duration.between(began, Instant.now());
        began = Instant.now();
        Shell.need(Shell.ROOT.resolve("bin/tender").toString(), "trial", "run", file.toString());
        System.out.println("measured: a cold trial of a file by the client, from command to verdict, "
                + Duration.between(began, Instant.now()).toMillis()
                + " ms; by an account without rights, its copying and"
                + " no class data included, " + bare.toMillis() + " ms");
        assertThat(out).contains("tunnel address  ok", "proven, rests on this very file");
    }
}
