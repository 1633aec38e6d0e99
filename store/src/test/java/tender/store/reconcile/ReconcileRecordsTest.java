package tender.store.reconcile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.StaleException;
import tender.store.reconcile.DesiredResources.Due;
import tender.store.reconcile.DesiredResources.Kind;
import tender.store.reconcile.DesiredResources.Presence;
import tender.store.testing.TestDatabase;

/** What is wanted at a gateway, and who may write it. */
class ReconcileRecordsTest {
    private final UUID gateway = Ids.next();
    private final UUID listener = Ids.next();
    private final UUID profile = Ids.next();
    private TestDatabase database;
    private Db db;

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
        UUID domain = Ids.next();
        UUID site = Ids.next();
        UUID key = Ids.next();
        for (String sql : List.of(
                "insert into routing_domain (id, name) values ('%s', 'company-2')".formatted(domain),
                "insert into site (id, name, title, routing_domain_id, time_zone) values ('%s', 'pier', 'Pier', '%s', 'UTC')"
                        .formatted(site, domain),
                ("insert into gateway (id, site_id, name, kind, connector, address, port, username, sign_in_key, identity,"
                                + " created_at) values ('%s', '%s', 'pier2', 'router', 'ssh', '192.0.2.9', 22, 'x', '', '', now())")
                        .formatted(gateway, site),
                ("insert into listener (id, gateway_id, name, protocol, transport, port, public_key, tunnel_networks, active)"
                                + " values ('%s', '%s', 'wg0', 'wireguard', 'udp', 51820, '', '{}', true)")
                        .formatted(listener, gateway),
                ("insert into credential (id, kind, purpose, public_part, custody, state, created_at)"
                                + " values ('%s', 'TUNNEL_KEY_PAIR', '', 'KEY', 'HELD', 'CREATED', now())")
                        .formatted(key),
                "insert into profile (id, label, origin, state, created_at) values ('%s', 'mara', 'issued', 'writing', now())"
                        .formatted(profile),
                ("insert into profile_listener (profile_id, position, listener_id, key_id, reach, full_tunnel)"
                                + " values ('%s', 0, '%s', '%s', '{}', false)")
                        .formatted(profile, listener, key))) {
            database.tamper(sql);
        }
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    private void want(Presence presence) {
        db.run(tx -> DesiredResources.peer(tx, gateway, listener, profile, presence));
    }

    private List<Due> due() {
        return db.inTransaction(tx -> DesiredResources.due(tx, gateway));
    }

    private boolean isDue() {
        return db.inTransaction(tx -> DesiredResources.isDue(tx, gateway));
    }

    @Test
    void whatWasWantedWhileItWasWrittenIsDueStill() {
        want(Presence.PRESENT);
        List<Due> written = due();
        want(Presence.ABSENT);
        db.run(tx -> DesiredResources.active(tx, gateway, written));

        assertThat(due()).extracting(Due::presence).containsExactly(Presence.ABSENT);
        db.run(tx -> DesiredResources.active(tx, gateway, due()));
        assertThat(due()).isEmpty();
        db.run(tx -> DesiredResources.active(tx, gateway, written));
        assertThat(due()).as("late news of an older wish changes nothing").isEmpty();
    }

    @Test
    void aRefusedWishIsNotTriedAgainUntilItIsWantedAnew() {
        want(Presence.PRESENT);
        db.run(tx -> DesiredResources.failed(tx, gateway, due(), "no room"));
        assertThat(due()).isEmpty();
        want(Presence.PRESENT);
        assertThat(due()).hasSize(1);
    }

    @Test
    void aLastingProblemKeepsARowDueButIsNoReasonToTry() {
        db.run(tx -> DesiredResources.revocationLists(tx, gateway));
        assertThat(isDue()).isTrue();
        db.run(tx -> DesiredResources.problem(tx, gateway, List.of(Kind.REVOCATION_LISTS), "it checks no list", true));
        assertThat(isDue()).isFalse();
        assertThat(db.inTransaction(DesiredResources::gatewaysDue)).isEmpty();
        assertThat(due()).as("it goes along with whatever is written next").hasSize(1);
        db.run(tx -> DesiredResources.problem(tx, gateway, List.of(Kind.REVOCATION_LISTS), "away", false));
        assertThat(db.inTransaction(DesiredResources::gatewaysDue)).containsExactly(gateway);
    }

    @Test
    void aDueRowHoldsWhatIsNeededToWriteIt() {
        want(Presence.PRESENT);
        assertThat(due()).singleElement().satisfies(row -> {
            assertThat(row.kind()).isEqualTo(Kind.PEER);
            assertThat(row.listener()).contains("wg0");
            assertThat(row.publicPart()).isEqualTo("KEY");
            assertThat(row.label()).isEqualTo("mara");
        });
        db.run(tx -> DesiredResources.forget(tx, profile));
        assertThat(due()).as("somebody does it by hand").isEmpty();
    }

    private Optional<Long> acquire(String node, Duration lease) {
        return db.inTransaction(tx -> WriterLeases.acquire(tx, gateway, node, lease));
    }

    @Test
    void oneWriterAtATimeAndEachUnderAHigherFence() {
        Duration lease = Duration.ofSeconds(60);
        long first = acquire("a", lease).orElseThrow();
        assertThat(acquire("b", lease)).isEmpty();
        assertThat(acquire("a", lease)).as("nor the same node a second time").isEmpty();
        db.run(tx -> WriterLeases.release(tx, gateway, first));

        long second = acquire("b", lease).orElseThrow();

        assertThat(second).isGreaterThan(first);
        assertThatThrownBy(() -> db.run(tx -> WriterLeases.extend(tx, gateway, first, lease)))
                .isInstanceOf(StaleException.class);
        db.run(tx -> WriterLeases.release(tx, gateway, first));
        assertThat(acquire("a", lease))
                .as("a late writer gives back nothing of others")
                .isEmpty();
        db.run(tx -> WriterLeases.lapse(tx, "b"));
        assertThat(acquire("b", lease)).as("the same node after a restart").isPresent();
    }

    @Test
    void aLeaseRunsOutByTheDatabasesClockUnlessItIsKept() {
        long first = acquire("a", Duration.ZERO).orElseThrow();
        db.run(tx -> WriterLeases.extend(tx, gateway, first, Duration.ofSeconds(60)));
        assertThat(acquire("b", Duration.ofSeconds(60))).isEmpty();
        db.run(tx -> WriterLeases.extend(tx, gateway, first, Duration.ZERO));
        assertThat(acquire("b", Duration.ofSeconds(60))).isPresent();
    }
}
