package tender.store.provision;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** What waits for devices, sealed to the key of each. */
public final class Deliveries {
    /**
     * A profile of a device whose newest revision does not wait for it yet.
     *
     * @param sealingKey the device's, X25519
     * @param position in the order in which gateways are to be tried
     */
    public record Due(UUID enrolmentId, UUID profileId, int revision, byte[] sealingKey, int position) {}

    private Deliveries() {}

    private static final String DUE = """
            select e.id, p.id as profile_id, r.number, e.sealing_key, coalesce(o.position, 1000) as position
            from enrolment e
            join profile p on p.device_id = e.device_id and p.state = 'ready'
            join lateral (
                select number from profile_revision r where r.profile_id = p.id and r.content is not null order by number desc limit 1) r on true
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            left join provision_listener o on o.provision_id = e.provision_id and o.listener_id = pl.listener_id
            left join delivery d on d.enrolment_id = e.id and d.profile_id = p.id
            where e.state = 'joined' and (d.revision is null or d.revision <> r.number)
            order by e.id, p.id
            limit ?""";

    public static List<Due> due(Tx tx, int most) {
        return tx.list(
                DUE,
                p -> p.integer(most),
                row -> new Due(
                        row.id("id"),
                        row.id("profile_id"),
                        row.integer("number"),
                        row.bytes("sealing_key"),
                        row.integer("position")));
    }

    private static final String PUT = """
            insert into delivery (enrolment_id, profile_id, revision, position, sealed, made_at)
            values (?, ?, ?, ?, ?, ?)
            on conflict (enrolment_id, profile_id)
            do update set revision = excluded.revision, position = excluded.position, sealed = excluded.sealed, made_at = excluded.made_at""";

    public static void put(Tx tx, Due due, byte[] sealed, Instant now) {
        tx.later(
                PUT,
                p -> p.id(due.enrolmentId())
                        .id(due.profileId())
                        .integer(due.revision())
                        .integer(due.position())
                        .bytes(sealed)
                        .instant(now));
    }

    private static final String TAKE_BACK = """
            delete from delivery d
            using enrolment e, profile p
            where e.id = d.enrolment_id and p.id = d.profile_id
              and (p.state in ('withdrawing', 'withdrawn', 'closing') or p.device_id is distinct from e.device_id or e.state <> 'joined')
            returning d.enrolment_id""";

    /** Takes back what is withdrawn, is another device's now, or was for one that ended; gives from whom. */
    public static List<UUID> takeBack(Tx tx) {
        return tx.list(TAKE_BACK, p -> p, row -> row.id("enrolment_id"));
    }

    private static final String TAG = """
            update enrolment e
            set etag = coalesce(
                (select md5(string_agg(d.profile_id::text || ':' || d.revision::text, ',' order by d.profile_id))
                 from delivery d where d.enrolment_id = e.id), 'none')
            where e.id = any(?) and e.state = 'joined'""";

    /** Gives devices another {@code ETag}, where something else waits for them. */
    public static void tag(Tx tx, Collection<UUID> enrolments) {
        tx.update(TAG, p -> p.ids(enrolments));
    }
}
