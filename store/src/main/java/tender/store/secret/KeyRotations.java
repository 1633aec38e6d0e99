package tender.store.secret;

import java.time.Instant;
import java.util.Collection;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** Rotations of the master key: at most one goes on at a time. */
public final class KeyRotations {
    /** Said when a rotation begins or ends. */
    public static final String TOPIC = "master-key";

    /**
     * A rotation.
     *
     * @param wrapped the new key, encrypted under the one before; gone when the rotation has ended
     */
    public record Rotation(
            UUID id,
            String keyId,
            Optional<byte[]> wrapped,
            String orderedBy,
            Instant startedAt,
            Optional<Instant> endedAt) {}

    private KeyRotations() {}

    private static final String INSERT =
            "insert into key_rotation (id, key_id, wrapped, ordered_by, started_at) values (?, ?, ?, ?, ?)";

    public static void insert(Tx tx, Rotation r) {
        tx.updateOne(
                INSERT,
                p -> p.id(r.id())
                        .text(r.keyId())
                        .bytes(r.wrapped().orElse(null))
                        .text(r.orderedBy())
                        .instant(r.startedAt()));
    }

    private static final String NEWEST = """
            select id, key_id, wrapped, ordered_by, started_at, ended_at from key_rotation
            order by started_at desc limit 1""";

    /** The one that goes on, or that ended last. */
    public static Optional<Rotation> newest(Tx tx) {
        return tx.first(
                NEWEST,
                p -> p,
                row -> new Rotation(
                        row.id("id"),
                        row.text("key_id"),
                        Optional.ofNullable(row.bytes("wrapped")),
                        row.text("ordered_by"),
                        row.instant("started_at"),
                        row.optionalInstant("ended_at")));
    }

    private static final String END = "update key_rotation set ended_at = ?, wrapped = null where id = ?";

    public static void end(Tx tx, UUID id, Instant now) {
        tx.updateOne(END, p -> p.instant(now).id(id));
    }

    private static final String HAS = """
            insert into node (name, heard_at, keys) values (?, now(), ?::text[])
            on conflict (name) do update set heard_at = now(), keys = excluded.keys""";

    /** Says which keys a node has at hand. */
    public static void has(Tx tx, String node, Collection<String> keyIds) {
        tx.update(HAS, p -> p.text(node).texts(keyIds));
    }

    private static final String WITHOUT = """
            select name from node
            where heard_at > now() - interval '30 seconds' and not (keys @> array[?]::text[])
            order by name limit 1""";

    /** A node that is alive and has not said that it has a key. */
    public static Optional<String> aNodeWithout(Tx tx, String keyId) {
        return tx.first(WITHOUT, p -> p.text(keyId), row -> row.text("name"));
    }
}
