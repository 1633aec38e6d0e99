package tender.store.provision;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Like;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Devices that joined with a provisioning file, and keep themselves current. */
public final class Enrolments {
    /**
     * One that has called and waits for its profiles.
     *
     * @param deviceId empty where whoever joined named the device
     */
    public record Joining(
            UUID id,
            Optional<UUID> provisionId,
            UUID personId,
            String person,
            Optional<UUID> deviceId,
            String deviceName,
            String system) {}

    /**
     * One as operators see it.
     *
     * @param waiting profiles that wait for it
     * @param current those of them that it holds in the newest revision
     * @param proven those that it connected with
     * @param failing those that it could not connect with
     */
    public record Enrolment(
            UUID id,
            String person,
            String device,
            String system,
            EnrolmentState state,
            Optional<String> problem,
            Instant joinedAt,
            Instant seenAt,
            int waiting,
            int current,
            int proven,
            int failing,
            Optional<String> found) {}

    private Enrolments() {}

    private static final String JOINING = """
            select e.id, e.provision_id, e.person_id, n.handle, e.device_id, e.device_name, e.system
            from enrolment e join person n on n.id = e.person_id
            where e.state = 'joining' order by e.joined_at limit ?""";

    public static List<Joining> joining(Tx tx, int most) {
        return tx.list(
                JOINING,
                p -> p.integer(most),
                row -> new Joining(
                        row.id("id"),
                        row.optionalId("provision_id"),
                        row.id("person_id"),
                        row.text("handle"),
                        row.optionalId("device_id"),
                        row.text("device_name"),
                        row.text("system")));
    }

    private static final String JOINED =
            "update enrolment set state = 'joined', device_id = ?, problem = null, etag = 'none' where id = ? and state = 'joining'";

    private static final String PLACE = """
            update enrolment set state = 'ended', etag = 'ended'
            where device_id = ? and id <> ? and state in ('joining', 'joined')""";

    /** A device that has joined takes the place of what it was before. */
    public static void joined(Tx tx, UUID id, UUID deviceId) {
        tx.update(PLACE, p -> p.id(deviceId).id(id));
        tx.update(JOINED, p -> p.id(deviceId).id(id));
    }

    private static final String FAILED =
            "update enrolment set state = 'failed', problem = ?, etag = 'failed' where id = ? and state = 'joining'";

    public static void failed(Tx tx, UUID id, String problem) {
        tx.update(FAILED, p -> p.text(problem).id(id));
    }

    /** A device that left by itself. */
    public record Left(UUID personId, String deviceName) {}

    private static final String LEFT = """
            update enrolment set left_journaled = true where state = 'left' and not left_journaled
            returning person_id, device_name""";

    /** Takes those that left and do not stand in the journal yet. */
    public static List<Left> takeLeft(Tx tx) {
        return tx.list(LEFT, p -> p, row -> new Left(row.id("person_id"), row.text("device_name")));
    }

    private static final String END = """
            update enrolment set state = 'ended', etag = 'ended'
            where device_id = any(?) and state in ('joining', 'joined', 'failed')
            returning id""";

    /** Ends what devices joined with; gives which. They are told when they ask, and remove what they have. */
    public static List<UUID> end(Tx tx, Collection<UUID> devices) {
        return tx.list(END, p -> p.ids(devices), row -> row.id("id"));
    }

    private static final String END_ARCHIVED = """
            update enrolment e set state = 'ended', etag = 'ended'
            from device d
            where d.id = e.device_id and d.archived_at is not null and e.state in ('joining', 'joined', 'failed')
            returning e.id""";

    /** Ends those whose devices were removed from the records; gives which. */
    public static List<UUID> endArchived(Tx tx) {
        return tx.list(END_ARCHIVED, p -> p, row -> row.id("id"));
    }

    private static final String SELECT = """
            select e.id, n.handle, e.device_name, e.system, e.state, e.problem, e.joined_at, e.seen_at,
                   count(d.profile_id)::int as waiting,
                   (count(*) filter (where d.held_revision = d.revision))::int as current,
                   (count(*) filter (where d.held_revision = d.revision and d.proven))::int as proven,
                   (count(*) filter (where d.held_revision = d.revision and not d.proven))::int as failing,
                   string_agg(d.found, '; ') filter (where d.held_revision = d.revision and not d.proven) as found
            from enrolment e
            join person n on n.id = e.person_id
            left join delivery d on d.enrolment_id = e.id and e.state = 'joined'
            """;
    private static final String KEY = "n.handle || '/' || e.device_name || '/' || e.id::text";
    private static final String BEHIND = """
             having e.state = 'joined' and (
                 count(*) filter (where d.held_revision = d.revision) < count(d.profile_id)
                 or bool_or(d.held_revision = d.revision and not d.proven))""";

    /**
     * Which are wanted.
     *
     * @param person a handle
     * @param text a part of the handle or of the device's name
     * @param behind those alone that do not hold the newest, or do not connect with it
     */
    public record Filter(Optional<String> person, Optional<String> text, boolean behind) {}

    /** By person and device, after one of them as {@link #key} gives it. */
    public static List<Enrolment> page(Tx tx, Filter filter, String after, int limit) {
        Conditions where = new Conditions().and(KEY + " > ?", p -> p.text(after));
        filter.person().ifPresent(handle -> where.and("n.handle = ?", p -> p.text(handle)));
        filter.text()
                .map(Like::containing)
                .ifPresent(like -> where.and(
                        "n.handle ilike ? or e.device_name ilike ?",
                        p -> p.text(like).text(like)));
        return tx.listPlanned(
                SELECT + "where " + where.sql() + " group by e.id, n.handle" + (filter.behind() ? " " + BEHIND : "")
                        + " order by " + KEY + " limit ?",
                p -> where.fill(p).integer(limit),
                Enrolments::enrolment);
    }

    /** What names one in the order of the list. */
    public static String key(Enrolment e) {
        return e.person() + "/" + e.device() + "/" + e.id();
    }

    private static Enrolment enrolment(Row row) {
        return new Enrolment(
                row.id("id"),
                row.text("handle"),
                row.text("device_name"),
                row.text("system"),
                EnrolmentState.of(row.text("state")),
                row.optionalText("problem"),
                row.instant("joined_at"),
                row.instant("seen_at"),
                row.integer("waiting"),
                row.integer("current"),
                row.integer("proven"),
                row.integer("failing"),
                row.optionalText("found"));
    }

    private static final String KEPT = """
            select p.id from profile p
            join enrolment e on e.device_id = p.device_id and e.state = 'joined'
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id and not l.gone
            where p.state = 'ready' and l.gateway_id = ?
            order by p.id""";

    /** Ready profiles at a gateway whose devices keep themselves current. */
    public static List<UUID> keptAt(Tx tx, UUID gatewayId) {
        return tx.list(KEPT, p -> p.id(gatewayId), row -> row.id("id"));
    }

    private static final String GATEWAYS = """
            select distinct l.gateway_id from enrolment e
            join profile p on p.device_id = e.device_id and p.state = 'ready'
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id
            where e.state = 'joined'""";

    /** Gateways that devices which keep themselves current have profiles at. */
    public static List<UUID> gateways(Tx tx) {
        return tx.list(GATEWAYS, p -> p, row -> row.id("gateway_id"));
    }
}
