package tender.store.office;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.store.event.Events;
import tender.store.jdbc.ConflictException;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.StaleException;
import tender.store.secret.ColumnCipher;
import tender.store.secret.MasterKey;
import tender.store.session.Sessions;
import tender.store.testing.TestDatabase;

class GatewaysTest {
    private static final Instant T0 = Instant.parse("2026-03-01T10:00:00Z");
    private final Gateways gateways = new Gateways(new ColumnCipher(List.of(MasterKey.parse("k1:" + "03".repeat(32)))));
    private final UUID site = Ids.next();
    private final UUID gateway = Ids.next();
    private TestDatabase database;
    private Db db;

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
        db.run(tx -> {
            Sites.insert(
                    tx,
                    new Sites.Site(
                            site,
                            "pier-two",
                            "Pier two",
                            "company",
                            "UTC",
                            Map.of("office", Cidr.parse("10.20.4.0/24")),
                            1));
            gateways.insert(tx, gateway("pier2", gateway), Secret.of("KEY"));
        });
    }

    private Gateways.Gateway gateway(String name, UUID id) {
        return new Gateways.Gateway(
                id,
                site,
                "pier-two",
                name,
                "router",
                new Gateways.Management(
                        "ssh",
                        Host.parse("192.0.2.9"),
                        new Port(22),
                        "keeper",
                        "SHA256:x",
                        false,
                        "plain-router",
                        false,
                        "key",
                        Optional.empty()),
                Gateways.OperatorSettings.of(
                        Optional.empty(), java.util.List.of(Host.parse("pier2.skerrivane.example"))),
                Gateways.LastReading.NEVER,
                T0,
                1);
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    @Test
    void aConflictNamesItsConstraintAndAStaleVersionIsRefused() {
        assertThatThrownBy(() -> db.run(tx -> gateways.insert(tx, gateway("pier2", Ids.next()), Secret.of("K"))))
                .isInstanceOfSatisfying(
                        ConflictException.class, e -> assertThat(e.constraint()).isEqualTo("gateway_name"));
        db.run(tx -> gateways.set(tx, gateway("pier2", gateway), Optional.empty(), 1));
        assertThat(db.inTransaction(tx -> gateways.byId(tx, gateway))
                        .orElseThrow()
                        .hosts())
                .containsExactly(Host.parse("pier2.skerrivane.example"));
        assertThatThrownBy(() -> db.run(tx -> gateways.set(tx, gateway("pier2", gateway), Optional.empty(), 1)))
                .isInstanceOf(StaleException.class);
    }

    @Test
    void aFailedTransactionLeavesNothing() {
        assertThatThrownBy(() -> db.run(tx -> {
                    Sites.putNetworks(tx, site, Map.of("cameras", Cidr.parse("10.20.5.0/24")));
                    throw new IllegalStateException("stop");
                }))
                .isInstanceOf(IllegalStateException.class);

        assertThat(db.inTransaction(tx -> Sites.byId(tx, site)).orElseThrow().networks())
                .containsOnlyKeys("office");
    }

    @Test
    void theSignInKeyIsNotInTheRow() {
        assertThat(db.<Secret>inTransaction(tx -> gateways.signInKey(tx, gateway)))
                .isEqualTo(Secret.of("KEY"));
        boolean plain = db.inTransaction(tx -> tx.first(
                        "select position('KEY'::bytea in sign_in_key) > 0 as plain from gateway",
                        p -> p,
                        r -> r.flag("plain")))
                .orElseThrow();
        assertThat(plain).isFalse();
    }

    @Test
    void eventsReachEveryListenerWhenTheTransactionCommits() throws Exception {
        BlockingQueue<String> a = new LinkedBlockingQueue<>();
        BlockingQueue<String> b = new LinkedBlockingQueue<>();
        try (Events one = Events.listen(db, a::add);
                Events two = Events.listen(db, b::add)) {
            assertThat(a.poll(5, TimeUnit.SECONDS)).isEqualTo("reconnected -");
            assertThat(b.poll(5, TimeUnit.SECONDS)).isEqualTo("reconnected -");
            db.run(tx -> Events.say(tx, "gateway", "7"));

            assertThat(a.poll(5, TimeUnit.SECONDS)).isEqualTo("gateway 7");
            assertThat(b.poll(5, TimeUnit.SECONDS)).isEqualTo("gateway 7");
        }
    }

    @Test
    void sessionsOfAMonthGoToItsPartition() {
        UUID listener = Ids.next();
        Instant march = Instant.parse("2026-03-31T23:59:59Z");
        db.run(tx -> {
            Sessions.ensureMonth(tx, march);
            Sessions.ensureMonth(tx, march);
            Sessions.put(
                    tx,
                    listener,
                    List.of(new Sessions.Live(
                            Ids.next(), "k", Optional.empty(), "192.0.2.1:5", march, march, Optional.empty(), 1, 2)));
        });

        assertThat(db.<List<Sessions.Live>>inTransaction(tx -> Sessions.open(tx, listener)))
                .hasSize(1);
        assertThat(db.<List<Integer>>inTransaction(tx -> tx.list(
                        "select 1 as one from session where tableoid = 'session_2026_03'::regclass",
                        p -> p,
                        r -> r.integer("one"))))
                .hasSize(1);
    }

    @Test
    void idsRiseWithTime() {
        String earlier = Ids.next().toString();
        for (int i = 0; i < 5_000; i++) {
            String next = Ids.next().toString();
            assertThat(next).isGreaterThan(earlier);
            earlier = next;
        }
    }
}
