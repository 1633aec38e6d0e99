package tender.store.monitor;

import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Like;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** ScheduledTrials: which listeners are tried how often, how they stand, and their history. */
public final class ScheduledTrials {
    /**
     * A listener's monitor; one that is not monitored has no {@code every}.
     *
     * @param quietFrom and quietTo times of the day (UTC) between which no word is sent
     * @param since when it became as it is
     * @param place in the list, the most urgent first; a page goes on after it
     */
    public record ScheduledTrial(
            UUID listenerId,
            String gateway,
            String listener,
            String protocol,
            Optional<Duration> every,
            Optional<String> quietFrom,
            Optional<String> quietTo,
            Optional<Boolean> proven,
            Optional<Instant> since,
            Optional<String> rung,
            Optional<String> cause,
            Optional<UUID> trialId,
            Optional<Instant> nextAt,
            String place) {}

    /** How one scheduled trial went. */
    public record Result(
            UUID listenerId,
            Instant at,
            boolean proven,
            Optional<Double> echoMillis,
            int millis,
            Optional<String> rung) {}

    /** Shares of trials that were proven, from 0 to 1, in the last day and the last thirty. */
    public record Share(UUID listenerId, Optional<Double> day, Optional<Double> month) {}

    private ScheduledTrials() {}

    /** How listeners stand, the most urgent first. */
    public enum Standing {
        NOT_PROVEN("r.proven = false"),
        WAITING("r.proven is null and r.every_seconds is not null"),
        PROVEN("r.proven"),
        NOT_MONITORED("r.every_seconds is null");

        private final String condition;

        Standing(String condition) {
            this.condition = condition;
        }

        /** A digit for each standing, in their order, as an expression of SQL. */
        private static String urgency() {
            return Arrays.stream(values())
                    .map(s -> "when " + s.condition + " then '" + s.ordinal() + "'")
                    .collect(Collectors.joining(" ", "case ", " end"));
        }

        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /** By urgency, then by gateway and name, the same wherever the database was made. */
    private static final String PLACE = "(" + Standing.urgency() + " || g.name || '/' || l.name) collate \"C\"";

    private static final String SELECT = """
            select l.id, g.name as gateway, l.name as listener, l.protocol, r.every_seconds, r.quiet_from::text as quiet_from,
                   r.quiet_to::text as quiet_to, r.proven, r.since, r.rung, r.cause, r.trial_id, r.next_at,
                   %s as place
            from listener l
            join gateway g on g.id = l.gateway_id
            left join monitor r on r.listener_id = l.id
            """.formatted(PLACE);
    private static final String BY_ID = SELECT + "where l.id = ?";
    private static final String FAILING = SELECT + "where r.proven = false and not l.gone order by g.name, l.name";

    /** Which listeners a list holds. */
    public record Filter(Optional<Standing> standing, Optional<String> gateway, Optional<String> text) {}

    /** Listeners that a filter leaves, the most urgent first, after the place of one. */
    public static List<ScheduledTrial> page(Tx tx, Filter filter, String after, int limit) {
        Conditions where = new Conditions();
        where.and("not l.gone", p -> p);
        where.and(PLACE + " > ?", p -> p.text(after));
        filter.standing().ifPresent(s -> where.and(s.condition, p -> p));
        filter.gateway().ifPresent(name -> where.and("g.name = ?", p -> p.text(name)));
        filter.text()
                .ifPresent(text -> where.and("g.name || ' ' || l.name ilike ?", p -> p.text(Like.containing(text))));
        return tx.list(
                SELECT + "where " + where.sql() + " order by place limit ?",
                p -> where.fill(p).integer(limit),
                ScheduledTrials::trial);
    }

    /** How many listeners there are of each standing, and how many could be tried and are not. */
    public record Counts(int proven, int notProven, int waiting, int notMonitored, int couldBeTried) {}

    private static final String COUNTS = """
            select count(*) filter (where %s) as proven, count(*) filter (where %s) as not_proven,
                   count(*) filter (where %s) as waiting, count(*) filter (where %s) as not_tried,
                   count(*) filter (where %s and l.protocol = any(?)) as could
            from listener l
            left join monitor r on r.listener_id = l.id
            where not l.gone""".formatted(
                    Standing.PROVEN.condition,
                    Standing.NOT_PROVEN.condition,
                    Standing.WAITING.condition,
                    Standing.NOT_MONITORED.condition,
                    Standing.NOT_MONITORED.condition);

    /** @param triable protocols that can be tried */
    public static Counts counts(Tx tx, Collection<String> triable) {
        return tx.first(
                        COUNTS,
                        p -> p.texts(triable),
                        row -> new Counts(
                                (int) row.number("proven"),
                                (int) row.number("not_proven"),
                                (int) row.number("waiting"),
                                (int) row.number("not_tried"),
                                (int) row.number("could")))
                .orElseThrow();
    }

    private static final String BEGIN = """
            insert into monitor (listener_id, every_seconds, next_at)
            select l.id, ?, ?
            from listener l
            left join monitor r on r.listener_id = l.id
            where not l.gone and r.listener_id is null and l.protocol = any(?)
            returning listener_id""";

    /**
     * Begins with all that could be tried and are not.
     *
     * @param triable protocols that can be tried
     * @return the listeners that are tried from now on
     */
    public static List<UUID> begin(Tx tx, Duration every, Instant next, Collection<String> triable) {
        return tx.list(
                BEGIN,
                p -> p.integer((int) every.toSeconds()).instant(next).texts(triable),
                row -> row.id("listener_id"));
    }

    public static Optional<ScheduledTrial> of(Tx tx, UUID listenerId) {
        return tx.first(BY_ID, p -> p.id(listenerId), ScheduledTrials::trial);
    }

    /** Those that are not proven now. */
    public static List<ScheduledTrial> failing(Tx tx) {
        return tx.list(FAILING, p -> p, ScheduledTrials::trial);
    }

    private static ScheduledTrial trial(Row row) {
        return new ScheduledTrial(
                row.id("id"),
                row.text("gateway"),
                row.text("listener"),
                row.text("protocol"),
                row.optionalNumber("every_seconds").map(Duration::ofSeconds),
                row.optionalText("quiet_from").map(t -> t.substring(0, 5)),
                row.optionalText("quiet_to").map(t -> t.substring(0, 5)),
                row.optionalFlag("proven"),
                row.optionalInstant("since"),
                row.optionalText("rung"),
                row.optionalText("cause"),
                row.optionalId("trial_id"),
                row.optionalInstant("next_at"),
                row.text("place"));
    }

    private static final String PUT = """
            insert into monitor (listener_id, every_seconds, quiet_from, quiet_to, next_at)
            values (?, ?, ?::time, ?::time, ?)
            on conflict (listener_id) do update
            set every_seconds = excluded.every_seconds, quiet_from = excluded.quiet_from, quiet_to = excluded.quiet_to,
                next_at = excluded.next_at""";

    public static void put(
            Tx tx,
            UUID listenerId,
            Duration every,
            Optional<String> quietFrom,
            Optional<String> quietTo,
            Instant next) {
        tx.update(
                PUT,
                p -> p.id(listenerId)
                        .integer((int) every.toSeconds())
                        .text(quietFrom)
                        .text(quietTo)
                        .instant(next));
    }

    private static final String DROP = "delete from monitor where listener_id = ?";

    public static boolean drop(Tx tx, UUID listenerId) {
        return tx.update(DROP, p -> p.id(listenerId)) == 1;
    }

    private static final String STANDS = """
            update monitor
            set since = case when proven is distinct from ? then ? else since end, proven = ?, rung = ?, cause = ?, trial_id = ?,
                next_at = ?
            where listener_id = ?""";
    private static final String RESULT = """
            insert into monitor_result (listener_id, at, proven, echo_millis, millis, rung)
            values (?, ?, ?, ?, ?, ?)
            on conflict (listener_id, at) do nothing""";
    private static final String FORGET = "delete from monitor_result where listener_id = ? and at < ?";

    /** Keeps a result and how the listener stands after it; forgets results older than {@code kept}. */
    public static void ran(
            Tx tx, Result r, Optional<String> cause, Optional<UUID> trialId, Instant next, Instant kept) {
        tx.update(
                STANDS,
                p -> p.flag(r.proven())
                        .instant(r.at())
                        .flag(r.proven())
                        .text(r.rung())
                        .text(cause)
                        .id(trialId)
                        .instant(next)
                        .id(r.listenerId()));
        tx.update(
                RESULT,
                p -> p.id(r.listenerId())
                        .instant(r.at())
                        .flag(r.proven())
                        .decimal(r.echoMillis())
                        .integer(r.millis())
                        .text(r.rung()));
        tx.update(FORGET, p -> p.id(r.listenerId()).instant(kept));
    }

    private static final String CANNOT =
            "update monitor set proven = null, rung = null, cause = ?, next_at = ? where listener_id = ?";

    /** Says why a listener cannot be tried at all. */
    public static void cannot(Tx tx, UUID listenerId, String why, Instant next) {
        tx.update(CANNOT, p -> p.text(why).instant(next).id(listenerId));
    }

    private static final String SHARES = """
            select listener_id, avg(proven::int) filter (where at > ?) as day, avg(proven::int) as month
            from monitor_result
            where listener_id = any(?) and at > ?
            group by listener_id""";

    public static List<Share> shares(Tx tx, Collection<UUID> listeners, Instant day, Instant month) {
        return tx.list(
                SHARES,
                p -> p.instant(day).ids(listeners).instant(month),
                row -> new Share(row.id("listener_id"), row.optionalDecimal("day"), row.optionalDecimal("month")));
    }

    private static final String LATEST = """
            select r.listener_id, r.at, r.proven, r.echo_millis, r.millis, r.rung
            from unnest(?::uuid[]) as l(id)
            cross join lateral (
                select * from monitor_result x where x.listener_id = l.id order by x.at desc limit ?) r
            order by r.listener_id, r.at""";

    /** The newest results of each, oldest first. */
    public static List<Result> latest(Tx tx, Collection<UUID> listeners, int each) {
        return tx.list(LATEST, p -> p.ids(listeners).integer(each), ScheduledTrials::result);
    }

    private static final String HISTORY =
            "select * from monitor_result where listener_id = ? and at > ? order by at desc limit ?";

    public static List<Result> history(Tx tx, UUID listenerId, Instant from, int limit) {
        return tx.list(HISTORY, p -> p.id(listenerId).instant(from).integer(limit), ScheduledTrials::result);
    }

    private static Result result(Row row) {
        return new Result(
                row.id("listener_id"),
                row.instant("at"),
                row.flag("proven"),
                row.optionalDecimal("echo_millis"),
                row.integer("millis"),
                row.optionalText("rung"));
    }
}
