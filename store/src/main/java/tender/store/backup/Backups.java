package tender.store.backup;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.store.jdbc.Conditions;
import tender.store.jdbc.Params;
import tender.store.jdbc.Row;
import tender.store.jdbc.Slice;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Numbered snapshots of gateways. */
public final class Backups {
    /**
     * A backup without its content.
     *
     * @param differences from the backup before, file by file
     * @param settings that differ from the reading before
     */
    public record Backup(
            UUID id,
            UUID gatewayId,
            String gateway,
            int number,
            String reason,
            Instant takenAt,
            String release,
            int files,
            long bytes,
            String digest,
            List<FileDifference> differences,
            List<SettingDifference> settings) {}

    private final ColumnCipher cipher;

    public Backups(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String INSERT = """
            insert into backup (id, gateway_id, number, reason, taken_at, release, files, bytes, digest, content, differences, settings)
            select ?, ?, coalesce(max(number), 0) + 1, ?, ?, ?, ?, ?, ?, ?, ?::jsonb, ?::jsonb
            from backup
            where gateway_id = ?
            returning number""";

    /** Stores a snapshot under the next number; the number given in {@code b} is ignored. */
    public int insert(Tx tx, Backup b, byte[] content) {
        byte[] sealed = cipher.seal(Secret.of(content), EncryptedColumn.BACKUP, b.id());
        return tx.first(
                        INSERT,
                        p -> p.id(b.id())
                                .id(b.gatewayId())
                                .text(b.reason())
                                .instant(b.takenAt())
                                .text(b.release())
                                .integer(b.files())
                                .number(b.bytes())
                                .text(b.digest())
                                .bytes(sealed)
                                .text(FileDifference.ALL.write(b.differences()))
                                .text(SettingDifference.ALL.write(b.settings()))
                                .id(b.gatewayId()),
                        row -> row.integer("number"))
                .orElseThrow();
    }

    private static final String SELECT = """
            select b.id, b.gateway_id, g.name as gateway, b.number, b.reason, b.taken_at, b.release, b.files, b.bytes, b.digest,
                   b.differences, b.settings
            from backup b
            join gateway g on g.id = b.gateway_id
            """;
    private static final String BY_ID = SELECT + "where b.id = ?";
    private static final String NEWEST = SELECT + "where b.gateway_id = ? order by b.number desc limit 1";

    /** What the list can be sorted by. */
    public static final Map<String, String> SORTS = Map.of(
            "gateway",
            "g.name",
            "taken",
            "b.taken_at",
            "reason",
            "b.reason",
            "release",
            "b.release",
            "size",
            "b.bytes");

    /** Newest first, or as asked for. */
    public static List<Backup> page(Tx tx, Optional<UUID> gatewayId, Slice<UUID> slice) {
        Conditions where = new Conditions();
        slice.narrow(where, "b.id < ?", Params::id);
        gatewayId.ifPresent(id -> where.and("b.gateway_id = ?", p -> p.id(id)));
        return tx.list(
                SELECT + "where " + where.sql() + slice.end("b.id desc"),
                p -> slice.fill(where.fill(p)),
                Backups::backup);
    }

    public static Optional<Backup> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Backups::backup);
    }

    public static Optional<Backup> newest(Tx tx, UUID gatewayId) {
        return tx.first(NEWEST, p -> p.id(gatewayId), Backups::backup);
    }

    private static final String NEWEST_OF = SELECT + """
            where b.gateway_id = any(?)
            and b.number = (select max(number) from backup n where n.gateway_id = b.gateway_id)""";

    public static List<Backup> newest(Tx tx, java.util.Collection<UUID> gatewayIds) {
        return tx.list(NEWEST_OF, p -> p.ids(gatewayIds), Backups::backup);
    }

    private static Backup backup(Row row) {
        return new Backup(
                row.id("id"),
                row.id("gateway_id"),
                row.text("gateway"),
                row.integer("number"),
                row.text("reason"),
                row.instant("taken_at"),
                row.text("release"),
                row.integer("files"),
                row.number("bytes"),
                row.text("digest"),
                FileDifference.ALL.read(row.text("differences")),
                SettingDifference.ALL.read(row.text("settings")));
    }

    private static final String CONTENT = "select content from backup where id = ?";

    /**
     * The archive, decrypted.
     *
     * @throws java.util.NoSuchElementException where there is no such backup
     */
    public byte[] content(Tx tx, UUID id) {
        return tx.first(CONTENT, p -> p.id(id), row -> cipher.open(row.bytes("content"), EncryptedColumn.BACKUP, id))
                .orElseThrow()
                .reveal(RevealSecret.TO_ENCRYPT);
    }
}
