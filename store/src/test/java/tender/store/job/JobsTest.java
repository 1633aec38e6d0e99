package tender.store.job;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
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
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    @AfterEach
    void clear() {
        db.run(tx -> tx.update("delete from job", p -> p));
    }

    private static final List<String> KINDS = List.of("k");
    private static final Optional<Duration> ONCE = Optional.empty();

    private static UUID add(String serialKey, Optional<Duration> every) {
        return add(serialKey, every, Duration.ZERO);
    }

    private static UUID add(String serialKey, Optional<Duration> every, Duration after) {
        return db.inTransaction(tx -> Jobs.add(
                tx, new Jobs.Order("k", "p", Optional.ofNullable(serialKey), Optional.empty(), every, 3), after));
    }

    private static Optional<Jobs.Job> lease(String node) {
        return Jobs.lease(db, node, KINDS, LEASE);
    }

    private static Optional<Duration> due(List<String> kinds) {
        return db.inTransaction(tx -> Jobs.nextDue(tx, kinds));
    }

    private static JobState state(UUID id) {
        return db.inTransaction(tx -> Jobs.byId(tx, id)).orElseThrow().state();
    }

    @Test
    void leasesEachJobOnceHoweverManyNodesAsk() throws Exception {
        for (int i = 0; i < 40; i++) {
            add(null, ONCE);
        }
        Set<UUID> taken = new HashSet<>();
        ExecutorService nodes = Executors.newFixedThreadPool(6);
        List<Callable<List<UUID>>> work = new ArrayList<>();
        for (int n = 0; n < 6; n++) {
            String node = "n" + n;
            work.add(() -> {
                List<UUID> mine = new ArrayList<>();
                for (Optional<Jobs.Job> job = lease(node); job.isPresent(); job = lease(node)) {
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
        UUID first = add("gateway:1", ONCE);
        add("gateway:1", ONCE);
        add("gateway:2", ONCE);

        assertThat(lease("a")).map(Jobs.Job::id).contains(first);
        assertThat(lease("b")).isPresent();
        assertThat(lease("b")).as("the second of gateway:1").isEmpty();
        db.run(tx -> Jobs.finish(tx, first, "a", JobState.DONE, "", Optional.empty()));
        assertThat(lease("b")).isPresent();
    }

    @Test
    void aJobThatAnotherKeepsWaitingIsNotDue() {
        UUID first = add("gateway:1", ONCE);
        add("gateway:1", ONCE);
        lease("a");

        assertThat(due(KINDS)).isEmpty();
        db.run(tx -> Jobs.finish(tx, first, "a", JobState.DONE, "", Optional.empty()));
        assertThat(due(KINDS)).contains(Duration.ZERO);
    }

    @Test
    void aNodeTakesOnlyTheKindsThatItKnows() {
        UUID id = add(null, ONCE);

        assertThat(Jobs.lease(db, "older release", List.of("other"), LEASE)).isEmpty();
        assertThat(due(List.of("other"))).isEmpty();
        assertThat(lease("a")).map(Jobs.Job::id).contains(id);
    }

    @Test
    void whatIsDueLaterWaitsByTheDatabasesClock() {
        add(null, ONCE, Duration.ofHours(1));

        assertThat(lease("a")).isEmpty();
        assertThat(due(KINDS).orElseThrow()).isBetween(Duration.ofMinutes(59), Duration.ofHours(1));
    }

    /** Lets the leases of a node run out. */
    private static void die(String node) {
        db.run(tx -> Jobs.lapse(tx, node));
    }

    @Test
    void aDeadNodesJobsAreTakenAgainWhenTheirLeaseRanOut() {
        UUID id = add(null, ONCE);
        lease("dead");

        assertThat(db.<Integer>inTransaction(Jobs::reap)).isZero();
        die("dead");
        assertThat(db.<Integer>inTransaction(Jobs::reap)).isEqualTo(1);
        assertThat(lease("alive").orElseThrow().attempts()).isEqualTo(2);
        db.run(tx -> Jobs.finish(tx, id, "dead", JobState.DONE, "", Optional.empty()));
        assertThat(state(id)).as("the late node's word no longer counts").isEqualTo(JobState.RUNNING);
    }

    @Test
    void aJobThatKillsItsNodesIsGivenUpAfterItsLastAttempt() {
        UUID id = add(null, ONCE);
        for (int attempt = 1; attempt <= 3; attempt++) {
            assertThat(lease("node " + attempt)).as("attempt " + attempt).isPresent();
            assertThat(Jobs.takeSpent(db, "heir", KINDS, LEASE)).isEmpty();
            die("node " + attempt);
            db.run(Jobs::reap);
        }

        assertThat(lease("alive")).isEmpty();
        assertThat(Jobs.takeSpent(db, "stranger", List.of("other"), LEASE)).isEmpty();
        assertThat(Jobs.takeSpent(db, "heir", KINDS, LEASE)).map(Jobs.Job::id).contains(id);
        assertThat(Jobs.takeSpent(db, "another", KINDS, LEASE))
                .as("one node ends it")
                .isEmpty();
        db.run(tx -> Jobs.finish(tx, id, "heir", JobState.FAILED, "lost", Optional.empty()));
        assertThat(state(id)).isEqualTo(JobState.FAILED);
    }

    @Test
    void workThatComesRoundIsNeverGivenUpWithItsNode() {
        UUID id = add("lists", Optional.of(Duration.ofSeconds(5)));
        for (int attempt = 1; attempt <= 5; attempt++) {
            lease("dead");
            die("dead");
            db.run(Jobs::reap);
        }

        assertThat(lease("alive")).map(Jobs.Job::id).contains(id);
    }

    @Test
    void aRunThatAnOrderlyStopCutShortCountsAsNone() {
        UUID id = add(null, ONCE);
        lease("a");
        db.run(tx -> Jobs.release(tx, "a"));

        assertThat(db.inTransaction(tx -> Jobs.byId(tx, id)).orElseThrow().attempts())
                .isZero();
        assertThat(lease("b")).isPresent();
    }

    @Test
    void aJobThatComesBackWaitsForItsNextTime() {
        UUID id = add("poll:1", Optional.of(Duration.ofHours(1)));
        lease("a");
        db.run(tx -> Jobs.finish(tx, id, "a", JobState.FAILED, "no answer", Optional.empty()));

        assertThat(lease("a")).isEmpty();
        db.run(tx -> tx.update("update job set run_at = now() - interval '1 second'", p -> p));
        assertThat(lease("a")).isPresent();
    }

    @Test
    void cancellingEndsAWaitingJobAndAsksARunningOne() {
        UUID waiting = add(null, ONCE);
        assertThat(db.<Boolean>inTransaction(tx -> Jobs.cancel(tx, waiting))).isTrue();
        assertThat(lease("a")).isEmpty();
        UUID running = add(null, ONCE);
        lease("a");
        db.run(tx -> Jobs.cancel(tx, running));

        assertThat(db.inTransaction(tx -> Jobs.byId(tx, running)).orElseThrow().cancelWanted())
                .isTrue();
        assertThat(db.<Boolean>inTransaction(tx -> Jobs.cancel(tx, waiting))).isFalse();
    }
}
