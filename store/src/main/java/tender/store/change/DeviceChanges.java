package tender.store.change;

import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Changes of devices' settings from order to end. */
public final class DeviceChanges {
    /**
     * A change; an active one is rolled back at {@code revertAt} unless it is kept.
     *
     * @param changes JSON of the list of changes
     * @param backupId what was there before
     * @param afterBackupId what was there right after it
     * @param removeWhenUnused the listener that goes when its last user has moved, or at {@code removeAt}
     * @param setId of the set that it belongs to, all of which is made or none
     */
    public record DeviceChange(
            UUID id,
            UUID gatewayId,
            String gateway,
            ChangeState state,
            String changes,
            String words,
            String note,
            Optional<UUID> backupId,
            Optional<UUID> afterBackupId,
            Optional<Integer> guardSeconds,
            Optional<Instant> revertAt,
            boolean armedOnDevice,
            Optional<String> removeWhenUnused,
            Optional<Instant> removeAt,
            String orderedBy,
            Instant orderedAt,
            Optional<Instant> endedAt,
            Optional<UUID> setId) {}

    private DeviceChanges() {}

    private static final String INSERT = """
            insert into device_change (id, gateway_id, state, changes, words, guard_seconds, revert_at, remove_when_unused, remove_at,
                                       ordered_by, ordered_at, set_id)
            values (?, ?, ?, ?::jsonb, ?, ?, ?, ?, ?, ?, ?, ?)""";

    public static void insert(Tx tx, DeviceChange c) {
        tx.updateOne(
                INSERT,
                p -> p.id(c.id())
                        .id(c.gatewayId())
                        .text(c.state().word())
                        .text(c.changes())
                        .text(c.words())
                        .number(c.guardSeconds().map(Integer::longValue))
                        .instant(c.revertAt())
                        .text(c.removeWhenUnused())
                        .instant(c.removeAt())
                        .text(c.orderedBy())
                        .instant(c.orderedAt())
                        .id(c.setId()));
    }

    private static final String SELECT = """
            select c.id, c.gateway_id, g.name as gateway, c.state, c.changes::text as changes, c.words, c.note, c.backup_id,
                   c.after_backup_id, c.guard_seconds, c.revert_at, c.armed_on_device, c.remove_when_unused, c.remove_at, c.ordered_by, c.ordered_at, c.ended_at,
                   c.set_id
            from device_change c
            join gateway g on g.id = c.gateway_id
            """;
    private static final String BY_ID = SELECT + "where c.id = ?";
    private static final String OF_GATEWAY = SELECT + "where c.gateway_id = ? order by c.ordered_at desc limit ?";
    private static final String TEMPORARY = SELECT + "where c.state = 'active' order by c.revert_at";
    private static final String RETIRING =
            SELECT + "where c.state = 'kept' and c.remove_when_unused is not null order by c.ordered_at";
    private static final String UNFINISHED =
            SELECT + "where c.ended_at is null and c.state <> 'by-hand' order by c.ordered_at";

    public static Optional<DeviceChange> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), DeviceChanges::change);
    }

    public static List<DeviceChange> of(Tx tx, UUID gatewayId, int limit) {
        return tx.list(OF_GATEWAY, p -> p.id(gatewayId).integer(limit), DeviceChanges::change);
    }

    /** In force now, to return by themselves; soonest first. */
    public static List<DeviceChange> temporary(Tx tx) {
        return tx.list(TEMPORARY, p -> p, DeviceChanges::change);
    }

    /** Kept, with an old listener still to go. */
    public static List<DeviceChange> removing(Tx tx) {
        return tx.list(RETIRING, p -> p, DeviceChanges::change);
    }

    private static final String OF_SET = SELECT + "where c.set_id = ? order by c.gateway_id";

    /** In the order in which their gateways are written. */
    public static List<DeviceChange> ofSet(Tx tx, UUID setId) {
        return tx.list(OF_SET, p -> p.id(setId), DeviceChanges::change);
    }

    private static final String IN_SETS = """
            select g.name
            from device_change c
            join change_set s on s.id = c.set_id and s.ended_at is null
            join gateway g on g.id = c.gateway_id
            where c.gateway_id = any(?)
            order by g.name limit 1""";

    /** One of the gateways that a set is being made at. */
    public static Optional<String> busy(Tx tx, Collection<UUID> gatewayIds) {
        return tx.first(IN_SETS, p -> p.ids(gatewayIds), row -> row.text("name"));
    }

    private static final String OPEN = """
            select g.name
            from device_change c
            join gateway g on g.id = c.gateway_id
            where c.gateway_id = any(?) and c.ended_at is null and c.state <> 'by-hand'
            order by g.name limit 1""";

    /** One of the gateways at which any change has not ended, also one that returns later. */
    public static Optional<String> unfinishedAt(Tx tx, Collection<UUID> gatewayIds) {
        return tx.first(OPEN, p -> p.ids(gatewayIds), row -> row.text("name"));
    }

    /** Neither kept, failed nor rolled back, and made by Tender. */
    public static List<DeviceChange> unfinished(Tx tx) {
        return tx.list(UNFINISHED, p -> p, DeviceChanges::change);
    }

    private static final String WRITING = """
            update device_change
            set state = 'writing', backup_id = ?, armed_on_device = ?, revert_at = ?
            where id = ?""";

    /** It is about to be written: what was there before is kept, and whether the device itself will bring it back. */
    public static void writing(Tx tx, UUID id, UUID backupId, boolean armed, Optional<Instant> revertAt) {
        tx.updateOne(WRITING, p -> p.id(backupId).flag(armed).instant(revertAt).id(id));
    }

    private static final String WRITTEN = "update device_change set after_backup_id = ? where id = ?";

    /** It is written: what was there right after it is kept. */
    public static void written(Tx tx, UUID id, UUID afterBackupId) {
        tx.updateOne(WRITTEN, p -> p.id(afterBackupId).id(id));
    }

    private static final String ARMED = """
            select id from device_change
            where gateway_id = ? and state = 'active' and armed_on_device""";
    private static final String UNARMED = "update device_change set armed_on_device = false where id = ?";

    /** Temporary changes active whose end the device itself waits for. */
    public static List<UUID> armed(Tx tx, UUID gatewayId) {
        return tx.list(ARMED, p -> p.id(gatewayId), row -> row.id("id"));
    }

    /** From now on Tender alone ends it. */
    public static void unarmed(Tx tx, UUID id) {
        tx.updateOne(UNARMED, p -> p.id(id));
    }

    private static final String MOVE = "update device_change set state = ?, note = ?, ended_at = ? where id = ?";

    public static void move(Tx tx, UUID id, ChangeState state, String note, Optional<Instant> endedAt) {
        tx.updateOne(MOVE, p -> p.text(state.word()).text(note).instant(endedAt).id(id));
    }

    /** How somebody wants a temporary change to end before its time. */
    public enum End {
        KEEP,
        ROLLBACK
    }

    private static final String SET_END = "update device_change set wanted_end = ? where id = ?";
    private static final String GET_END = "select wanted_end from device_change where id = ?";

    public static void end(Tx tx, UUID id, End end) {
        tx.updateOne(SET_END, p -> p.text(end.name().toLowerCase(Locale.ROOT)).id(id));
    }

    /** Empty where it ends at its time. */
    public static Optional<End> end(Tx tx, UUID id) {
        return tx.first(GET_END, p -> p.id(id), row -> row.optionalText("wanted_end"))
                .flatMap(end -> end)
                .map(end -> End.valueOf(end.toUpperCase(Locale.ROOT)));
    }

    private static final String LOST = "update device_change set revert_at = ? where id = ?";

    /** Contact was lost: by this time the device has brought back what was there. */
    public static void lostUntil(Tx tx, UUID id, Instant at) {
        tx.updateOne(LOST, p -> p.instant(at).id(id));
    }

    private static final String REMOVED = "update device_change set remove_when_unused = null, note = ? where id = ?";

    public static void removed(Tx tx, UUID id, String note) {
        tx.updateOne(REMOVED, p -> p.text(note).id(id));
    }

    private static final String COUNTS =
            "select gateway_id, count(*) as open from device_change where state = 'active' group by gateway_id";

    /** How many temporary changes are active, by gateway. */
    public static Map<UUID, Integer> temporaryCounts(Tx tx) {
        Map<UUID, Integer> out = new HashMap<>();
        tx.list(COUNTS, p -> p, row -> out.put(row.id("gateway_id"), (int) row.number("open")));
        return out;
    }

    private static DeviceChange change(Row row) {
        return new DeviceChange(
                row.id("id"),
                row.id("gateway_id"),
                row.text("gateway"),
                ChangeState.of(row.text("state")),
                row.text("changes"),
                row.text("words"),
                row.text("note"),
                row.optionalId("backup_id"),
                row.optionalId("after_backup_id"),
                row.optionalNumber("guard_seconds").map(Long::intValue),
                row.optionalInstant("revert_at"),
                row.flag("armed_on_device"),
                row.optionalText("remove_when_unused"),
                row.optionalInstant("remove_at"),
                row.text("ordered_by"),
                row.instant("ordered_at"),
                row.optionalInstant("ended_at"),
                row.optionalId("set_id"));
    }

    /** A difference made at the device and not through Tender. */
    public record Drift(
            UUID id,
            UUID gatewayId,
            Instant seenAt,
            Optional<Instant> beforeAt,
            String field,
            String was,
            String becomes,
            Optional<Instant> notedAt,
            Optional<String> notedBy) {}

    private static final String ADD_DRIFT = """
            insert into drift (id, gateway_id, seen_at, before_at, field, was, becomes)
            values (?, ?, ?, ?, ?, ?, ?)""";

    public static void addDrift(Tx tx, Collection<Drift> all) {
        for (Drift d : all) {
            tx.updateOne(
                    ADD_DRIFT,
                    p -> p.id(d.id())
                            .id(d.gatewayId())
                            .instant(d.seenAt())
                            .instant(d.beforeAt())
                            .text(d.field())
                            .text(d.was())
                            .text(d.becomes()));
        }
    }

    private static final String DRIFT = """
            select id, gateway_id, seen_at, before_at, field, was, becomes, noted_at, noted_by
            from drift
            where gateway_id = ?
            order by seen_at desc, field
            limit ?""";

    public static List<Drift> drift(Tx tx, UUID gatewayId, int limit) {
        return tx.list(
                DRIFT,
                p -> p.id(gatewayId).integer(limit),
                row -> new Drift(
                        row.id("id"),
                        row.id("gateway_id"),
                        row.instant("seen_at"),
                        row.optionalInstant("before_at"),
                        row.text("field"),
                        row.text("was"),
                        row.text("becomes"),
                        row.optionalInstant("noted_at"),
                        row.optionalText("noted_by")));
    }

    private static final String NOTE =
            "update drift set noted_at = ?, noted_by = ? where gateway_id = ? and noted_at is null";

    /** Somebody has looked at them; gives how many there were. */
    public static int note(Tx tx, UUID gatewayId, String by, Instant now) {
        return tx.update(NOTE, p -> p.instant(now).text(by).id(gatewayId));
    }

    private static final String DRIFT_COUNTS =
            "select gateway_id, count(*) as open from drift where noted_at is null group by gateway_id";

    /** How many nobody has looked at, by gateway. */
    public static Map<UUID, Integer> driftCounts(Tx tx) {
        Map<UUID, Integer> out = new HashMap<>();
        tx.list(DRIFT_COUNTS, p -> p, row -> out.put(row.id("gateway_id"), (int) row.number("open")));
        return out;
    }
}
