package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.backup.Snapshot;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.ListenerChange;
import tender.core.wire.MalformedException;
import tender.io.names.DnsNameService;

/** A plain machine with Debian's sshd, an OpenVPN server's files and status, and a WireGuard interface's file. */
class RealSshdTest {
    private static final Path SSHD = Path.of("/usr/sbin/sshd");
    private static final ManagementConnection.Hold HOLD = new ManagementConnection.Hold("tender-a", 1);

    @TempDir
    Path folder;

    private Process sshd;
    private int port;
    private SshConnector connector;

    private static String run(String... command) throws Exception {
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(said).isZero();
        return said;
    }

    @BeforeEach
    void open() throws Exception {
        boolean able = Files.isExecutable(SSHD) && Files.isExecutable(Path.of("/usr/bin/ssh-keygen"));
        if (!able) {
            System.out.println("SKIPPED: no sshd on this machine");
        }
        assumeTrue(able);
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
        keyPair("ed25519", "host", "");
        keyPair("ecdsa", "key", "");
        keyPair("rsa", "host-rsa", "");
        keyPair("ed25519", "locked", "a long passphrase");
        Files.writeString(
                folder.resolve("key.pub"),
                Files.readString(folder.resolve("locked.pub")),
                java.nio.file.StandardOpenOption.APPEND);
        layOut();
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getByName("127.10.92.1"))) {
            port = free.getLocalPort();
        }
        Files.createDirectories(Path.of("/run/sshd"));
        Files.writeString(folder.resolve("sshd_config"), """
                ListenAddress 127.10.92.1:%d
                HostKey %s/host
                HostKey %s/host-rsa
                PidFile none
                AuthorizedKeysFile %s/key.pub
                StrictModes no
                PasswordAuthentication no
                KbdInteractiveAuthentication no
                UsePAM no
                PermitRootLogin prohibit-password
                Subsystem sftp internal-sftp
                """.formatted(port, folder, folder, folder));
        sshd = new ProcessBuilder(
                        SSHD.toString(),
                        "-D",
                        "-e",
                        "-f",
                        folder.resolve("sshd_config").toString())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("sshd.log").toFile())
                .start();
        Instant end = Instant.now().plusSeconds(10);
        while (!answers()) {
            assertThat(Instant.now())
                    .as(Files.readString(folder.resolve("sshd.log")))
                    .isBefore(end);
            TimeUnit.MILLISECONDS.sleep(20);
        }
        connector = new SshConnector(
                new DnsNameService(Optional.empty()), new CallableAddresses(List.of(Cidr.parse("127.10.0.0/16"))));
    }

    private void keyPair(String type, String name, String passphrase) throws Exception {
        run(
                "ssh-keygen",
                "-q",
                "-t",
                type,
                "-N",
                passphrase,
                "-f",
                folder.resolve(name).toString());
    }

    /** Type and fingerprint as ssh-keygen tells them: {@code ED25519 SHA256:…}. */
    private String fingerprint(String name) throws Exception {
        String[] words = run(
                        "ssh-keygen", "-l", "-f", folder.resolve(name + ".pub").toString())
                .strip()
                .split(" ");
        return words[words.length - 1].replaceAll("[()]", "") + " " + words[1];
    }

    private boolean answers() {
        try (Socket socket = new Socket("127.10.92.1", port)) {
            return socket.isConnected();
        } catch (java.io.IOException e) {
            return false;
        }
    }

    private void layOut() throws Exception {
        Path server = Files.createDirectories(folder.resolve("openvpn/server"));
        Files.writeString(
                server.resolve("staff.conf"),
                "port 1194\nproto udp\ndev tun\nserver 10.99.8.0 255.255.255.0\ndata-ciphers AES-256-GCM\nauth SHA256\n# by hand\n");
        TunnelKeyPair key = TunnelKeyPair.generate(new SecureRandom());
        Files.createDirectories(folder.resolve("wireguard"));
        Files.writeString(
                folder.resolve("wireguard/wg0.conf"),
                "[Interface]\nPrivateKey = "
                        + Base64.getEncoder().encodeToString(key.privateKey().reveal(RevealSecret.TO_WRITE_FILE))
                        + "\nAddress = 10.99.9.1/24\nListenPort = 51820\n");
        Files.writeString(folder.resolve("status.log"), """
                TITLE,OpenVPN 2.6.14
                TIME,2026-11-23 10:00:00,1795428000
                HEADER,CLIENT_LIST,Common Name,Real Address,Virtual Address,Virtual IPv6 Address,Bytes Received,Bytes Sent,Connected Since,Connected Since (time_t),Username,Client ID,Peer ID,Data Channel Cipher
                CLIENT_LIST,bram-laptop,198.51.100.9:40001,10.99.8.6,,12345,67890,2026-11-23 09:00:00,1795424400,UNDEF,0,0,AES-256-GCM
                HEADER,ROUTING_TABLE,Virtual Address,Common Name,Real Address,Last Ref,Last Ref (time_t)
                END
                """);
        Files.writeString(folder.resolve("openvpn.log"), "one\ntwo\nthree \u0007 bell\n");
        Files.writeString(
                folder.resolve("accounts"),
                "#!/bin/sh\nls " + server + " >> " + folder.resolve("held") + "\ncat >> " + folder.resolve("given")
                        + "\n");
        Files.writeString(
                folder.resolve("restart"),
                "#!/bin/sh\necho \"restarted $1\" >> " + folder.resolve("openvpn.log") + "\n");
    }

    @AfterEach
    void close() throws Exception {
        if (connector != null) {
            connector.close();
        }
        if (sshd != null) {
            sshd.destroy();
            sshd.waitFor();
        }
    }

    private String description() {
        return """
                description: plain-machine
                title: A plain machine
                files:
                  - path: @/openvpn/server/*.conf
                    format: openvpn
                  - path: @/wireguard/*.conf
                    format: wireguard
                commands:
                  clock: date -u +%Y-%m-%dT%H:%M:%SZ
                  release: uname -s
                  restart: sh @/restart {listener}
                  apply: "true"
                  accounts: sh @/accounts
                  connected: {file: @/status.log}
                  log: {file: @/openvpn.log}
                """.replace("@", folder.toString());
    }

    private Target target(Secret key, Optional<Target> jump) throws Exception {
        return new Target(
                Host.parse("127.10.92.1"),
                new Port(port),
                System.getProperty("user.name"),
                new SignIn(SignIn.Method.KEY, key),
                Optional.empty(),
                DescriptionReader.read(description().getBytes(StandardCharsets.UTF_8)),
                false,
                jump);
    }

    private Secret key(String name) throws Exception {
        return Secret.of(Files.readString(folder.resolve(name)));
    }

    @Test
    void anyOfItsHostKeysIsAcceptedAndThenAskedFor() throws Exception {
        Target any = target(key("key"), Optional.empty());

        for (String name : List.of("host", "host-rsa")) {
            String told = fingerprint(name);
            assertThat(connector.showing(any, told)).as(name).contains(told);
            assertThat(connector.showing(any, told.split(" ")[1]))
                    .as("without its type")
                    .contains(told);
            try (ManagementConnection connection = connector.open(any.withIdentity(told))) {
                assertThat(connection.readAll().files()).isNotEmpty();
            }
            connector.drop(any.withIdentity(told));
        }
        assertThat(connector.identity(any)).isIn(fingerprint("host"), fingerprint("host-rsa"));
        String other = "ED25519 SHA256:AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";
        assertThat(connector.showing(any, other)).isEmpty();
        assertThatThrownBy(() -> connector.open(any.withIdentity(other)))
                .isInstanceOfSatisfying(
                        GatewayFailure.class,
                        e -> assertThat(e.kind()).isEqualTo(GatewayFailure.Kind.IDENTITY_CHANGED));
    }

    @Test
    void aKeyWithAPassphraseIsUnlockedAndTheWrongOneSaysSo() throws Exception {
        Secret unlocked = SshKeys.unlocked(key("locked"), Optional.of(Secret.of("a long passphrase")));
        Target any = target(unlocked, Optional.empty());
        try (ManagementConnection connection = connector.open(any.withIdentity(connector.identity(any)))) {
            assertThat(connection.readAll().files()).isNotEmpty();
        }
        assertThat(SshKeys.unlocked(key("key"), Optional.empty())).isEqualTo(key("key"));
        assertThatThrownBy(() -> SshKeys.unlocked(key("locked"), Optional.of(Secret.of("another"))))
                .hasMessageContaining("does not open");
        assertThatThrownBy(() -> SshKeys.unlocked(key("locked"), Optional.empty()))
                .hasMessageContaining("needs its passphrase");
        assertThatThrownBy(() -> SshKeys.unlocked(Secret.of("no key at all"), Optional.empty()))
                .hasMessageContaining("no SSH private key");
    }

    @Test
    void aDeviceIsReachedThroughAnother() throws Exception {
        Target direct = target(key("key"), Optional.empty());
        Target jump = direct.withIdentity(fingerprint("host"));
        Target behind = target(key("key"), Optional.of(jump));

        assertThat(connector.identity(behind)).isIn(fingerprint("host"), fingerprint("host-rsa"));
        try (ManagementConnection connection = connector.open(behind.withIdentity(fingerprint("host-rsa")))) {
            assertThat(connection.readAll().files()).isNotEmpty();
        }
        connector.drop(jump);
        assertThatThrownBy(() ->
                        connector.open(target(key("key"), Optional.of(direct.withIdentity("ED25519 SHA256:other")))
                                .withIdentity(fingerprint("host"))))
                .as("the jump host shows another key")
                .isInstanceOf(GatewayFailure.class);
    }

    private SshConnection session() throws Exception {
        Target any = target(key("key"), Optional.empty());
        return (SshConnection) connector.open(any.withIdentity(connector.identity(any)));
    }

    @Test
    void readsListenersSessionsLogAndClock() throws Exception {
        try (SshConnection session = session()) {
            Snapshot files = session.readAll();
            Device device = session.device(files, Instant.now());

            assertThat(device.listeners().stream()
                            .map(l -> l.name() + " " + l.protocol().word()))
                    .containsExactly("staff openvpn", "wg0 wireguard");
            assertThat(device.listener("staff").orElseThrow().tunnels()).containsExactly(Cidr.parse("10.99.8.0/24"));
            assertThat(device.release()).isEqualTo("Linux");
            assertThat(device.clockOffset().orElseThrow().abs()).isLessThan(Duration.ofSeconds(5));
            assertThat(session.connected()).singleElement().satisfies(c -> {
                assertThat(c.name()).isEqualTo("bram-laptop");
                assertThat(c.addresses()).containsExactly("10.99.8.6");
                assertThat(c.received()).isEqualTo(12345);
            });
            assertThat(session.log(2)).containsExactly("two", "three   bell");
        }
    }

    @Test
    void changesAFileUnderALockAndRestartsTheListener() throws Exception {
        try (SshConnection session = session()) {
            Snapshot files = session.readAll();
            Device device = session.device(files, Instant.now());
            session.change(
                    files,
                    device,
                    List.of(new ListenerChange.SetListener("staff", Map.of(Attribute.PORT, "1195"))),
                    HOLD);
            session.restart("staff");

            assertThat(Files.readString(folder.resolve("openvpn/server/staff.conf")))
                    .startsWith("port 1195\nproto udp\n")
                    .endsWith("# by hand\n");
            assertThat(session.log(1)).containsExactly("restarted staff");
            session.undo(files, Optional.empty(), HOLD);
            assertThat(Files.readString(folder.resolve("openvpn/server/staff.conf")))
                    .startsWith("port 1194\n");
        }
    }

    @Test
    void aNameThatAShellWouldUnderstandNeverReachesIt() throws Exception {
        try (SshConnection session = session()) {
            assertThatThrownBy(() -> session.restart("a;touch " + folder.resolve("hacked")))
                    .isInstanceOf(MalformedException.class);
            assertThatThrownBy(() -> session.restart("a;reboot")).isInstanceOf(MalformedException.class);
        }
        assertThat(folder.resolve("hacked")).doesNotExist();
        assertThat(Files.readString(folder.resolve("openvpn.log"))).doesNotContain("restarted");
    }

    @Test
    void aFileIsReadAsFarAsEightMebibytes() throws Exception {
        Path large = folder.resolve("openvpn/server/large.conf");
        try (SshConnection session = session()) {
            Files.write(large, new byte[8 * 1024 * 1024]);
            assertThat(session.read(large.toString())).hasSize(8 * 1024 * 1024);
            Files.write(large, new byte[8 * 1024 * 1024 + 1]);
            assertThatThrownBy(() -> session.read(large.toString()))
                    .isInstanceOfSatisfying(
                            GatewayFailure.class, f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.UNREADABLE))
                    .hasMessageContaining("over 8 MiB");
            assertThatThrownBy(session::readAll).isInstanceOf(GatewayFailure.class);
        }
    }

    /** The command runs under a lock beside the device's files, which an older writer cannot take from a newer one. */
    @Test
    void accountsAreSetUnderTheWritersFence() throws Exception {
        GatewayPlan plan = new GatewayPlan(
                Optional.empty(),
                List.of(),
                List.of(),
                List.of(new ManagementConnection.Account("mara", Secret.of("a-password"))),
                List.of("bram"));
        Path lock = folder.resolve("openvpn/server/accounts.lock");
        try (SshConnection session = session()) {
            assertThat(session.apply(plan, HOLD).failures()).isEmpty();
            assertThat(folder.resolve("given")).hasContent("set mara a-password\ndrop bram\n");
            assertThat(Files.readString(folder.resolve("held"))).contains("accounts.lock");
            assertThat(lock).doesNotExist();

            Files.writeString(lock, "holder=tender-a fence=9\n");
            assertThat(session.apply(plan, HOLD).failures())
                    .hasEntrySatisfying(
                            GatewayPlan.Part.ACCOUNTS,
                            e -> assertThat(((GatewayFailure) e).kind()).isEqualTo(GatewayFailure.Kind.LOCKED));
            assertThat(folder.resolve("given")).hasContent("set mara a-password\ndrop bram\n");
        }
    }

    @Test
    void aLockThatIsHeldTakenOverOrAFileThatChangedMeanwhileStopsAWrite() throws Exception {
        Path file = folder.resolve("openvpn/server/staff.conf");
        byte[] before = Files.readAllBytes(file);
        byte[] after = "port 1200\n".getBytes(StandardCharsets.UTF_8);
        try (SshConnection session = session();
                SshConnection other = session()) {
            SshFiles.Lock lock = session.lock(file.toString(), HOLD);
            assertThatThrownBy(() -> other.lock(file.toString(), new ManagementConnection.Hold("somebody-else", 1)))
                    .isInstanceOfSatisfying(
                            GatewayFailure.class, f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.LOCKED));
            // the next holder of the same installation takes the lock over: the former one may write no more
            SshFiles.Lock next = other.lock(file.toString(), new ManagementConnection.Hold("tender-a", 2));
            assertThatThrownBy(() -> lock.replace(before, after))
                    .isInstanceOfSatisfying(
                            GatewayFailure.class,
                            f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.CHANGED_MEANWHILE));
            assertThat(file).hasBinaryContent(before);
            lock.close();
            assertThat(folder.resolve("openvpn/server/staff.conf.lock"))
                    .as("the next one's")
                    .exists();

            Files.writeString(file, "port 1300\n");
            assertThatThrownBy(() -> next.replace(before, after))
                    .isInstanceOfSatisfying(
                            GatewayFailure.class,
                            f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.CHANGED_MEANWHILE));
            assertThat(file).hasContent("port 1300\n");
            next.replace("port 1300\n".getBytes(StandardCharsets.UTF_8), after);
            assertThat(file).hasBinaryContent(after);
            next.close();
            try (SshFiles.Lock free =
                    session.lock(file.toString(), new ManagementConnection.Hold("somebody-else", 1))) {
                assertThat(free).isNotNull();
            }
        }
    }
}
