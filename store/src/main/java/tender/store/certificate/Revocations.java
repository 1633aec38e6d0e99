package tender.store.certificate;

import java.time.Instant;
import java.util.List;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** Certificates of an authority of ours that were revoked elsewhere: before it was imported, or at a gateway. */
public final class Revocations {
    private Revocations() {}

    private static final String ADD = """
            insert into revocation (authority_id, serial, revoked_at, reason, learned_from)
            values (?, ?, ?, ?, ?)
            on conflict (authority_id, serial) do nothing""";

    /** Whether it was not known before. */
    public static boolean add(Tx tx, UUID authorityId, Certificates.Revoked r, String learnedFrom) {
        return tx.update(
                        ADD,
                        p -> p.id(authorityId)
                                .text(r.serial())
                                .instant(r.at())
                                .integer(r.reason())
                                .text(learnedFrom))
                == 1;
    }

    private static final String ALL = """
            select c.serial, c.revoked_at, c.revoked_reason as reason from certificate c
            where c.authority_id = ? and c.revoked_at is not null and c.expires_at > ?
            union
            select r.serial, r.revoked_at, r.reason from revocation r
            where r.authority_id = ? and not exists (
                select 1 from certificate c where c.authority_id = r.authority_id and c.serial = r.serial
                    and (c.revoked_at is not null or c.expires_at <= ?))
            order by serial""";

    /**
     * Those that a list has to name. One of our own that has expired is refused for that and need not be named; of one that
     * was revoked elsewhere nobody here knows the expiry, so that it stays for good.
     */
    public static List<Certificates.Revoked> all(Tx tx, UUID authorityId, Instant now) {
        return tx.list(
                ALL,
                p -> p.id(authorityId).instant(now).id(authorityId).instant(now),
                row -> new Certificates.Revoked(row.text("serial"), row.instant("revoked_at"), row.integer("reason")));
    }
}
