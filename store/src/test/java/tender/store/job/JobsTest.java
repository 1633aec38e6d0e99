package tender.store.job;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tender.store.jdbc.Db;
import tender.store.testing.TestDatabase;

class JobsTest {
    private static final Instant T0 = Instant.parse("2026-03-01T10:00:00Z");
    private static final Duration LEASE = Duration.ofSeconds(20);
    private static TestDatabase database;
    private static Db db;

    @BeforeAll
    static void open() {
        database = new TestDatabase();
        db = database.open();
    }

    @AfterAll
    static void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    @AfterEach
    void clear() {
        db.run(tx -> tx.update("delete from job", p -> p));
    }

    private static UUID add(String serialKey, Optional<Duration> every) {
        return db.inTransaction(tx ->
                Jobs.add(tx, new Jobs.Order("k", "p", Optional.ofNullable(serialKey), Optional.empty(), every, 3), T0));
    }

    @Test
    void leasesEachJobOnceHoweverManyNodesAsk() throws Exception {
        for (int i = 0; i < 40; i++) {
            add(null, Optional.empty());
        }
        Set<UUID> taken = new HashSet<>();
        ExecutorService nodes = Executors.newFixedThreadPool(6);
        List<Callable<List<UUID>>> work = new ArrayList<>();
        for (int n = 0; n < 6; n++) {
            String node = "n" + n;
            work.add(() -> {
                List<UUID> mine = new ArrayList<>();
                for (Optional<Jobs.Job> job = Jobs.lease(db, node, T0, LEASE);
                        job.isPresent();
                        job = Jobs.lease(db, node, T0, LEASE)) {
                    mine.add(job.get().id());
                }
                return mine;
            });
        }
        int total = 0;
        for (var result : nodes.invokeAll(work)) {
            total += result.get().size();
            taken.addAll(result.get());
        }
        nodes.shutdown();

        assertThat(total).isEqualTo(40);
        assertThat(taken).hasSize(40);
    }

    @Test
    void jobsOfOneSerialKeyNeverRunTogether() {
        UUID first = add("gateway:1", Optional.empty());
        add("gateway:1", Optional.empty());
        add("gateway:2", Optional.empty());

        assertThat(Jobs.lease(db, "a", T0, LEASE)).map(Jobs.Job::id).contains(first);
        assertThat(Jobs.lease(db, "b", T0, LEASE)).isPresent();
        assertThat(Jobs.lease(db, "b", T0, LEASE)).as("the second of gateway:1").isEmpty();
        db.run(tx -> Jobs.finish(tx, first, "a", "done", "", T0));
        assertThat(Jobs.lease(db, "b", T0, LEASE)).isPresent();
    }

    @Test
    void aDeadNodesJobsAreTakenAgainWhenTheirLeaseRanOut() {
        UUID id = add(null, Optional.empty());
        Jobs.lease(db, "dead", T0, LEASE);

        assertThat(db.<Integer>inTransaction(tx -> Jobs.reap(tx, T0.plusSeconds(19))))
                .isZero();
        assertThat(db.<Integer>inTransaction(tx -> Jobs.reap(tx, T0.plusSeconds(21))))
                .isEqualTo(1);
        assertThat(Jobs.lease(db, "alive", T0, LEASE).orElseThrow().attempts()).isEqualTo(2);
        db.run(tx -> Jobs.finish(tx, id, "dead", "done", "", T0));
        assertThat(db.inTransaction(tx -> Jobs.byId(tx, id)).orElseThrow().state())
                .as("the late node's word no longer counts")
                .isEqualTo("running");
    }

    @Test
    void aJobThatComesBackWaitsForItsNextTime() {
        UUID id = add("watch:1", Optional.of(Duration.ofSeconds(5)));
        Jobs.lease(db, "a", T0, LEASE);
        db.run(tx -> Jobs.finish(tx, id, "a", "failed", "no answer", T0));

        assertThat(Jobs.lease(db, "a", T0.plusSeconds(4), LEASE)).isEmpty();
        assertThat(Jobs.lease(db, "a", T0.plusSeconds(6), LEASE)).isPresent();
    }

    @Test
    void cancellingEndsAWaitingJobAndAsksARunningOne() {
        UUID waiting = add(null, Optional.empty());
        assertThat(db.<Boolean>inTransaction(tx -> Jobs.cancel(tx, waiting, T0)))
                .isTrue();
        assertThat(Jobs.lease(db, "a", T0, LEASE)).isEmpty();
        UUID running = add(null, Optional.empty());
        Jobs.lease(db, "a", T0, LEASE);
        db.run(tx -> Jobs.cancel(tx, running, T0));

        assertThat(db.inTransaction(tx -> Jobs.byId(tx, running)).orElseThrow().cancelWanted())
                .isTrue();
        assertThat(db.<Boolean>inTransaction(tx -> Jobs.cancel(tx, waiting, T0)))
                .isFalse();
    }
}
