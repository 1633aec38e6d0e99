package tender.store.office;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.testing.TestDatabase;

/** What is noted of the office beside gateways: names, acceptances, descriptions, changes and drift. */
class OfficeNotesTest {
    private static final Instant T0 = Instant.parse("2026-11-23T10:00:00Z");

    private TestDatabase database;
    private Db db;
    private final UUID gateway = Ids.next();

    @BeforeEach
    void open() throws Exception {
        database = TestDatabase.fresh();
        db = database.open();
        db.run(tx -> {
            tx.update("insert into routing_domain (id, name) values (?, 'company')", p -> p.id(Ids.next()));
            tx.update(
                    "insert into site (id, name, title, routing_domain_id, time_zone) select ?, 's', 'S', id, 'UTC' from routing_domain",
                    p -> p.id(Ids.next()));
            tx.update("""
                    insert into gateway (id, site_id, name, kind, connector, address, port, username, sign_in_key, identity, created_at)
                    select ?, id, 'gw', 'router', 'ssh', '192.0.2.1', 22, 'keeper', ''::bytea, 'SHA256:x', now()
                    from site""", p -> p.id(gateway));
        });
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    private DeviceChange change(Optional<String> removeWhenUnused) {
        return new DeviceChange(
                Ids.next(),
                gateway,
                "",
                ChangeState.ORDERED,
                "[]",
                "words",
                "",
                Optional.empty(),
                Optional.empty(),
                Optional.of(30),
                Optional.empty(),
                false,
                removeWhenUnused,
                Optional.empty(),
                "owner",
                T0,
                Optional.empty(),
                Optional.empty());
    }

    @Test
    void namesKeepTheLastAnswerAlsoWhenItIsNone() {
        HostName name = HostName.parse("pier2.skerrivane.example");
        db.run(tx -> Names.put(tx, name, List.of(IpAddress.parse("192.0.2.1"), IpAddress.parse("2001:db8::1")), T0));
        assertThat(db.inTransaction(Names::all).get(name)).hasSize(2);

        db.run(tx -> Names.put(tx, name, List.of(), T0.plusSeconds(1)));

        assertThat(db.inTransaction(Names::all)).containsEntry(name, List.of());
    }

    @Test
    void anAcceptanceCountsUntilItsEndAndCanBeTakenBack() {
        db.run(tx -> Acceptances.put(tx, new Acceptances.Acceptance("k", "why", T0.plusSeconds(10), "owner", T0)));

        assertThat(db.<Map<String, Acceptances.Acceptance>>inTransaction(tx -> Acceptances.valid(tx, T0)))
                .containsKey("k");
        assertThat(db.<Map<String, Acceptances.Acceptance>>inTransaction(
                        tx -> Acceptances.valid(tx, T0.plusSeconds(10))))
                .isEmpty();
        assertThat((boolean) db.<Boolean>inTransaction(tx -> Acceptances.drop(tx, "k")))
                .isTrue();
        assertThat((boolean) db.<Boolean>inTransaction(tx -> Acceptances.drop(tx, "k")))
                .isFalse();
    }

    @Test
    void anEditedDescriptionHasToBeApprovedAgain() {
        db.run(tx -> Descriptions.put(tx, "device", new byte[] {1}, "d1", T0));
        assertThat((boolean) db.<Boolean>inTransaction(tx -> Descriptions.approve(tx, "device", "d2", "owner")))
                .as("another text was read")
                .isFalse();
        db.run(tx -> Descriptions.approve(tx, "device", "d1", "owner"));
        assertThat(db.inTransaction(tx -> Descriptions.byName(tx, "device"))
                        .orElseThrow()
                        .isApproved())
                .isTrue();

        db.run(tx -> Descriptions.put(tx, "device", new byte[] {2}, "d2", T0));

        assertThat(db.inTransaction(tx -> Descriptions.byName(tx, "device"))
                        .orElseThrow()
                        .isApproved())
                .isFalse();
    }

    @Test
    void aChangeIsFoundByWhatIsStillToBeDoneWithIt() {
        DeviceChange temporary = change(Optional.empty());
        DeviceChange beside = change(Optional.of("wg0"));
        db.run(tx -> {
            DeviceChanges.insert(tx, temporary);
            DeviceChanges.insert(tx, beside);
        });
        assertThat(db.<List<DeviceChange>>inTransaction(DeviceChanges::unfinished))
                .hasSize(2);

        db.run(tx -> {
            DeviceChanges.move(tx, temporary.id(), ChangeState.ACTIVE, "", Optional.empty());
            DeviceChanges.move(tx, beside.id(), ChangeState.KEPT, "", Optional.of(T0));
        });

        assertThat(db.<List<DeviceChange>>inTransaction(DeviceChanges::temporary))
                .extracting(DeviceChange::id)
                .containsExactly(temporary.id());
        assertThat(db.<List<DeviceChange>>inTransaction(DeviceChanges::removing))
                .extracting(DeviceChange::id)
                .containsExactly(beside.id());
        assertThat(db.inTransaction(DeviceChanges::temporaryCounts)).containsEntry(gateway, 1);
        assertThat(db.<List<DeviceChange>>inTransaction(tx -> DeviceChanges.of(tx, gateway, 10)))
                .hasSize(2);
        db.run(tx -> DeviceChanges.removed(tx, beside.id(), "gone"));
        assertThat(db.<List<DeviceChange>>inTransaction(DeviceChanges::removing))
                .isEmpty();
    }

    @Test
    void driftIsOpenUntilItIsNoted() {
        db.run(tx -> DeviceChanges.addDrift(
                tx,
                List.of(new DeviceChanges.Drift(
                        Ids.next(),
                        gateway,
                        T0,
                        Optional.empty(),
                        "port",
                        "1",
                        "2",
                        Optional.empty(),
                        Optional.empty()))));
        assertThat(db.inTransaction(DeviceChanges::driftCounts)).containsEntry(gateway, 1);

        assertThat((int) db.<Integer>inTransaction(tx -> DeviceChanges.note(tx, gateway, "owner", T0)))
                .isEqualTo(1);

        assertThat(db.inTransaction(DeviceChanges::driftCounts)).isEmpty();
        assertThat(db.inTransaction(tx -> DeviceChanges.drift(tx, gateway, 5))
                        .get(0)
                        .notedBy())
                .contains("owner");
    }
}
