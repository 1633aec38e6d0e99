package tender.store.handout;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Tx;

/**
 * All that the staff's page may ask of the database: one parcel by its link's digest, that it was collected or tried, and an
 * authority's revocation list. Each is a function of the database, so that the page's own role can read no table.
 */
public final class Pickups {
    /** A parcel that can still be collected. */
    public record Pickup(UUID handoutId, byte[] salt, byte[] parcel) {}

    private Pickups() {}

    private static final String FIND = "select handout_id, salt, parcel from staff_pickup(?, ?)";

    public static Optional<Pickup> find(Tx tx, String tokenDigest, Instant now) {
        return tx.first(
                FIND,
                p -> p.text(tokenDigest).instant(now),
                row -> new Pickup(row.id("handout_id"), row.bytes("salt"), row.bytes("parcel")));
    }

    private static final String COLLECT = "select staff_collect(?, ?, ?, ?) as counted";

    /** Whether this collection still counts; the parcel is erased with the last. */
    public static boolean collect(Tx tx, UUID handoutId, String tokenDigest, String source, Instant now) {
        return tx.first(
                        COLLECT,
                        p -> p.id(handoutId).text(tokenDigest).text(source).instant(now),
                        row -> row.flag("counted"))
                .orElse(false);
    }

    private static final String TRIED = "select staff_tried(?, ?, ?, ?)::text as noted";

    /** Notes a try, for the journal. */
    public static void tried(Tx tx, Optional<UUID> handoutId, boolean stopped, String source, Instant now) {
        tx.list(TRIED, p -> p.id(handoutId).flag(stopped).text(source).instant(now), row -> row.optionalText("noted"));
    }

    private static final String REVOCATIONS = "select staff_revocations(?) as list";

    /** An authority's revocation list, DER. */
    public static Optional<byte[]> revocations(Tx tx, String authority) {
        return tx.first(REVOCATIONS, p -> p.text(authority), row -> Optional.ofNullable(row.bytes("list")))
                .flatMap(list -> list);
    }

    /** A collection, or tries from one source, that the journal does not have yet. */
    public record Unwritten(Optional<UUID> handoutId, Instant at, boolean collected, boolean stopped, long tries) {}

    private static final String COLLECTED = """
            update collection set journaled = true
            where not journaled
            returning handout_id, at""";
    private static final String TRIES = """
            with gone as (delete from stranger_try where at < ? returning handout_id, at, stopped, source)
            select handout_id, stopped, max(at) as at, count(*) as tries from gone
            group by handout_id, stopped, source
            order by max(at)""";

    /** Takes what the journal does not have yet: collections, and tries from before a time, those of one source together. */
    public static List<Unwritten> take(Tx tx, Instant triesBefore) {
        List<Unwritten> out = new java.util.ArrayList<>(tx.list(
                COLLECTED,
                p -> p,
                row -> new Unwritten(Optional.of(row.id("handout_id")), row.instant("at"), true, false, 1)));
        out.addAll(tx.list(
                TRIES,
                p -> p.instant(triesBefore),
                row -> new Unwritten(
                        row.optionalId("handout_id"),
                        row.instant("at"),
                        false,
                        row.flag("stopped"),
                        row.number("tries"))));
        return out;
    }
}
