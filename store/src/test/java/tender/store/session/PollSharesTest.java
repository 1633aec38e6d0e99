package tender.store.session;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.HashSet;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.testing.TestDatabase;

class PollSharesTest {
    private static final Duration LEASE = Duration.ofSeconds(20);
    private static TestDatabase database;
    private static Db db;

    @BeforeAll
    static void open() {
        database = TestDatabase.fresh();
        db = database.open();
    }

    @AfterAll
    static void close() {
        db.close();
        database.close();
    }

    @AfterEach
    void clear() {
        db.run(tx -> tx.update("update poll_share set node = null, lease_until = null", p -> p));
        db.run(tx -> tx.update("delete from node", p -> p));
    }

    private static Set<Integer> hold(String node) {
        return PollShares.hold(db, node, LEASE);
    }

    @Test
    void oneNodeHoldsAll() {
        assertThat(hold("a")).hasSize(PollShares.SHARES);
    }

    @Test
    void nodesThatComeAndGoHoldEverythingOnceAndAboutTheSame() {
        hold("a");
        hold("b");
        hold("c");
        for (int round = 0; round < 3; round++) {
            hold("a");
            hold("b");
            hold("c");
        }
        Set<Integer> all = new HashSet<>();
        int sum = 0;
        for (String node : Set.of("a", "b", "c")) {
            Set<Integer> held = hold(node);
            assertThat(held).hasSizeBetween(20, 22);
            all.addAll(held);
            sum += held.size();
        }
        assertThat(all).hasSize(PollShares.SHARES);
        assertThat(sum).as("no share is held by two").isEqualTo(PollShares.SHARES);

        db.run(tx -> PollShares.release(tx, "b"));
        hold("a");
        assertThat(hold("a").size() + hold("c").size()).isEqualTo(PollShares.SHARES);
    }

    @Test
    void theSharesOfADeadNodeAreTakenWhenItsLeaseRanOut() {
        hold("dead");
        assertThat(hold("b")).as("its lease still counts").isEmpty();
        db.run(tx -> tx.update("update poll_share set lease_until = now() - interval '1 second'", p -> p));
        db.run(tx -> tx.update("update node set heard_at = now() - interval '1 hour' where name = 'dead'", p -> p));

        assertThat(hold("b")).hasSize(PollShares.SHARES);
    }

    @Test
    void gatewaysSpreadOverTheShares() {
        Set<Integer> used = IntStream.range(0, 2_000)
                .mapToObj(i -> Ids.next())
                .map(PollShares::of)
                .collect(Collectors.toSet());

        assertThat(used).hasSize(PollShares.SHARES);
        UUID id = Ids.next();
        assertThat(PollShares.of(UUID.fromString(id.toString()))).isEqualTo(PollShares.of(id));
    }
}
