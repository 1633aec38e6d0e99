package tender.store.job;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.ConflictException;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Row;
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
    }

    /** A job as it stands. */
    public record Job(
            UUID id,
            String kind,
            String payload,
            String state,
            Instant runAt,
            Optional<Long> everyMillis,
            int attempts,
            int maxAttempts,
            int progress,
            String note,
            boolean cancelWanted,
            Instant createdAt,
            Optional<Instant> endedAt) {}

    private Jobs() {}

    private static final String INSERT = """
            insert into job (id, kind, payload, serial_key, parent_id, state, run_at, every_millis, max_attempts, created_at)
            values (?, ?, ?, ?, ?, 'waiting', ?, ?, ?, ?)""";

    public static UUID add(Tx tx, Order order, Instant now) {
        UUID id = Ids.next();
        tx.updateOne(
                INSERT,
                p -> p.id(id)
                        .text(order.kind())
                        .text(order.payload())
                        .text(order.serialKey())
                        .id(order.parent())
                        .instant(now)
                        .number(order.every().map(Duration::toMillis))
                        .integer(order.maxAttempts())
                        .instant(now));
        return id;
    }

    private static final String COLUMNS =
            "id, kind, payload, state, run_at, every_millis, attempts, max_attempts, progress, note, cancel_wanted, created_at, ended_at";
    private static final String LEASE = """
            update job
            set state = 'running', node = ?, lease_until = ?, attempts = attempts + 1, progress = 0
            where id = (
                select j.id
                from job j
                where j.state = 'waiting' and j.run_at <= ?
                and not exists (select 1 from job r where r.serial_key = j.serial_key and r.state = 'running')
                order by j.run_at
                limit 1
                for update skip locked)
            returning\s""" + COLUMNS;

    /** Takes the job that has been due longest; empty when there is none, or another node was quicker. */
    public static Optional<Job> lease(Db db, String node, Instant now, Duration lease) {
        try {
            return db.inTransaction(tx ->
                    tx.first(LEASE, p -> p.text(node).instant(now.plus(lease)).instant(now), Jobs::job));
        } catch (ConflictException e) {
            return Optional.empty();
        }
    }

    private static final String EXTEND = "update job set lease_until = ? where node = ? and state = 'running'";

    public static void extend(Tx tx, String node, Instant until) {
        tx.update(EXTEND, p -> p.instant(until).text(node));
    }

    private static final String RELEASE =
            "update job set state = 'waiting', node = null where node = ? and state = 'running'";

    /** Gives back what this node held when it was killed. */
    public static int release(Tx tx, String node) {
        return tx.update(RELEASE, p -> p.text(node));
    }

    private static final String REAP =
            "update job set state = 'waiting', node = null where state = 'running' and lease_until < ?";

    public static int reap(Tx tx, Instant now) {
        return tx.update(REAP, p -> p.instant(now));
    }

    private static final String PROGRESS = "update job set progress = ?, note = ? where id = ? and node = ?";

    public static void progress(Tx tx, UUID id, String node, int percent, String note) {
        tx.update(PROGRESS, p -> p.integer(percent).text(note).id(id).text(node));
    }

    private static final String FINISH = """
            update job
            set state = case when every_millis is null then ? else 'waiting' end,
                run_at = ?::timestamptz + coalesce(every_millis, 0) * interval '1 millisecond',
                attempts = case when every_millis is null then attempts else 0 end,
                ended_at = ?, note = ?, progress = ?, node = null
            where id = ? and node = ? and state = 'running'""";

    /** Ends a run; a job that comes back waits for its next time, whatever the outcome. */
    public static void finish(Tx tx, UUID id, String node, String state, String note, Instant now) {
        tx.update(
                FINISH,
                p -> p.text(state)
                        .instant(now)
                        .instant(now)
                        .text(note)
                        .integer(state.equals("done") ? 100 : 0)
                        .id(id)
                        .text(node));
    }

    private static final String RETRY = """
            update job
            set state = 'waiting', run_at = ?, note = ?, node = null
            where id = ? and node = ? and state = 'running'""";

    public static void retry(Tx tx, UUID id, String node, String note, Instant at) {
        tx.update(RETRY, p -> p.instant(at).text(note).id(id).text(node));
    }

    private static final String CANCEL = """
            update job
            set cancel_wanted = true,
                state = case when state = 'waiting' then 'cancelled' else state end,
                ended_at = case when state = 'waiting' then ?::timestamptz else ended_at end
            where id = ? and state in ('waiting', 'running')""";

    /** Whether there was something to cancel: a waiting job ends at once, a running one when it next looks. */
    public static boolean cancel(Tx tx, UUID id, Instant now) {
        return tx.update(CANCEL, p -> p.instant(now).id(id)) == 1;
    }

    private static final String BY_ID = "select " + COLUMNS + " from job where id = ?";
    private static final String PAGE =
            "select " + COLUMNS + " from job where every_millis is null and id < ? order by id desc limit ?";
    private static final String STANDING =
            "select count(*) as n from job where kind = ? and payload = ? and state in ('waiting', 'running')";

    public static Optional<Job> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Jobs::job);
    }

    public static List<Job> page(Tx tx, UUID before, int limit) {
        return tx.list(PAGE, p -> p.id(before).integer(limit), Jobs::job);
    }

    public static boolean isOrdered(Tx tx, String kind, String payload) {
        return tx.first(STANDING, p -> p.text(kind).text(payload), row -> row.number("n"))
                        .orElse(0L)
                > 0;
    }

    /** Orders work that comes round by itself, once: where it stands already, nothing is added. */
    public static void keepRunning(Tx tx, String kind, Duration every, Instant now) {
        if (!isOrdered(tx, kind, "")) {
            add(tx, new Order(kind, "", Optional.of(kind), Optional.empty(), Optional.of(every), 1), now);
        }
    }

    private static final String HURRY =
            "update job set run_at = ? where kind = ? and payload = ? and state = 'waiting' and run_at > ?";

    /** Brings a waiting job forward. */
    public static void hurry(Tx tx, String kind, String payload, Instant now) {
        tx.update(HURRY, p -> p.instant(now).text(kind).text(payload).instant(now));
    }

    private static final String STRIKE = "delete from job where kind = ? and payload = ? and state = 'waiting'";

    /** Takes waiting jobs off the queue. */
    public static void strike(Tx tx, String kind, String payload) {
        tx.update(STRIKE, p -> p.text(kind).text(payload));
    }

    private static final String DUE = "select min(run_at) as at from job where state = 'waiting'";

    public static Optional<Instant> nextDue(Tx tx) {
        return tx.first(DUE, p -> p, row -> row.optionalInstant("at")).flatMap(at -> at);
    }

    private static final String PURGE =
            "delete from job where ended_at < ? and state in ('done', 'failed', 'cancelled') and parent_id is null";

    public static void purge(Tx tx, Instant before) {
        tx.update(PURGE, p -> p.instant(before));
    }

    private static Job job(Row row) {
        return new Job(
                row.id("id"),
                row.text("kind"),
                row.text("payload"),
                row.text("state"),
                row.instant("run_at"),
                row.optionalNumber("every_millis"),
                row.integer("attempts"),
                row.integer("max_attempts"),
                row.integer("progress"),
                row.text("note"),
                row.flag("cancel_wanted"),
                row.instant("created_at"),
                row.optionalInstant("ended_at"));
    }
}
