package tender.store.credential;

import java.time.Instant;
import java.util.List;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** Ends the custody of private keys that are in use where they belong. */
public final class Custody {
    private Custody() {}

    private static final String DUE = """
            select distinct p.id
            from profile p
            join profile_listener pl on pl.profile_id = p.id
            join credential k on k.id = pl.key_id and k.custody = 'HELD' and k.kind in ('TUNNEL_KEY_PAIR', 'CERTIFICATE')
            join handout h on h.profile_id = p.id
            join collection c on c.handout_id = h.id and c.at < ?
            where p.state = 'ready' and p.origin = 'issued'
              and exists (select 1 from session s where s.profile_id = p.id and s.last_heard >= date_trunc('second', c.at))
              and not exists (select 1 from handout o
                              where o.profile_id = p.id and o.withdrawn_at is null and o.expires_at > ? and o.collections_left > 0)
            limit 500""";
    private static final String KEYS = """
            update credential set secret = null, custody = 'ERASED'
            where custody = 'HELD' and kind in ('TUNNEL_KEY_PAIR', 'CERTIFICATE')
              and id in (select key_id from profile_listener where profile_id = any (?))""";
    private static final String CERTIFICATES = """
            update certificate set sealed_key = null, custody = 'ERASED'
            where profile_id = any (?) and sealed_key is not null""";
    private static final String FILES = "update profile_revision set content = null where profile_id = any (?)";

    /**
     * Erases the private keys, and the files that hold them, of profiles that were collected before a time and have connected
     * since.
     *
     * @return whose
     */
    public static List<UUID> erase(Tx tx, Instant collectedBefore, Instant now) {
        List<UUID> due = tx.list(DUE, p -> p.instant(collectedBefore).instant(now), row -> row.id("id"));
        if (!due.isEmpty()) {
            tx.update(KEYS, p -> p.ids(due));
            tx.update(CERTIFICATES, p -> p.ids(due));
            tx.update(FILES, p -> p.ids(due));
        }
        return due;
    }
}
