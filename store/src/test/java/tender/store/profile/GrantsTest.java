package tender.store.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Function;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.testing.OneRouter;
import tender.store.testing.TestDatabase;

/** Rules for teams on a real database, and which profiles follow them. */
class GrantsTest {
    private final Instant now = Instant.now();
    private TestDatabase database;
    private Db db;
    private OneRouter router;

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
        router = new OneRouter(db, now);
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    private <T> List<T> all(Function<Tx, List<T>> work) {
        return db.inTransaction(work::apply);
    }

    private boolean is(Function<Tx, Boolean> work) {
        return db.inTransaction(work::apply);
    }

    private Grants.Grant grant(boolean full, List<String> reach, Optional<Integer> days) {
        return new Grants.Grant(
                Ids.next(),
                router.listener,
                "pier2",
                "wg0",
                "masters",
                full,
                reach.stream().map(Cidr::parse).toList(),
                List.of(IpAddress.parse("10.20.0.53"), IpAddress.parse("2001:db8::53")),
                days,
                now);
    }

    @Test
    void oneRuleATeamAndListenerSetAnewInItsPlace() {
        db.run(tx -> Grants.put(tx, grant(false, List.of("10.20.1.0/24", "2001:db8:1::/48"), Optional.of(90))));
        UUID id = db.inTransaction(Grants::all).get(0).id();
        db.run(tx -> Grants.put(tx, grant(true, List.of(), Optional.empty())));

        List<Grants.Grant> all = db.inTransaction(Grants::all);

        assertThat(all).hasSize(1);
        assertThat(all.get(0).id()).as("the same rule").isEqualTo(id);
        assertThat(all.get(0).fullTunnel()).isTrue();
        assertThat(all.get(0).reach()).isEmpty();
        assertThat(all.get(0).dns()).hasSize(2);
        assertThat(all.get(0).validDays()).isEmpty();
        assertThat(is(tx -> Grants.drop(tx, id))).isTrue();
        assertThat(is(tx -> Grants.drop(tx, id))).as("it is gone").isFalse();
    }

    @Test
    void profilesFollowUntilSomethingIsSaidForThemAlone() {
        UUID first = router.profile("mara-phone-pier2", "10.99.4.2", "KEY-1");
        UUID second = router.profile("mara-phone-pier2-b", "10.99.4.3", "KEY-2");
        db.run(tx -> ProfileGrants.explicit(tx, second));

        assertThat(is(tx -> ProfileGrants.follows(tx, first))).isTrue();
        assertThat(is(tx -> ProfileGrants.follows(tx, second))).isFalse();
        assertThat(all(tx -> Profiles.following(tx, router.listener, "masters")))
                .extracting(Profiles.Profile::id)
                .containsExactly(first);
        assertThat(all(tx -> Profiles.following(tx, router.listener, "accounts")))
                .isEmpty();

        db.run(tx -> ProfileGrants.grant(
                tx, first, List.of(Cidr.parse("10.20.1.0/24")), true, List.of(IpAddress.parse("10.20.0.53")), false));

        Profiles.Profile granted =
                db.inTransaction(tx -> Profiles.byId(tx, first)).orElseThrow();
        assertThat(granted.reach()).containsExactly(Cidr.parse("10.20.1.0/24"));
        assertThat(granted.fullTunnel()).isTrue();
        assertThat(granted.dns()).containsExactly(IpAddress.parse("10.20.0.53"));
    }
}
