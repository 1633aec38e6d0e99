package tender.store.round;

import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Rounds: which listeners are tried how often, how they stand, and their history. */
public final class Rounds {
    /**
     * A listener's round; one that is not tried has no {@code every}.
     *
     * @param quietFrom and quietTo times of the day (UTC) between which no word is sent
     * @param since when it became as it is
     */
    public record Round(
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
            Optional<Instant> nextAt) {}

    /** How one round went. */
    public record Result(
            UUID listenerId,
            Instant at,
            boolean proven,
            Optional<Double> echoMillis,
            int millis,
            Optional<String> rung) {}

    /** Shares of rounds that were proven, from 0 to 1, in the last day and the last thirty. */
    public record Share(UUID listenerId, Optional<Double> day, Optional<Double> month) {}

    private Rounds() {}

    private static final String SELECT = """
            select l.id, g.name as gateway, l.name as listener, l.protocol, r.every_seconds, r.quiet_from::text as quiet_from,
                   r.quiet_to::text as quiet_to, r.proven, r.since, r.rung, r.cause, r.trial_id, r.next_at
            from listener l
            join gateway g on g.id = l.gateway_id
            left join round r on r.listener_id = l.id
            """;
    private static final String PAGE =
            SELECT + "where not l.gone and g.name || '/' || l.name > ? order by g.name || '/' || l.name limit ?";
    private static final String BY_ID = SELECT + "where l.id = ?";
    private static final String FAILING = SELECT + "where r.proven = false and not l.gone order by g.name, l.name";

    /** Every listener there is, by gateway and name. */
    public static List<Round> page(Tx tx, String after, int limit) {
        return tx.list(PAGE, p -> p.text(after).integer(limit), Rounds::round);
    }

    public static Optional<Round> of(Tx tx, UUID listenerId) {
        return tx.first(BY_ID, p -> p.id(listenerId), Rounds::round);
    }

    /** Those that are not proven now. */
    public static List<Round> failing(Tx tx) {
        return tx.list(FAILING, p -> p, Rounds::round);
    }

    private static Round round(Row row) {
        return new Round(
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
                row.optionalInstant("next_at"));
    }

    private static final String PUT = """
            insert into round (listener_id, every_seconds, quiet_from, quiet_to, next_at)
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

    private static final String DROP = "delete from round where listener_id = ?";

    public static boolean drop(Tx tx, UUID listenerId) {
        return tx.update(DROP, p -> p.id(listenerId)) == 1;
    }

    private static final String STANDS = """
            update round
            set since = case when proven is distinct from ? then ? else since end, proven = ?, rung = ?, cause = ?, trial_id = ?,
                next_at = ?
            where listener_id = ?""";
    private static final String RESULT = """
            insert into round_result (listener_id, at, proven, echo_millis, millis, rung)
            values (?, ?, ?, ?, ?, ?)
            on conflict (listener_id, at) do nothing""";
    private static final String FORGET = "delete from round_result where listener_id = ? and at < ?";

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
            "update round set proven = null, rung = null, cause = ?, next_at = ? where listener_id = ?";

    /** Says why a listener cannot be tried at all. */
    public static void cannot(Tx tx, UUID listenerId, String why, Instant next) {
        tx.update(CANNOT, p -> p.text(why).instant(next).id(listenerId));
    }

    private static final String SHARES = """
            select listener_id, avg(proven::int) filter (where at > ?) as day, avg(proven::int) as month
            from round_result
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
                select * from round_result x where x.listener_id = l.id order by x.at desc limit ?) r
            order by r.listener_id, r.at""";

    /** The newest results of each, oldest first. */
    public static List<Result> latest(Tx tx, Collection<UUID> listeners, int each) {
        return tx.list(LATEST, p -> p.ids(listeners).integer(each), Rounds::result);
    }

    private static final String HISTORY =
            "select * from round_result where listener_id = ? and at > ? order by at desc limit ?";

    public static List<Result> history(Tx tx, UUID listenerId, Instant from, int limit) {
        return tx.list(HISTORY, p -> p.id(listenerId).instant(from).integer(limit), Rounds::result);
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
