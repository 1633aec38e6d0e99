package tender.store.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;
import tender.store.overview.Line;
import tender.store.testing.OneRouter;
import tender.store.testing.TestDatabase;

/** The kept rows say what the tables say, whatever happened and in whatever order. */
class StandingsTest {
    private static final int ROUNDS = 800;

    /** The same counts, worked out from everything at each call. */
    private static final String FROM_ALL = """
            with newest as (
                select distinct on (profile_id) profile_id, id, number from profile_revision order by profile_id, number desc),
            given as (
                select h.profile_id, min(c.at) as collected
                from handout h
                join newest n on n.id = h.revision_id
                left join collection c on c.handout_id = h.id
                where h.withdrawn_at is null
                group by h.profile_id),
            seen as (
                select s.profile_id, bool_or(s.received > 0 and s.sent > 0
                           and (n.number = 1 or coalesce(s.last_heard >= date_trunc('second', g.collected), false))) as both_ways
                from session s
                join newest n on n.profile_id = s.profile_id
                left join given g on g.profile_id = s.profile_id
                group by s.profile_id),
            last_trial as (
                select distinct on (t.profile_id) t.profile_id, t.profile_works
                from trial t
                join newest n on n.id = t.revision_id
                where t.profile_works is not null
                order by t.profile_id, t.created_at desc),
            real as (
                select p.id, p.state, g.profile_id is not null as given, s.both_ways, t.profile_works
                from profile p
                left join given g on g.profile_id = p.id
                left join seen s on s.profile_id = p.id
                left join last_trial t on t.profile_id = p.id
                where p.origin <> 'canary')
            select concat_ws(' ',
                   count(*) filter (where state in ('ready', 'writing')),
                   count(*) filter (where state in ('writing', 'withdrawing')),
                   count(*) filter (where state = 'failed'),
                   count(*) filter (where state = 'ready' and not given),
                   (select count(*) from handout where withdrawn_at is null),
                   (select count(*) from handout h where withdrawn_at is null and expires_at > now()
                    and not exists (select 1 from collection c where c.handout_id = h.id)),
                   count(*) filter (where state = 'ready' and coalesce(profile_works, false) = false and coalesce(both_ways, false) = false),
                   count(*) filter (where state = 'ready' and profile_works = false),
                   count(*) filter (where state = 'ready' and given and both_ways is null)) as counts
            from real""";

    private TestDatabase database;
    private Db db;
    private OneRouter router;
    private final List<UUID> profiles = new ArrayList<>();

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
        router = new OneRouter(db, Instant.now());
        db.run(tx -> tx.update(
                "insert into vantage (id, name, kind) values (?, 'here', 'service') on conflict do nothing",
                p -> p.id(Ids.next())));
        for (int i = 0; i < 6; i++) {
            profiles.add(router.profile("p" + i, "10.99.0." + (i + 2), "K" + i));
        }
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    private String kept() {
        Line.Counts c = db.inTransaction(Line::counts);
        return c.profiles() + " " + c.writing() + " " + c.failed() + " " + c.notHandedOut() + " " + c.handouts() + " "
                + c.waitingToBeCollected() + " " + c.unproven() + " " + c.failing() + " " + c.neverSeen();
    }

    private String fromAll() {
        return db.inTransaction(tx -> tx.first(FROM_ALL, p -> p, row -> row.text("counts")))
                .orElseThrow();
    }

    private List<String> labels(Standings.Filter filter) {
        return db.inTransaction(tx -> Profiles.page(tx, filter, Slice.after("", 100))).stream()
                .map(Profiles.Profile::label)
                .toList();
    }

    /** A withdrawn profile gives its label to the next one, before anybody looked. */
    @Test
    void labelsPassFromOneProfileToTheNextInAnyOrder() {
        assertThat(labels(Standings.Filter.ALL)).hasSize(6);
        for (int round = 0; round < 12; round++) {
            UUID one = profiles.get(0);
            UUID other = profiles.get(1);
            String label = round % 2 == 0 ? "p0" : "p1";
            db.run(
                    tx -> { // they change labels with each other, by way of a third
                        rename(tx, one, "between");
                        rename(tx, other, label);
                        rename(tx, one, label.equals("p0") ? "p1" : "p0");
                    });
            assertThat(labels(Standings.Filter.ALL)).containsExactly("p0", "p1", "p2", "p3", "p4", "p5");
        }
    }

    private static void rename(Tx tx, UUID id, String label) {
        tx.update(
                "update profile set label = ? where id = ?", p -> p.text(label).id(id));
    }

    @Test
    void whateverHappensTheKeptCountsAreThoseWorkedOutFromEverything() {
        Random random = new Random(20261130);
        for (int round = 0; round < ROUNDS; round++) {
            int what = random.nextInt(11);
            UUID profile = profiles.get(random.nextInt(profiles.size()));
            db.run(tx -> happens(tx, what, profile, random));
            if (random.nextInt(4) > 0) {
                assertThat(kept()).as("after round " + round).isEqualTo(fromAll());
            }
        }
        assertThat(kept()).isEqualTo(fromAll());
        for (Standings.Open open : Standings.Open.values()) {
            assertThat(labels(Standings.Filter.open(open))).isSorted();
        }
    }

    private static void happens(Tx tx, int what, UUID profile, Random random) {
        String newest = "(select id from profile_revision where profile_id = ? order by number desc limit 1)";
        String someHandout = "(select id from handout where profile_id = ? order by prepared_at desc, id desc limit 1)";
        int seconds = random.nextInt(4_000) - 2_000;
        boolean yes = random.nextBoolean();
        switch (what) {
            case 0 ->
                tx.update(
                        "update profile set state = ? where id = ?",
                        p -> p.text(List.of("ready", "writing", "failed", "withdrawing", "ready", "ready")
                                        .get(random.nextInt(6)))
                                .id(profile));
            case 1 -> tx.update("""
                        insert into profile_revision (id, profile_id, number, digest, file_name, made_for, created_at)
                        select ?, ?, max(number) + 1, 'd', 'f', '{}', now() from profile_revision where profile_id = ?""", p -> p.id(Ids.next()).id(profile).id(profile));
            case 2, 3 ->
                tx.update(
                        "insert into handout (id, profile_id, revision_id, token_digest, prepared_at, expires_at,"
                                + " collections_allowed, collections_left) select ?, ?, " + newest
                                + ", ?, now(), now() + make_interval(secs => ?), 2, 2",
                        p -> p.id(Ids.next())
                                .id(profile)
                                .id(profile)
                                .text("t" + Ids.next())
                                .integer(seconds));
            case 4 -> {
                int taken = tx.update(
                        "update handout set collections_left = collections_left - 1 where collections_left > 0 and id = "
                                + someHandout,
                        p -> p.id(profile));
                if (taken > 0) {
                    tx.update(
                            "insert into collection (handout_id, at, source) select " + someHandout
                                    + ", now() + make_interval(secs => ?), 'x'",
                            p -> p.id(profile).integer(seconds));
                }
            }
            case 5 ->
                tx.update("update handout set withdrawn_at = now() where id = " + someHandout, p -> p.id(profile));
            case 6 ->
                tx.update(
                        "insert into trial (id, profile_id, revision_id, vantage_id, subject, rests_on, state, created_at, profile_works)"
                                + " select ?, ?, " + newest
                                + ", (select id from vantage limit 1), 's', 'r', 'ended', now() + make_interval(secs => ?), ?",
                        p -> p.id(Ids.next())
                                .id(profile)
                                .id(profile)
                                .integer(seconds)
                                .flag(Optional.of(yes).filter(y -> random.nextInt(3) > 0)));
            case 7 ->
                tx.update(
                        "update trial set profile_works = ? where id = (select id from trial where profile_id = ? limit 1)",
                        p -> p.flag(yes).id(profile));
            case 8 ->
                tx.update(
                        """
                        insert into session (id, listener_id, public_key, profile_id, endpoint, since, last_heard, received, sent)
                        select ?, pl.listener_id, ?, pl.profile_id, '', now(), now() + make_interval(secs => ?), 0, 1
                        from profile_listener pl where pl.profile_id = ?""",
                        p -> p.id(Ids.next())
                                .text("k" + Ids.next())
                                .integer(seconds)
                                .id(profile));
            case 9 ->
                tx.update(
                        "update session set profile_id = ? where id = (select id from session order by id limit 1)",
                        p -> p.id(profile));
            default ->
                tx.update(
                        "update session set last_heard = last_heard + make_interval(secs => ?), received = received + ?"
                                + " where profile_id = ?",
                        p -> p.integer(Math.abs(seconds) + 1)
                                .integer(random.nextInt(2))
                                .id(profile));
        }
    }

    @Test
    void whatIsCommittedWhileAReaderWorksIsSeenByTheNext() throws Exception {
        CountDownLatch written = new CountDownLatch(1);
        CountDownLatch read = new CountDownLatch(1);
        Thread writer = new Thread(() -> db.run(tx -> {
            tx.update("update profile set state = 'failed' where id = ?", p -> p.id(profiles.get(0)));
            written.countDown();
            try {
                assertThat(read.await(20, TimeUnit.SECONDS)).isTrue();
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        }));
        writer.start();
        assertThat(written.await(20, TimeUnit.SECONDS)).isTrue();

        assertThat(db.inTransaction(Line::counts).failed()).isZero();
        read.countDown();
        writer.join();

        assertThat(db.inTransaction(Line::counts).failed()).isOne();
    }

    @Test
    void profilesAreFilteredByWhatIsAsked() {
        db.run(tx -> {
            tx.update("update profile set state = 'failed' where label in ('p0', 'p4')", p -> p);
            tx.update("update profile set state = 'withdrawn' where label = 'p5'", p -> p);
        });
        Standings.Filter all = Standings.Filter.ALL;
        Optional<String> no = Optional.empty();
        Optional<UUID> nobody = Optional.empty();

        assertThat(labels(all)).containsExactly("p0", "p1", "p2", "p3", "p4", "p5");
        assertThat(labels(Standings.Filter.open(Standings.Open.NOT_HANDED_OUT))).containsExactly("p1", "p2", "p3");
        assertThat(labels(Standings.Filter.open(Standings.Open.NEVER_SEEN))).isEmpty();
        assertThat(labels(new Standings.Filter(
                        Optional.of("P3"), nobody, no, nobody, no, Set.of(), false, Optional.empty())))
                .containsExactly("p3");
        assertThat(labels(new Standings.Filter(
                        Optional.of("%"), nobody, no, nobody, no, Set.of(), false, Optional.empty())))
                .as("a sign of patterns stands for itself")
                .isEmpty();
        assertThat(labels(new Standings.Filter(
                        no,
                        Optional.of(router.gateway),
                        no,
                        nobody,
                        no,
                        Set.of(ProfileState.READY),
                        false,
                        Optional.empty())))
                .containsExactly("p1", "p2", "p3");
        assertThat(labels(new Standings.Filter(
                        no, Optional.of(Ids.next()), no, nobody, no, ProfileState.LIVING, false, Optional.empty())))
                .isEmpty();
        assertThat(labels(new Standings.Filter(
                        no, nobody, Optional.of("nowhere"), nobody, no, ProfileState.LIVING, false, Optional.empty())))
                .isEmpty();
        assertThat(db.<List<Profiles.Profile>>inTransaction(tx -> Profiles.page(tx, all, Slice.after("p3", 1))))
                .extracting(Profiles.Profile::label)
                .containsExactly("p4");
    }
}
