package tender.store.session;

import java.time.Instant;
import java.time.YearMonth;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Params;
import tender.store.jdbc.Row;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;
import tender.store.profile.Whose;

/** Sessions, live and past; written in bulk, one statement for all of a listener. */
public final class Sessions {
    /** A session that goes on, as the watch keeps it. Bytes are counted since it began. */
    public record Live(
            UUID id,
            String publicKey,
            Optional<UUID> profileId,
            String endpoint,
            Instant since,
            Instant lastHeard,
            Optional<Instant> endedAt,
            long received,
            long sent) {}

    /** A session as people see it. */
    public record Session(
            UUID id,
            String gateway,
            String listener,
            Optional<UUID> profileId,
            Optional<String> label,
            Optional<String> person,
            Optional<String> personName,
            Optional<String> device,
            String origin,
            List<String> addresses,
            String endpoint,
            Instant since,
            Instant lastHeard,
            Optional<Instant> endedAt,
            long received,
            long sent) {}

    private Sessions() {}

    /** Makes the month's partition where it is not there yet; two nodes may try at once. */
    public static void ensureMonth(Tx tx, Instant now) {
        YearMonth month = YearMonth.from(now.atOffset(ZoneOffset.UTC));
        String name = "session_" + month.toString().replace('-', '_');
        tx.list("select pg_advisory_xact_lock(7305005)::text as locked", p -> p, row -> row.text("locked"));
        boolean there = tx.first(
                        "select to_regclass(?)::text as name", p -> p.text(name), row -> row.optionalText("name"))
                .flatMap(n -> n)
                .isPresent();
        if (!there) {
            tx.list(
                    "select session_month(?, ?, ?)::text as made",
                    p -> p.text(name)
                            .instant(month.atDay(1).atStartOfDay(ZoneOffset.UTC).toInstant())
                            .instant(month.plusMonths(1)
                                    .atDay(1)
                                    .atStartOfDay(ZoneOffset.UTC)
                                    .toInstant()),
                    row -> row.optionalText("made"));
        }
    }

    private static final String OPEN = """
            select id, public_key, profile_id, endpoint, since, last_heard, ended_at, received, sent
            from session
            where listener_id = ? and ended_at is null""";

    /** Sessions of a listener that go on. */
    public static List<Live> open(Tx tx, UUID listenerId) {
        return tx.list(
                OPEN,
                p -> p.id(listenerId),
                row -> new Live(
                        row.id("id"),
                        row.text("public_key"),
                        row.optionalId("profile_id"),
                        row.text("endpoint"),
                        row.instant("since"),
                        row.instant("last_heard"),
                        row.optionalInstant("ended_at"),
                        row.number("received"),
                        row.number("sent")));
    }

    private static final String PUT = """
            insert into session (id, listener_id, public_key, profile_id, endpoint, since, last_heard, ended_at, received, sent)
            select s.id::uuid, ?, s.key, s.profile::uuid, s.endpoint, s.since::timestamptz, s.heard::timestamptz,
                   s.ended::timestamptz, s.received, s.sent
            from unnest(?::text[], ?::text[], ?::text[], ?::text[], ?::text[], ?::text[], ?::text[], ?::bigint[], ?::bigint[])
                as s(id, key, profile, endpoint, since, heard, ended, received, sent)
            on conflict (id, since) do update
            set endpoint = excluded.endpoint, last_heard = excluded.last_heard, ended_at = excluded.ended_at,
                received = excluded.received, sent = excluded.sent, profile_id = excluded.profile_id""";

    /** Writes sessions of one listener, new and known ones, in one statement. Their months have to exist ({@link #ensureMonth}). */
    public static void put(Tx tx, UUID listenerId, List<Live> all) {
        tx.update(
                PUT,
                p -> p.id(listenerId)
                        .texts(all.stream().map(Live::id).toList())
                        .texts(all.stream().map(Live::publicKey).toList())
                        .texts(all.stream()
                                .map(s -> s.profileId().orElse(null))
                                .collect(java.util.stream.Collectors.toList()))
                        .texts(all.stream().map(Live::endpoint).toList())
                        .texts(all.stream().map(Live::since).toList())
                        .texts(all.stream().map(Live::lastHeard).toList())
                        .texts(all.stream()
                                .map(s -> s.endedAt().orElse(null))
                                .collect(java.util.stream.Collectors.toList()))
                        .numbers(all.stream().map(Live::received).toList())
                        .numbers(all.stream().map(Live::sent).toList()));
    }

    private static final String SELECT = """
            select s.id, g.name as gateway, l.name as listener, s.profile_id, p.label, n.handle as person, n.name as person_name,
                   d.name as device, coalesce(p.origin, 'unknown') as origin,
                   array(select host(address) from tunnel_address a where a.profile_id = s.profile_id order by address) as addresses,
                   s.endpoint, s.since, s.last_heard, s.ended_at, s.received, s.sent
            from session s
            join listener l on l.id = s.listener_id
            join gateway g on g.id = l.gateway_id
            left join profile p on p.id = s.profile_id
            left join device d on d.id = p.device_id
            left join person n on n.id = d.person_id
            """;
    private static final String OF_PROFILE = SELECT + "where s.profile_id = ? order by s.since desc limit ?";

    /** Connections of now, ended ones, or both. */
    public enum Which {
        LIVE("s.ended_at is null"),
        ENDED("s.ended_at is not null"),
        ALL("true");

        private final String sql;

        Which(String sql) {
            this.sql = sql;
        }
    }

    /**
     * Which sessions are listed.
     *
     * @param gateway its name
     */
    public record Filter(Which which, Optional<String> gateway, Whose whose) {
        public static final Filter LIVE = new Filter(Which.LIVE, Optional.empty(), Whose.ALL);
    }

    /** What the list can be sorted by. */
    public static final Map<String, String> SORTS = Map.of(
            "person",
                    "select n.name from profile p join device d on d.id = p.device_id join person n on n.id = d.person_id where p.id = s.profile_id",
            "gateway", "select g.name from listener l join gateway g on g.id = l.gateway_id where l.id = s.listener_id",
            "since", "s.since",
            "heard", "s.last_heard",
            "received", "s.received",
            "sent", "s.sent");

    /** Newest first, or as asked for. */
    public static List<Session> page(Tx tx, Filter filter, Slice<UUID> slice) {
        Conditions where = new Conditions().and(filter.which().sql, p -> p);
        slice.narrow(where, "s.id < ?", Params::id);
        filter.gateway()
                .ifPresent(name -> where.and(
                        "s.listener_id in (select l.id from listener l join gateway g on g.id = l.gateway_id where g.name = ?)",
                        p -> p.text(name)));
        filter.whose().narrow(tx, where, "s.profile_id");
        List<UUID> ids = tx.listPlanned(
                "select s.id from session s where " + where.sql() + slice.end("s.id desc"),
                p -> slice.fill(where.fill(p)),
                row -> row.id("id"));
        return Ids.inOrder(
                ids, tx.list(SELECT + "where s.id = any(?)", p -> p.ids(ids), Sessions::session), Session::id);
    }

    public static List<Session> ofProfile(Tx tx, UUID profileId, int limit) {
        return tx.list(OF_PROFILE, p -> p.id(profileId).integer(limit), Sessions::session);
    }

    private static Session session(Row row) {
        return new Session(
                row.id("id"),
                row.text("gateway"),
                row.text("listener"),
                row.optionalId("profile_id"),
                row.optionalText("label"),
                row.optionalText("person"),
                row.optionalText("person_name"),
                row.optionalText("device"),
                row.text("origin"),
                row.texts("addresses"),
                row.text("endpoint"),
                row.instant("since"),
                row.instant("last_heard"),
                row.optionalInstant("ended_at"),
                row.number("received"),
                row.number("sent"));
    }
}
