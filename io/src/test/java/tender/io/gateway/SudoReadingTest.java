package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.server.shell.ProcessShellCommandFactory;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.backup.Snapshot;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.io.names.DnsNameService;

/**
 * A device whose files only root may read: no file transfer, a real shell, and a {@code sudo} of the test's own that writes down what it
 * is asked for.
 */
class SudoReadingTest {
    private static final String ADDRESS = "127.10.94.1";

    @TempDir
    Path folder;

    private SshServer server;
    private SshConnector connector;
    private Path etc;

    @BeforeEach
    void open() throws Exception {
        etc = Files.createDirectories(folder.resolve("roots-own/etc"));
        server = SshServer.setUpDefaultServer();
        server.setHost(ADDRESS);
        server.setKeyPairProvider(new SimpleGeneratorHostKeyProvider(folder.resolve("host")));
        server.setPasswordAuthenticator((user, password, session) -> true);
        Path sudo = Files.createDirectories(folder.resolve("bin")).resolve("sudo");
        Files.writeString(
                sudo,
                "#!/bin/sh\necho \"$*\" >>'" + folder
                        + "/asked'\n[ \"$1 $2\" = '-n --' ] || exit 9\nshift 2\nexec \"$@\"\n");
        assertThat(sudo.toFile().setExecutable(true)).isTrue();
        server.setCommandFactory((channel, command) -> {
            // as a device's login shell takes it, with our sudo first
            Path script = Files.createTempFile(folder, "command", ".sh");
            Files.writeString(script, "PATH=" + sudo.getParent() + ":$PATH\n" + command + "\n");
            return ProcessShellCommandFactory.INSTANCE.createCommand(channel, "/bin/sh " + script);
        });
        server.start();
        connector = new SshConnector(
                new DnsNameService(Optional.empty()), new CallableAddresses(List.of(Cidr.parse("127.10.0.0/16"))));
    }

    @AfterEach
    void close() throws Exception {
        connector.close();
        server.close();
    }

    private ManagementConnection connection(String through) {
        Target target = new Target(
                Host.parse(ADDRESS),
                new Port(server.getPort()),
                "keeper",
                new SignIn(SignIn.Method.PASSWORD, Secret.of("any")),
                Optional.empty(),
                DescriptionReader.read(("""
                        description: locked
                        title: files of root
                        read-through: %s
                        files:
                          - path: "%s/*.conf"
                            format: kept
                        commands:
                          apply: reload
                        """).formatted(through, etc).getBytes(StandardCharsets.UTF_8)),
                false);
        return connector.open(target.withIdentity(connector.identity(target)));
    }

    @Test
    void filesAreReadByRootWhateverTheirNamesAndNothingIsChanged() throws Exception {
        byte[] odd = {0, 1, (byte) 0xff, '\n', '\''};
        Files.write(etc.resolve("it's $(touch here); one.conf"), odd);
        Files.writeString(etc.resolve("two.conf"), "two\n");
        Files.writeString(etc.resolve("other"), "not spoken of\n");

        try (ManagementConnection device = connection("sudo")) {
            Snapshot all = device.readAll();

            assertThat(all.files().keySet())
                    .containsExactlyInAnyOrder(
                            (etc + "/it's $(touch here); one.conf").substring(1), (etc + "/two.conf").substring(1));
            assertThat(all.files().values())
                    .anySatisfy(content -> assertThat(content).isEqualTo(odd));
            assertThat(device.capabilities()).containsExactly(Capability.READ);
        }
        assertThat(Files.readAllLines(folder.resolve("asked"))).allMatch(line -> line.matches("-n -- (find|head) .*"));
        assertThat(folder.resolve("here")).doesNotExist();
    }

    @Test
    void whatRootMayNotReadEitherIsTold() {
        try (ManagementConnection device = connection("sudo")) {
            assertThatThrownBy(() -> {
                        Files.delete(etc);
                        device.readAll();
                    })
                    .isInstanceOfSatisfying(
                            GatewayFailure.class, f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.UNREADABLE))
                    .hasMessageContaining("without a password");
        }
    }

    @Test
    void anotherWayIsRefusedWithTheOneThereIs() {
        assertThatThrownBy(() -> connection("doas")).hasMessageContaining("sudo is what files can be read through");
    }
}
