package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.backup.Snapshot;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.DeviceChange;
import tender.core.office.Drift;
import tender.core.office.FirewallChange;
import tender.core.office.ListenerChange;
import tender.io.names.DnsNameService;
import tender.standins.firewall.Firewall;
import tender.standins.firewall.FirewallFolder;

/** The gateway API against the firewall stand-in, which implements it on its own. */
class GatewayApiTest {
    private static final ManagementConnection.Hold HOLD = new ManagementConnection.Hold("tender-a", 3);
    private static final Change MOVE =
            new ListenerChange.SetListener("visitors", Map.of(Attribute.PORT, "1300", Attribute.MTU, "1380"));

    @TempDir
    Path folder;

    private Firewall firewall;
    private HttpsConnector connector;

    @BeforeEach
    void open() throws Exception {
        FirewallFolder.layOut(folder.resolve("fw"), "127.10.91.1", Instant.parse("2026-11-23T10:00:00Z"));
        firewall = Firewall.start(new Firewall.Place(folder.resolve("fw"), "127.10.91.1", 0, "TOKEN"));
        connector = new HttpsConnector(
                new DnsNameService(Optional.empty()), new CallableAddresses(List.of(Cidr.parse("127.10.0.0/16"))));
    }

    @AfterEach
    void close() {
        connector.close();
        firewall.close();
    }

    private Target target(String token, Optional<String> identity, boolean readOnly) {
        return new Target(
                Host.parse("127.10.91.1"),
                new Port(firewall.port()),
                "api",
                new SignIn(SignIn.Method.TOKEN, Secret.of(token)),
                identity,
                DescriptionReader.shipped("plain-router"),
                readOnly);
    }

    private GatewayApiConnection session() {
        return session("TOKEN", false);
    }

    private GatewayApiConnection session(String token, boolean readOnly) {
        String identity = connector.identity(target("", Optional.empty(), true));
        return (GatewayApiConnection) connector.open(target(token, Optional.of(identity), readOnly));
    }

    private static GatewayFailure.Kind kind(Throwable t) {
        return ((GatewayFailure) t).kind();
    }

    @Test
    void readsAllThatTheDeviceSaysOfItself() {
        GatewayApiConnection session = session();
        Snapshot snapshot = session.readAll();
        Device device = session.device(snapshot, Instant.now());

        assertThat(snapshot.files())
                .containsOnlyKeys(
                        "configuration.json", "openvpn/staff.conf", "openvpn/strict.conf", "openvpn/visitors.conf");
        assertThat(device.model()).isEqualTo("Gatehouse 40");
        assertThat(device.listeners()).hasSize(5).allMatch(l -> l.is(Attribute.ACTIVE, "yes"));
        assertThat(device.filter().rules()).hasSize(11);
        assertThat(device.networks().get(0).reserved()).hasSize(4);
        assertThat(device.clockOffset().orElseThrow().abs()).isLessThan(Duration.ofSeconds(5));
        assertThat(session.log(10)).isEmpty();
        assertThat(session.capabilities())
                .contains(Capability.CHANGE, Capability.ROLLBACK)
                .doesNotContain(Capability.FILES);
    }

    @Test
    void everyFormOfChangeDoesOnTheDeviceWhatItDoesInTheModel() {
        List<Change> forms = List.of(
                MOVE,
                new ListenerChange.AddListener("staff", "staff-new", Map.of(Attribute.PORT, "1400")),
                new ListenerChange.RemoveListener("old-laptops"),
                new FirewallChange.DropForward(
                        new tender.core.office.Protocol.PortSpec(tender.core.network.Transport.TCP, new Port(443))),
                new FirewallChange.PutForward(new tender.core.office.Forward(
                        tender.core.network.Transport.UDP,
                        new Port(777),
                        tender.core.network.IpAddress.parse("10.20.1.9"),
                        new Port(7777),
                        "test")),
                new FirewallChange.PutRule(
                        2,
                        tender.core.office.FilterRule.allowPort(
                                new tender.core.office.Protocol.PortSpec(
                                        tender.core.network.Transport.UDP, new Port(1300)),
                                "visitors")),
                new FirewallChange.MoveRule(6, 3),
                new FirewallChange.ReplaceRule(
                        1,
                        tender.core.office.FilterRule.allowPort(
                                new tender.core.office.Protocol.PortSpec(
                                        tender.core.network.Transport.TCP, new Port(22)),
                                "management")),
                new FirewallChange.DropRule(9),
                new DeviceChange.Demote("supplier"));
        for (Change change : forms) {
            GatewayApiConnection session = session();
            Snapshot before = session.readAll();
            Device then = session.device(before, Instant.now());
            session.change(before, then, List.of(change), HOLD);
            session.reload();
            Device now = session.device(session.readAll(), Instant.now());
            assertThat(Drift.between(change.applyTo(then), now))
                    .as(change.words())
                    .isEmpty();
        }
    }

    @Test
    void whatIsWrittenIsNotActiveUntilItIsApplied() {
        GatewayApiConnection session = session();
        Snapshot before = session.readAll();
        session.change(before, session.device(before, Instant.now()), List.of(MOVE), HOLD);

        assertThat(session.device(session.readAll(), Instant.now())
                        .listener("visitors")
                        .orElseThrow()
                        .is(Attribute.ACTIVE, "no"))
                .isTrue();
        session.undo(before, Optional.empty(), HOLD);
        assertThat(session.device(session.readAll(), Instant.now())
                        .listener("visitors")
                        .orElseThrow()
                        .is(Attribute.ACTIVE, "yes"))
                .isTrue();
    }

    @Test
    void undoingAChangeLeavesWhatWasChangedSinceThen() {
        GatewayApiConnection session = session();
        Snapshot before = session.readAll();
        session.change(before, session.device(before, Instant.now()), List.of(MOVE), HOLD);
        Snapshot after = session.readAll();
        session.accounts(
                List.of(new ManagementConnection.Account("ebba", Secret.of("a-password"))), List.of("supplier"), HOLD);
        Snapshot later = session.readAll();
        session.change(later, session.device(later, Instant.now()), List.of(new DeviceChange.SetZone("UTC")), HOLD);

        session.undo(before, Optional.of(after), HOLD);

        Device now = session.device(session.readAll(), Instant.now());
        Device then = session.device(before, Instant.now());
        assertThat(now.listeners()).isEqualTo(then.listeners());
        assertThat(now.zone()).contains("UTC");
        assertThat(now.accounts())
                .extracting(Device.Account::name)
                .contains("ebba")
                .doesNotContain("supplier");
    }

    @Test
    void nothingIsWrittenOverSomebodyElsesChange() throws Exception {
        GatewayApiConnection session = session();
        Snapshot before = session.readAll();
        Device device = session.device(before, Instant.now());
        Path file = folder.resolve("fw/configuration.json");
        Files.writeString(file, Files.readString(file).replace("11.4.2", "11.4.3"));

        assertThatThrownBy(() -> session.change(before, device, List.of(MOVE), HOLD))
                .satisfies(t -> assertThat(kind(t)).isEqualTo(GatewayFailure.Kind.CHANGED_MEANWHILE));
        assertThat(Files.readString(file)).contains("11.4.3").doesNotContain("1300");
    }

    @Test
    void aLateWriterWithALowerFenceIsRefused() {
        GatewayApiConnection session = session();
        Snapshot first = session.readAll();
        session.change(
                first,
                session.device(first, Instant.now()),
                List.of(MOVE),
                new ManagementConnection.Hold("tender-a", 9));
        Snapshot second = session.readAll();

        assertThatThrownBy(() -> session.change(
                        second,
                        session.device(second, Instant.now()),
                        List.of(MOVE),
                        new ManagementConnection.Hold("tender-a", 8)))
                .satisfies(t -> assertThat(kind(t)).isEqualTo(GatewayFailure.Kind.LOCKED));
    }

    @Test
    void aWrongTokenAnotherCertificateAndReadOnlyAreToldApart() {
        assertThatThrownBy(() -> session("OTHER", false))
                .satisfies(t -> assertThat(kind(t)).isEqualTo(GatewayFailure.Kind.REFUSED))
                .hasMessageNotContaining("OTHER");
        assertThatThrownBy(() -> connector.open(target("TOKEN", Optional.of("SHA256:another"), false)))
                .satisfies(t -> assertThat(kind(t)).isEqualTo(GatewayFailure.Kind.IDENTITY_CHANGED));
        GatewayApiConnection reading = session("TOKEN", true);
        Snapshot snapshot = reading.readAll();
        assertThatThrownBy(() -> reading.change(snapshot, reading.device(snapshot, Instant.now()), List.of(MOVE), HOLD))
                .satisfies(t -> assertThat(kind(t)).isEqualTo(GatewayFailure.Kind.READ_ONLY));
        assertThatThrownBy(reading::reload)
                .satisfies(t -> assertThat(kind(t)).isEqualTo(GatewayFailure.Kind.READ_ONLY));
    }

    @Test
    void whatWasArmedComesBackByItselfUnlessCalledOff() {
        GatewayApiConnection session = session();
        Snapshot before = session.readAll();
        Device device = session.device(before, Instant.now());
        session.arm(Duration.ofSeconds(1));
        session.change(before, device, List.of(MOVE), HOLD);
        session.reload();

        org.junit.jupiter.api.Assertions.assertTimeoutPreemptively(Duration.ofSeconds(10), () -> {
            while (session.device(session.readAll(), Instant.now())
                    .listener("visitors")
                    .orElseThrow()
                    .is(Attribute.PORT, "1300")) {
                TimeUnit.MILLISECONDS.sleep(50);
            }
        });
        session.arm(Duration.ofSeconds(600));
        session.disarm();
    }
}
