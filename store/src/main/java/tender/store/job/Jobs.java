package tender.store.job;

import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.event.Events;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.ConflictException;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Params;
import tender.store.jdbc.Row;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;

/**
 * The queue. A job with a serialisation key never runs beside another of that key (a unique index holds it); a lease that
 * is not renewed runs out and the job is taken again.
 */
public final class Jobs {
    /** What is to be done, and when; with {@code every} it comes back after each run. */
    public record Order(
            String kind,
            String payload,
            Optional<String> serialKey,
            Optional<UUID> parent,
            Optional<Duration> every,
            int maxAttempts) {
        public static Order once(String kind, String payload, String serialKey) {
            return new Order(kind, payload, Optional.of(serialKey), Optional.empty(), Optional.empty(), 5);
        }

        /** The same, ended as failed after so many attempts. */
        public Order attempts(int most) {
            return new Order(kind, payload, serialKey, parent, every, most);
        }
    }

    /**
     * A job as it stands.
     *
     * @param note how far it is, or why its last attempt failed
     * @param problem the code of that failure
     */
    public record Job(
            UUID id,
            String kind,
            String payload,
            Optional<String> serialKey,
            JobState state,
            Instant runAt,
            Optional<Long> everyMillis,
            int attempts,
            int maxAttempts,
            int progress,
            String note,
            Optional<String> problem,
            boolean cancelWanted,
            Instant createdAt,
            Optional<Instant> endedAt) {}

    private Jobs() {}

    /** Said to every node when there may be work for it. */
    public static final String ADDED = "job-added";

    private static final String INSERT = """
            insert into job (id, kind, payload, serial_key, parent_id, state, run_at, every_millis, max_attempts, created_at)
            values (?, ?, ?, ?, ?, 'waiting', now() + ? * interval '1 millisecond', ?, ?, now())""";

    /** Orders work that is due now, by the database's clock. */
    public static UUID add(Tx tx, Order order) {
        return add(tx, order, Duration.ZERO);
    }

    /** Orders work that is due after a time; a time that has passed already counts as now. */
    public static UUID add(Tx tx, Order order, Duration after) {
        UUID id = Ids.next();
        tx.updateOne(
                INSERT,
                p -> p.id(id)
                        .text(order.kind())
                        .text(order.payload())
                        .text(order.serialKey())
                        .id(order.parent())
                        .number(Math.max(0, after.toMillis()))
                        .number(order.every().map(Duration::toMillis))
                        .integer(order.maxAttempts()));
        Events.say(tx, ADDED, order.kind());
        return id;
    }

    private static final String COLUMNS =
            "id, kind, payload, serial_key, state, run_at, every_millis, attempts, max_attempts, progress, note, problem, cancel_wanted, created_at, ended_at";
    private static final String FREE = """
            j.state = 'waiting' and j.kind = any(?::text[])
            and not exists (select 1 from job r where r.serial_key = j.serial_key and r.state = 'running')""";
    private static final String JOIN = """
            update job
            set run_at = least(run_at, now()), attempts = 0, note = ''
            where id = (
                select id from job
                where kind = ? and payload = ? and state = 'waiting'
                order by run_at
                limit 1
                for update skip locked)
            returning id""";

    /**
     * Orders work that does all there is to do at its time: one that waits already is brought forward and used. Its row is
     * locked until this transaction ends, so that it does not run before what it is ordered for is there.
     */
    public static UUID join(Tx tx, Order order) {
        Optional<UUID> waiting = tx.first(JOIN, p -> p.text(order.kind()).text(order.payload()), row -> row.id("id"));
        if (waiting.isEmpty()) {
            return add(tx, order);
        }
        Events.say(tx, ADDED, order.kind());
        return waiting.get();
    }

    private static final String LEASE = """
            update job
            set state = 'running', node = ?, lease_until = now() + ? * interval '1 millisecond',
                attempts = attempts + 1, progress = 0
            where id = (
                select j.id
                from job j
                where\s""" + FREE + """

                and j.run_at <= now()
                order by j.run_at
                limit 1
                for update skip locked)
            returning\s""" + COLUMNS;

    /**
     * Takes the job of these kinds that has been due longest; empty when there is none, or another node was quicker. What is
     * due and how long a lease lasts is told by the database's clock alone, so that nodes whose clocks differ agree.
     */
    public static Optional<Job> lease(Db db, String node, Collection<String> kinds, Duration lease) {
        try {
            return db.inTransaction(tx ->
                    tx.first(LEASE, p -> p.text(node).number(lease.toMillis()).texts(kinds), Jobs::job));
        } catch (ConflictException e) {
            return Optional.empty();
        }
    }

    private static final String EXTEND =
            "update job set lease_until = now() + ? * interval '1 millisecond' where node = ? and state = 'running'";

    /** Keeps a node's running jobs leased for that long from now, by the database's clock. */
    public static void extend(Tx tx, String node, Duration lease) {
        tx.update(EXTEND, p -> p.number(lease.toMillis()).text(node));
    }

    private static final String RELEASE = """
            update job set state = 'waiting', node = null, attempts = greatest(attempts - 1, 0)
            where node = ? and state = 'running'""";

    /** Gives back what this node holds when it stops in order; the run that was cut short counts as none. */
    public static int release(Tx tx, String node) {
        return tx.update(RELEASE, p -> p.text(node));
    }

    private static final String LAPSE = "update job set lease_until = '-infinity' where node = ? and state = 'running'";

    /** Ends the leases that this node held when it was killed. */
    public static int lapse(Tx tx, String node) {
        return tx.update(LAPSE, p -> p.text(node));
    }

    private static final String REAP = """
            update job set state = 'waiting', node = null
            where state = 'running' and lease_until < now() and (attempts < max_attempts or every_millis is not null)""";
    private static final String TAKE_SPENT = """
            update job
            set node = ?, lease_until = now() + ? * interval '1 millisecond'
            where id = (
                select id
                from job
                where state = 'running' and lease_until < now() and kind = any(?::text[])
                and attempts >= max_attempts and every_millis is null
                order by lease_until
                limit 1
                for update skip locked)
            returning\s""" + COLUMNS;

    /** Puts jobs whose lease ran out back in the queue, but those that have had all their attempts. */
    public static int reap(Tx tx) {
        int reaped = tx.update(REAP, p -> p);
        if (reaped > 0) {
            Events.say(tx, ADDED, "");
        }
        return reaped;
    }

    /** Takes a job that lost its node at its last attempt, so that it is ended and not run again. */
    public static Optional<Job> takeSpent(Db db, String node, Collection<String> kinds, Duration lease) {
        return db.inTransaction(tx ->
                tx.first(TAKE_SPENT, p -> p.text(node).number(lease.toMillis()).texts(kinds), Jobs::job));
    }

    private static final String PROGRESS = "update job set progress = ?, note = ? where id = ? and node = ?";

    /**
     * @param percent 0 to 100
     * @param node whose job it is; another's is left alone
     */
    public static void progress(Tx tx, UUID id, String node, int percent, String note) {
        tx.update(PROGRESS, p -> p.integer(percent).text(note).id(id).text(node));
    }

    private static final String FINISH = """
            update job
            set state = case when every_millis is null then ? else 'waiting' end,
                run_at = now() + coalesce(every_millis, 0) * interval '1 millisecond',
                attempts = case when every_millis is null then attempts else 0 end,
                ended_at = now(), note = ?, problem = ?, progress = ?, node = null
            where id = ? and node = ? and state = 'running'
            returning exists (select 1 from job o where o.serial_key = job.serial_key and o.id <> job.id
                and o.state = 'waiting') as unblocks""";

    /** Ends a run, with why it failed and that failure's code; a job that comes back waits for its next time, whatever the outcome. Jobs that waited for it are told. */
    public static void finish(Tx tx, UUID id, String node, JobState state, String note, Optional<String> problem) {
        boolean unblocks = tx.first(
                        FINISH,
                        p -> p.text(state.word())
                                .text(note)
                                .text(problem)
                                .integer(state == JobState.DONE ? 100 : 0)
                                .id(id)
                                .text(node),
                        row -> row.flag("unblocks"))
                .orElse(false);
        if (unblocks) {
            Events.say(tx, ADDED, "");
        }
    }

    private static final String RETRY = """
            update job
            set state = 'waiting', run_at = now() + ? * interval '1 millisecond', note = ?, problem = ?, node = null
            where id = ? and node = ? and state = 'running'""";

    public static void retry(Tx tx, UUID id, String node, String note, Optional<String> problem, Duration after) {
        tx.update(
                RETRY,
                p -> p.number(after.toMillis()).text(note).text(problem).id(id).text(node));
    }

    private static final String POSTPONE = """
            update job
            set state = 'waiting', run_at = now() + ? * interval '1 millisecond', note = ?, node = null,
                attempts = greatest(attempts - 1, 0)
            where id = ? and node = ? and state = 'running'""";

    /** Puts a job off that could not be tried now; the run counts as none. */
    public static void postpone(Tx tx, UUID id, String node, String note, Duration after) {
        tx.update(POSTPONE, p -> p.number(after.toMillis()).text(note).id(id).text(node));
    }

    private static final String CANCEL = """
            update job
            set cancel_wanted = true,
                state = case when state = 'waiting' then 'cancelled' else state end,
                ended_at = case when state = 'waiting' then now() else ended_at end
            where id = ? and state in ('waiting', 'running')""";

    /** Whether there was something to cancel: a waiting job ends at once, a running one when it next looks. */
    public static boolean cancel(Tx tx, UUID id) {
        return tx.update(CANCEL, p -> p.id(id)) == 1;
    }

    private static final String BY_ID = "select " + COLUMNS + " from job where id = ?";
    private static final String STANDING =
            "select count(*) as n from job where kind = ? and payload = ? and state in ('waiting', 'running')";

    public static Optional<Job> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Jobs::job);
    }

    private static final String NEWEST =
            "select id from job where kind = ? and payload = ? order by created_at desc limit 1";

    /** The job that was ordered last for a piece of work. */
    public static Optional<UUID> newest(Tx tx, String kind, String payload) {
        return tx.first(NEWEST, p -> p.text(kind).text(payload), row -> row.id("id"));
    }

    private static final String THESE = "select " + COLUMNS + " from job where id = any(?)";

    public static List<Job> these(Tx tx, Collection<UUID> ids) {
        return tx.list(THESE, p -> p.ids(ids), Jobs::job);
    }

    public static List<Job> page(Tx tx, Optional<String> state, Optional<String> kind, Slice<UUID> slice) {
        Conditions where = new Conditions().and("every_millis is null", p -> p);
        slice.narrow(where, "id < ?", Params::id);
        state.ifPresent(word -> where.and("state = ?", p -> p.text(word)));
        kind.ifPresent(word -> where.and("kind = ?", p -> p.text(word)));
        return tx.list(
                "select " + COLUMNS + " from job where " + where.sql() + slice.end("id desc"),
                p -> slice.fill(where.fill(p)),
                Jobs::job);
    }

    /** Whether a job of this kind and payload waits or runs. */
    public static boolean isOrdered(Tx tx, String kind, String payload) {
        return tx.first(STANDING, p -> p.text(kind).text(payload), row -> row.number("n"))
                        .orElse(0L)
                > 0;
    }

    private static final String WAITING =
            "select exists (select 1 from job where kind = ? and payload = ? and state = 'waiting') as waiting";

    /** Whether a run is still to come, not counting one under way. */
    public static boolean isWaiting(Tx tx, String kind, String payload) {
        return tx.first(WAITING, p -> p.text(kind).text(payload), row -> row.flag("waiting"))
                .orElse(false);
    }

    /** Orders work that comes round by itself, once: where it stands already, nothing is added. */
    public static void keepRunning(Tx tx, String kind, Duration every) {
        if (!isOrdered(tx, kind, "")) {
            add(tx, new Order(kind, "", Optional.of(kind), Optional.empty(), Optional.of(every), 1));
        }
    }

    private static final String STRIKE = "delete from job where kind = ? and payload = ? and state = 'waiting'";

    /** Takes waiting jobs off the queue. */
    public static void strike(Tx tx, String kind, String payload) {
        tx.update(STRIKE, p -> p.text(kind).text(payload));
    }

    private static final String DUE =
            "select extract(epoch from min(j.run_at) - now()) * 1000 as millis from job j where " + FREE;

    /** How long until the next job of these kinds is due, not counting those that another one keeps waiting. */
    public static Optional<Duration> nextDue(Tx tx, Collection<String> kinds) {
        return tx.first(DUE, p -> p.texts(kinds), row -> row.optionalDecimal("millis"))
                .flatMap(millis -> millis)
                .map(millis -> Duration.ofMillis(Math.max(0, (long) Math.ceil(millis))));
    }

    private static final String PURGE =
            "delete from job where ended_at < ? and state in ('done', 'failed', 'cancelled') and parent_id is null";

    /** Forgets jobs that ended before a time; those that run again and again stay. */
    public static void purge(Tx tx, Instant before) {
        tx.update(PURGE, p -> p.instant(before));
    }

    private static Job job(Row row) {
        return new Job(
                row.id("id"),
                row.text("kind"),
                row.text("payload"),
                row.optionalText("serial_key"),
                JobState.of(row.text("state")),
                row.instant("run_at"),
                row.optionalNumber("every_millis"),
                row.integer("attempts"),
                row.integer("max_attempts"),
                row.integer("progress"),
                row.text("note"),
                row.optionalText("problem"),
                row.flag("cancel_wanted"),
                row.instant("created_at"),
                row.optionalInstant("ended_at"));
    }
}
