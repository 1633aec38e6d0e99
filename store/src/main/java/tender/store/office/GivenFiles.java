package tender.store.office;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.UUID;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Files that people gave for gateways that nobody can reach. They hold keys, so they are encrypted. */
public final class GivenFiles {
    /**
     * @param files contents by absolute path on the device
     * @param taken when they were copied there
     */
    public record Given(SortedMap<String, byte[]> files, Instant taken) {}

    private record Row(UUID id, String path, byte[] sealed, Instant taken) {}

    private final ColumnCipher cipher;

    public GivenFiles(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String LOCK = "select id from gateway where id = ? for update";
    private static final String DROP = "delete from given_file where gateway_id = ? and path = any(?)";
    private static final String INSERT =
            "insert into given_file (id, gateway_id, path, content, taken_at) values (?, ?, ?, ?, ?)";
    private static final String TAKEN = "update given_file set taken_at = ? where gateway_id = ?";

    /** Puts files in the place of those of the same paths; all of the gateway's count as taken then. */
    public void put(Tx tx, UUID gatewayId, Map<String, byte[]> files, Instant taken) {
        tx.list(LOCK, p -> p.id(gatewayId), row -> row.id("id"));
        tx.update(DROP, p -> p.id(gatewayId).texts(files.keySet()));
        files.forEach((path, content) -> {
            UUID id = Ids.next();
            byte[] sealed = cipher.seal(Secret.of(content), EncryptedColumn.GIVEN_FILE, id);
            tx.later(
                    INSERT, p -> p.id(id).id(gatewayId).text(path).bytes(sealed).instant(taken));
        });
        tx.update(TAKEN, p -> p.instant(taken).id(gatewayId));
    }

    private static final String OF = """
            select f.id, f.path, f.content, f.taken_at from given_file f join gateway g on g.id = f.gateway_id
            where g.name = ? and g.archived_at is null order by f.path""";

    /** What was given for a gateway; empty where nothing was. */
    public Optional<Given> of(Tx tx, String gateway) {
        List<Row> rows = tx.list(
                OF,
                p -> p.text(gateway),
                row -> new Row(row.id("id"), row.text("path"), row.bytes("content"), row.instant("taken_at")));
        SortedMap<String, byte[]> files = new TreeMap<>();
        rows.forEach(r -> files.put(
                r.path(),
                cipher.open(r.sealed(), EncryptedColumn.GIVEN_FILE, r.id()).reveal(RevealSecret.TO_READ)));
        return rows.isEmpty()
                ? Optional.empty()
                : Optional.of(new Given(files, rows.get(0).taken()));
    }
}
