package tender.store.profile;

import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.journal.By;

/**
 * Client files that somebody has to make at a gateway: one a device. A request stays until the file is imported, or until it is
 * cancelled.
 */
public final class FileRequests {
    /** Why a file is asked for. The database checks the same words. */
    public enum Reason {
        /** The device has none. */
        NEW,
        /** The certificate that it has ends. */
        RENEWAL;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * A file that was asked for.
     *
     * @param handle of the person
     * @param replaces label of the profile that the device has there
     * @param ends when that profile's certificate ends
     * @param asked who was asked to make the file, where anybody was
     */
    public record FileRequest(
            UUID id,
            UUID gatewayId,
            String gateway,
            String handle,
            String person,
            String device,
            UUID deviceId,
            Reason reason,
            String askedBy,
            Instant askedAt,
            Optional<String> replaces,
            Optional<Instant> ends,
            Optional<Asked> asked) {}

    private FileRequests() {}

    private static final String PUT = """
            insert into file_request (id, gateway_id, device_id, reason, asked_by, asked_at)
            values (?, ?, ?, ?, ?, ?)
            on conflict (gateway_id, device_id) do nothing""";

    /** Asks for a file; one that is asked for already stays as it is. */
    public static void put(Tx tx, UUID gatewayId, UUID deviceId, Reason reason, By by) {
        tx.update(
                PUT,
                p -> p.id(Ids.next())
                        .id(gatewayId)
                        .id(deviceId)
                        .text(reason.word())
                        .text(by.actor())
                        .instant(by.at()));
    }

    private static final String ENDING = """
            select distinct l.gateway_id, p.device_id
            from credential c
            join profile_listener pl on pl.key_id = c.id and pl.position = 0 and not pl.expiry_explicit
            join profile p on p.id = pl.profile_id and p.state = 'ready' and p.origin = 'exported'
            join device d on d.id = p.device_id and d.archived_at is null
            join listener l on l.id = pl.listener_id and not l.gone
            where c.kind = 'CERTIFICATE' and c.expires_at < ?
              and not exists (
                select 1 from job j
                where j.kind = 'credential-end' and j.payload = p.id::text and j.state = 'waiting')
              and not exists (
                select 1 from file_request r where r.gateway_id = l.gateway_id and r.device_id = p.device_id)
            limit ?""";

    /** A device at a gateway. */
    public record Place(UUID gatewayId, UUID deviceId) {}

    /** Devices whose imported certificate ends within a time, whose access does not, and that no file was asked for yet. */
    public static List<Place> ending(Tx tx, Duration within, Instant now, int limit) {
        return tx.list(
                ENDING,
                p -> p.instant(now.plus(within)).integer(limit),
                row -> new Place(row.id("gateway_id"), row.id("device_id")));
    }

    private static final String RECEIVED = "delete from file_request where gateway_id = ? and device_id = ?";

    /** Whether the file was asked for. */
    public static boolean received(Tx tx, UUID gatewayId, UUID deviceId) {
        return tx.update(RECEIVED, p -> p.id(gatewayId).id(deviceId)) > 0;
    }

    private static final String DEVICES = "select device_id from file_request where gateway_id = ?";

    /** Devices that files of a gateway are asked for. */
    public static Set<UUID> devices(Tx tx, UUID gatewayId) {
        return Set.copyOf(tx.list(DEVICES, p -> p.id(gatewayId), row -> row.id("device_id")));
    }

    private static final String HAVING = """
            select p.device_id from profile p
            join profile_listener pl on pl.profile_id = p.id
            join listener l on l.id = pl.listener_id
            where l.gateway_id = ? and p.device_id is not null and p.state in ('writing', 'waiting', 'ready')""";

    /** Devices that have a profile at a gateway. */
    public static Set<UUID> having(Tx tx, UUID gatewayId) {
        return Set.copyOf(tx.list(HAVING, p -> p.id(gatewayId), row -> row.id("device_id")));
    }

    private static final String SELECT = """
            select r.id, g.id as gateway_id, g.name as gateway, n.handle, n.name as person, d.name as device, d.id as device_id,
                   r.reason, coalesce(o.name, r.asked_by) as asked_by, r.asked_at, has.label, has.expires_at, r.asked_of, r.sent_at
            from file_request r
            join gateway g on g.id = r.gateway_id
            join device d on d.id = r.device_id
            join person n on n.id = d.person_id
            left join operator o on 'operator:' || o.id = r.asked_by
            left join lateral (
                select p.label, c.expires_at
                from profile p
                join profile_listener pl on pl.profile_id = p.id
                join listener l on l.id = pl.listener_id and l.gateway_id = r.gateway_id
                join credential c on c.id = pl.key_id
                where p.device_id = r.device_id and p.state = 'ready'
                order by p.created_at desc limit 1) has on true
            """;

    public static Optional<FileRequest> byId(Tx tx, UUID id) {
        return tx.first(SELECT + "where r.id = ?", p -> p.id(id), FileRequests::row);
    }

    /** Those of a gateway, by person and device. */
    public static List<FileRequest> at(Tx tx, UUID gatewayId) {
        return tx.list(
                SELECT + "where r.gateway_id = ? order by n.handle, d.name", p -> p.id(gatewayId), FileRequests::row);
    }

    /** Those of all gateways, by gateway, person and device. */
    public static List<FileRequest> all(Tx tx, int limit) {
        return tx.list(SELECT + "order by g.name, n.handle, d.name limit ?", p -> p.integer(limit), FileRequests::row);
    }

    private static FileRequest row(Row row) {
        return new FileRequest(
                row.id("id"),
                row.id("gateway_id"),
                row.text("gateway"),
                row.text("handle"),
                row.text("person"),
                row.text("device"),
                row.id("device_id"),
                Reason.valueOf(row.text("reason").toUpperCase(Locale.ROOT)),
                row.text("asked_by"),
                row.instant("asked_at"),
                row.optionalText("label"),
                row.optionalInstant("expires_at"),
                Asked.of(row));
    }

    private static final String ASKED = "update file_request set asked_of = ?, sent_at = ? where gateway_id = ?";

    /** Somebody was asked for all that is requested at a gateway. */
    public static void asked(Tx tx, UUID gatewayId, Asked asked) {
        tx.update(ASKED, p -> p.text(asked.of()).instant(asked.at()).id(gatewayId));
    }

    /** Nobody needs files for these devices any more. */
    public static void forget(Tx tx, Collection<UUID> devices) {
        tx.update("delete from file_request where device_id = any(?)", p -> p.ids(devices));
    }

    /** Takes a request back. */
    public static void cancel(Tx tx, UUID id) {
        tx.updateOne("delete from file_request where id = ?", p -> p.id(id));
    }
}
