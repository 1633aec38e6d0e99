package tender.store.handout;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.handout.Parcel;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Params;
import tender.store.jdbc.Row;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;
import tender.store.profile.Whose;

/** Handouts as operators see them. */
public final class Handouts {
    /** A handout; its link is known only by digest. */
    public record Handout(
            UUID id,
            UUID profileId,
            String label,
            Optional<String> person,
            Optional<String> personName,
            Optional<String> device,
            String gateway,
            int revision,
            String fileName,
            String digest,
            HandoutState state,
            Instant preparedAt,
            Optional<Instant> sentAt,
            Optional<Instant> collectedAt,
            Optional<Instant> lastHeard,
            Instant expiresAt,
            int allowed,
            int left,
            int version) {}

    private Handouts() {}

    private static final String INSERT = """
            insert into handout (id, profile_id, revision_id, token_digest, salt, parcel, prepared_at, expires_at,
                                 collections_allowed, collections_left)
            values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";

    /**
     * A handout that is prepared.
     *
     * @param tokenDigest of the link's token, which is stored nowhere
     * @param collections how often it may be collected
     */
    public record Draft(
            UUID id,
            UUID profileId,
            UUID revisionId,
            String tokenDigest,
            Parcel parcel,
            Instant preparedAt,
            Instant expiresAt,
            int collections) {}

    public static void insert(Tx tx, Draft d) {
        tx.updateOne(
                INSERT,
                p -> p.id(d.id())
                        .id(d.profileId())
                        .id(d.revisionId())
                        .text(d.tokenDigest())
                        .bytes(d.parcel().salt())
                        .bytes(d.parcel().sealed())
                        .instant(d.preparedAt())
                        .instant(d.expiresAt())
                        .integer(d.collections())
                        .integer(d.collections()));
    }

    private static final String SELECT = """
            select h.id, h.profile_id, p.label, n.handle as person, n.name as person_name, d.name as device, g.name as gateway,
                   r.number as revision, r.file_name, r.digest, h.prepared_at, h.sent_at, c.at as collected_at, s.last_heard,
                   h.expires_at, h.collections_allowed, h.collections_left, h.version,
                   case when h.withdrawn_at is not null then 'withdrawn'
                        when c.at is not null and s.last_heard >= date_trunc('second', c.at) then 'in use'
                        when c.at is not null then 'collected'
                        when h.expires_at < now() then 'expired'
                        when h.sent_at is not null then 'sent'
                        else 'prepared' end as state
            from handout h
            join profile p on p.id = h.profile_id
            join profile_revision r on r.id = h.revision_id
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join listener l on l.id = pl.listener_id
            join gateway g on g.id = l.gateway_id
            left join device d on d.id = p.device_id
            left join person n on n.id = d.person_id
            left join lateral (select min(at) as at from collection c where c.handout_id = h.id) c on true
            left join lateral (
                select s.last_heard from session s where s.profile_id = p.id order by s.since desc limit 1) s on true
            """;
    private static final String BY_ID = SELECT + "where h.id = ?";

    /** What the list can be sorted by. */
    public static final Map<String, String> SORTS = Map.of(
            "profile", "select p.label from profile p where p.id = h.profile_id",
            "person",
                    "select n.name from profile p join device d on d.id = p.device_id join person n on n.id = d.person_id where p.id = h.profile_id",
            "prepared", "h.prepared_at",
            "collected", "select min(c.at) from collection c where c.handout_id = h.id",
            "expires", "h.expires_at");

    /** Newest first, or as asked for. */
    public static List<Handout> page(Tx tx, Whose whose, Slice<UUID> slice) {
        Conditions where = new Conditions();
        slice.narrow(where, "h.id < ?", Params::id);
        whose.narrow(tx, where, "h.profile_id");
        List<UUID> ids = tx.listPlanned(
                "select h.id from handout h where " + where.sql() + slice.end("h.id desc"),
                p -> slice.fill(where.fill(p)),
                row -> row.id("id"));
        return Ids.inOrder(
                ids, tx.list(SELECT + "where h.id = any(?)", p -> p.ids(ids), Handouts::handout), Handout::id);
    }

    public static Optional<Handout> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Handouts::handout);
    }

    private static Handout handout(Row row) {
        return new Handout(
                row.id("id"),
                row.id("profile_id"),
                row.text("label"),
                row.optionalText("person"),
                row.optionalText("person_name"),
                row.optionalText("device"),
                row.text("gateway"),
                row.integer("revision"),
                row.text("file_name"),
                row.text("digest"),
                HandoutState.of(row.text("state")),
                row.instant("prepared_at"),
                row.optionalInstant("sent_at"),
                row.optionalInstant("collected_at"),
                row.optionalInstant("last_heard"),
                row.instant("expires_at"),
                row.integer("collections_allowed"),
                row.integer("collections_left"),
                row.integer("version"));
    }

    private static final String SENT =
            "update handout set sent_at = coalesce(sent_at, ?), version = version + 1 where id = ?";

    public static void sent(Tx tx, UUID id, Instant now) {
        tx.updateOne(SENT, p -> p.instant(now).id(id));
    }

    private static final String WITHDRAW = """
            update handout
            set withdrawn_at = coalesce(withdrawn_at, ?), parcel = null, salt = null, version = version + 1
            where id = ?""";

    public static void withdraw(Tx tx, UUID id, Instant now) {
        tx.updateOne(WITHDRAW, p -> p.instant(now).id(id));
    }

    private static final String OPEN_LINKS = """
            select count(*) as open from handout
            where profile_id = ? and withdrawn_at is null and collections_left > 0 and expires_at > ?""";
    private static final String WITHDRAW_OF = """
            update handout
            set withdrawn_at = ?, parcel = null, salt = null, version = version + 1
            where profile_id = ? and withdrawn_at is null""";

    /** Ends all links of a profile; gives how many of them still worked. */
    public static int withdrawOf(Tx tx, UUID profileId, Instant now) {
        int open = tx.first(OPEN_LINKS, p -> p.id(profileId).instant(now), row -> (int) row.number("open"))
                .orElse(0);
        tx.update(WITHDRAW_OF, p -> p.instant(now).id(profileId));
        return open;
    }

    private static final String ERASE_EXPIRED =
            "update handout set parcel = null, salt = null where parcel is not null and expires_at < ?";

    public static void eraseExpired(Tx tx, Instant now) {
        tx.update(ERASE_EXPIRED, p -> p.instant(now));
    }
}
