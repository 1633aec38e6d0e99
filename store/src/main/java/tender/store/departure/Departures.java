package tender.store.departure;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.profile.ProfileState;

/** People who left and devices that were lost. */
public final class Departures {
    /**
     * Somebody left, or a device was lost.
     *
     * @param device empty where the person left
     * @param open profiles that are neither shown to be refused nor out of reach of trials
     * @param profiles all that were withdrawn
     */
    public record Departure(
            UUID id,
            String handle,
            String person,
            Optional<String> device,
            String orderedBy,
            Instant orderedAt,
            int open,
            int profiles) {}

    /**
     * A withdrawn profile of a departure.
     *
     * @param state of the profile: whether the gateway shows yet that it is gone
     * @param problem why the gateway could not be written
     * @param control label of the profile that was let in meanwhile
     * @param found what the last check found
     */
    public record Refusal(
            UUID departureId,
            UUID profileId,
            String label,
            UUID gatewayId,
            String gateway,
            UUID listenerId,
            String listener,
            ProfileState state,
            Optional<String> problem,
            RefusalState shown,
            Optional<String> control,
            Optional<String> found,
            Optional<Instant> checkedAt,
            Optional<Instant> endedAt) {}

    private Departures() {}

    private static final String INSERT = """
            insert into departure (id, kind, person_id, device_id, ordered_by, ordered_at)
            values (?, ?, ?, ?, ?, ?)""";
    private static final String REFUSAL = "insert into refusal (departure_id, profile_id) values (?, ?)";

    /** Whoever left or lost a device, by whom that was said. */
    public record Order(UUID id, UUID personId, Optional<UUID> deviceId, String orderedBy, Instant orderedAt) {}

    /** @param profiles that are withdrawn with it, each to be shown to be refused */
    public static void insert(Tx tx, Order order, Collection<UUID> profiles) {
        tx.updateOne(
                INSERT,
                p -> p.id(order.id())
                        .text(order.deviceId().isPresent() ? "lost" : "left")
                        .id(order.personId())
                        .id(order.deviceId())
                        .text(order.orderedBy())
                        .instant(order.orderedAt()));
        profiles.forEach(id -> tx.updateOne(REFUSAL, p -> p.id(order.id()).id(id)));
    }

    private static final String SELECT = """
            select d.id, n.handle, n.name as person, e.name as device, coalesce(o.name, d.ordered_by) as ordered_by, d.ordered_at,
                   (select count(*) from refusal r where r.departure_id = d.id and r.state = 'open')::int as open,
                   (select count(*) from refusal r where r.departure_id = d.id)::int as profiles
            from departure d
            join person n on n.id = d.person_id
            left join device e on e.id = d.device_id
            left join operator o on 'operator:' || o.id = d.ordered_by
            """;

    /** Newest first. */
    public static List<Departure> all(Tx tx, int limit) {
        return tx.list(SELECT + "order by d.ordered_at desc limit ?", p -> p.integer(limit), Departures::departure);
    }

    /** Those of a person and of their devices, newest first. */
    public static List<Departure> ofPerson(Tx tx, UUID personId) {
        return tx.list(
                SELECT + "where d.person_id = ? order by d.ordered_at desc",
                p -> p.id(personId),
                Departures::departure);
    }

    public static Optional<Departure> byId(Tx tx, UUID id) {
        return tx.first(SELECT + "where d.id = ?", p -> p.id(id), Departures::departure);
    }

    private static Departure departure(Row row) {
        return new Departure(
                row.id("id"),
                row.text("handle"),
                row.text("person"),
                row.optionalText("device"),
                row.text("ordered_by"),
                row.instant("ordered_at"),
                row.integer("open"),
                row.integer("profiles"));
    }

    private static final String REFUSALS = """
            select r.departure_id, r.profile_id, regexp_replace(p.label, ' \\(withdrawn [^)]*\\)$', '') as label, g.id as gateway_id, g.name as gateway, l.id as listener_id,
                   l.name as listener, p.state, p.problem, r.state as shown, r.control, r.found, r.checked_at, r.ended_at
            from refusal r
            join profile p on p.id = r.profile_id
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id
            join gateway g on g.id = l.gateway_id
            """;

    public static List<Refusal> refusals(Tx tx, UUID departureId) {
        return tx.list(
                REFUSALS + "where r.departure_id = ? order by g.name, p.label",
                p -> p.id(departureId),
                Departures::refusal);
    }

    private static final String DUE = REFUSALS + """
            join departure d on d.id = r.departure_id
            where r.state = 'open' and p.state in ('closing', 'withdrawn')
              and (r.checked_at is null
                   or r.checked_at < ?::timestamptz
                      - least(greatest((?::timestamptz - d.ordered_at) / 12, interval '1 minute'), interval '1 hour'))
            order by r.checked_at nulls first
            limit ?""";

    /** Those that are gone at their gateways, or said to be, and not shown to be refused; less often the older they are. */
    public static List<Refusal> due(Tx tx, Instant now, int limit) {
        return tx.list(DUE, p -> p.instant(now).instant(now).integer(limit), Departures::refusal);
    }

    private static final String FOUND = """
            update refusal
            set state = ?, control = ?, found = ?, checked_at = ?, ended_at = case when ? = 'open' then null else ?::timestamptz end
            where departure_id = ? and profile_id = ?""";

    /** What a check found. */
    public record Found(RefusalState state, Optional<String> control, String words) {}

    public static void found(Tx tx, Refusal r, Found found, Instant now) {
        tx.updateOne(
                FOUND,
                p -> p.text(found.state().word())
                        .text(found.control())
                        .text(found.words())
                        .instant(now)
                        .text(found.state().word())
                        .instant(now)
                        .id(r.departureId())
                        .id(r.profileId()));
    }

    private static Refusal refusal(Row row) {
        return new Refusal(
                row.id("departure_id"),
                row.id("profile_id"),
                row.text("label"),
                row.id("gateway_id"),
                row.text("gateway"),
                row.id("listener_id"),
                row.text("listener"),
                ProfileState.of(row.text("state")),
                row.optionalText("problem"),
                RefusalState.of(row.text("shown")),
                row.optionalText("control"),
                row.optionalText("found"),
                row.optionalInstant("checked_at"),
                row.optionalInstant("ended_at"));
    }
}
