package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.io.names.DnsNameService;
import tender.standins.office.SmallOffice;

class SshConnectorTest {
    private static final String FILE = "/tunnels/wg0.conf";

    @TempDir
    Path folder;

    private SmallOffice office;
    private SshConnector connector;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder, "127.10.72.1");
        connector = connector(List.of(Cidr.parse("127.10.0.0/16")));
    }

    private SshConnector connector(List<Cidr> listed) throws Exception {
        return new SshConnector(new DnsNameService(Optional.of(office.resolver())), new CallableAddresses(listed));
    }

    @AfterEach
    void close() throws Exception {
        connector.close();
        office.close();
    }

    private Target target(String user, Optional<String> identity) throws Exception {
        return new Target(
                Host.parse(SmallOffice.NAME),
                new Port(office.router().sshPort()),
                user,
                new SignIn(SignIn.Method.KEY, Secret.of(office.key())),
                identity,
                DescriptionReader.shipped("plain-router"),
                false);
    }

    private Target accepted() throws Exception {
        return target(SmallOffice.USER, Optional.of(connector.identity(target(SmallOffice.USER, Optional.empty()))));
    }

    @Test
    void readsFilesStatusAndClock() throws Exception {
        try (SshConnection session = (SshConnection) connector.open(accepted())) {
            assertThat(session.readAll().files())
                    .containsOnlyKeys("filter.rules", "forwards", "general.conf", "tunnels/wg0.conf");
            assertThat(session.status().named("wg0").orElseThrow().listenPort()).isEqualTo(office.tunnelPort());
            assertThat(Duration.between(session.clock(), Instant.now()).abs()).isLessThan(Duration.ofSeconds(5));
        }
    }

    @Test
    void refusesAnotherHostKeyAndAnotherUser() throws Exception {
        assertThatThrownBy(() -> connector.open(target(SmallOffice.USER, Optional.of("SHA256:other"))))
                .isInstanceOfSatisfying(
                        GatewayFailure.class,
                        f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.IDENTITY_CHANGED));
        assertThatThrownBy(() -> connector.open(target("someone", accepted().identity())))
                .isInstanceOfSatisfying(
                        GatewayFailure.class, f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.REFUSED));
    }

    @Test
    void callsNoAddressOfThisMachineUnlessListed() throws Exception {
        try (SshConnector strict = connector(List.of())) {
            assertThatThrownBy(() -> strict.identity(accepted()))
                    .isInstanceOfSatisfying(
                            GatewayFailure.class,
                            f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.FORBIDDEN_ADDRESS));
        }
    }

    @Test
    void replacesAFileUnderALockAndLeavesNothingBehind() throws Exception {
        try (SshConnection session = (SshConnection) connector.open(accepted())) {
            byte[] before = session.read(FILE);
            byte[] after = (new String(before, StandardCharsets.UTF_8) + "# more\n").getBytes(StandardCharsets.UTF_8);
            try (SshFiles.Lock lock = session.lock(FILE, new ManagementConnection.Hold("tender-a", 7))) {
                lock.replace(before, after);
            }

            assertThat(session.read(FILE)).isEqualTo(after);
            assertThat(Files.list(office.tunnelFile().getParent())).hasSize(1);
        }
    }

    @Test
    void writesNothingWhenTheFileChangedMeanwhile() throws Exception {
        try (SshConnection session = (SshConnection) connector.open(accepted());
                SshFiles.Lock lock = session.lock(FILE, new ManagementConnection.Hold("tender-a", 7))) {
            byte[] before = session.read(FILE);
            Files.writeString(office.tunnelFile(), new String(before, StandardCharsets.UTF_8) + "# by hand\n");

            assertThatThrownBy(() -> lock.replace(before, before))
                    .isInstanceOfSatisfying(
                            GatewayFailure.class,
                            f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.CHANGED_MEANWHILE));
            assertThat(Files.readString(office.tunnelFile())).endsWith("# by hand\n");
        }
    }

    @Test
    void takesOverItsOwnOlderLockButNobodyElses() throws Exception {
        try (SshConnection session = (SshConnection) connector.open(accepted())) {
            session.lock(FILE, new ManagementConnection.Hold("tender-a", 7));

            assertThatThrownBy(() -> session.lock(FILE, new ManagementConnection.Hold("tender-b", 9)))
                    .isInstanceOfSatisfying(
                            GatewayFailure.class, f -> assertThat(f.kind()).isEqualTo(GatewayFailure.Kind.LOCKED));
            assertThatThrownBy(() -> session.lock(FILE, new ManagementConnection.Hold("tender-a", 6)))
                    .isInstanceOf(GatewayFailure.class);
            session.lock(FILE, new ManagementConnection.Hold("tender-a", 8)).close();
        }
    }

    @Test
    void saysWhatTheDeviceSaidWhenACommandFails() throws Exception {
        office.router().faults().reloadFails = true;
        try (SshConnection session = (SshConnection) connector.open(accepted())) {
            assertThatThrownBy(session::reload)
                    .hasMessageContaining("reload ended with 1: reload failed: settings left as they were");
        }
    }
}
