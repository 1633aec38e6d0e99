package tender.store.handout;

import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** All that the staff's page may ask of the database: one parcel by its link's digest, and that it was collected. */
public final class Pickups {
    /** A parcel that can still be collected. */
    public record Pickup(UUID handoutId, UUID profileId, byte[] salt, byte[] parcel) {}

    private Pickups() {}

    private static final String OPEN = """
            select id, profile_id, salt, parcel
            from handout
            where token_digest = ? and withdrawn_at is null and expires_at > ? and collections_left > 0 and parcel is not null""";

    public static Optional<Pickup> find(Tx tx, String tokenDigest, Instant now) {
        return tx.first(
                OPEN,
                p -> p.text(tokenDigest).instant(now),
                row -> new Pickup(row.id("id"), row.id("profile_id"), row.bytes("salt"), row.bytes("parcel")));
    }

    private static final String COUNT = """
            update handout
            set collections_left = collections_left - 1, sent_at = coalesce(sent_at, ?), version = version + 1,
                parcel = case when collections_left > 1 then parcel end,
                salt = case when collections_left > 1 then salt end
            where id = ? and collections_left > 0 and withdrawn_at is null and expires_at > ?""";
    private static final String RECORD = "insert into collection (handout_id, at, source) values (?, ?, ?)";

    /** Whether this collection still counts; the parcel is erased with the last. */
    public static boolean collect(Tx tx, UUID handoutId, String source, Instant now) {
        boolean counted = tx.update(COUNT, p -> p.instant(now).id(handoutId).instant(now)) == 1;
        if (counted) {
            tx.updateOne(RECORD, p -> p.id(handoutId).instant(now).text(source));
        }
        return counted;
    }
}
