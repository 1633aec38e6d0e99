package tender.store.certificate;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Certificate authorities with their sealed keys and the list of revoked certificates as it was signed last. */
public final class Authorities {
    /**
     * An authority without its key.
     *
     * @param publishesAt where strangers fetch the list; written into certificates
     * @param listNumber rises with every signed list
     */
    public record Authority(
            UUID id,
            String name,
            byte[] certificate,
            String keyKind,
            Instant ends,
            Optional<String> publishesAt,
            byte[] list,
            long listNumber,
            Instant listUntil,
            Instant madeAt) {}

    private final ColumnCipher cipher;

    public Authorities(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    private static final String INSERT = """
            insert into authority (id, name, certificate, sealed_key, key_kind, expires_at, publishes_at, revocation_list,
                                   revocation_list_number, revocation_list_expires_at, created_at)
            values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";

    public void insert(Tx tx, Authority a, Secret key) {
        tx.updateOne(
                INSERT,
                p -> p.id(a.id())
                        .text(a.name())
                        .bytes(a.certificate())
                        .bytes(cipher.seal(key, EncryptedColumn.AUTHORITY_KEY, a.id()))
                        .text(a.keyKind())
                        .instant(a.ends())
                        .text(a.publishesAt())
                        .bytes(a.list())
                        .number(a.listNumber())
                        .instant(a.listUntil())
                        .instant(a.madeAt()));
    }

    private static final String SELECT = """
            select id, name, certificate, key_kind, expires_at, publishes_at, revocation_list, revocation_list_number,
                   revocation_list_expires_at, created_at
            from authority\s""";

    public static List<Authority> all(Tx tx) {
        return tx.list(SELECT + "order by name", p -> p, Authorities::row);
    }

    public static Optional<Authority> byName(Tx tx, String name) {
        return tx.first(SELECT + "where name = ?", p -> p.text(name), Authorities::row);
    }

    /** Locked until the transaction ends, so that lists are signed one after the other. */
    public static Optional<Authority> locked(Tx tx, UUID id) {
        return tx.first(SELECT + "where id = ? for update", p -> p.id(id), Authorities::row);
    }

    public static Optional<Authority> byId(Tx tx, UUID id) {
        return tx.first(SELECT + "where id = ?", p -> p.id(id), Authorities::row);
    }

    private static final String KEY = "select sealed_key from authority where id = ?";

    public Secret key(Tx tx, UUID id) {
        return tx.first(
                        KEY,
                        p -> p.id(id),
                        row -> cipher.open(row.bytes("sealed_key"), EncryptedColumn.AUTHORITY_KEY, id))
                .orElseThrow();
    }

    private static final String LIST = """
            update authority
            set revocation_list = ?, revocation_list_number = ?, revocation_list_expires_at = ?
            where id = ?""";

    public static void list(Tx tx, UUID id, byte[] list, long number, Instant until) {
        tx.updateOne(LIST, p -> p.bytes(list).number(number).instant(until).id(id));
    }

    private static Authority row(Row row) {
        return new Authority(
                row.id("id"),
                row.text("name"),
                row.bytes("certificate"),
                row.text("key_kind"),
                row.instant("expires_at"),
                row.optionalText("publishes_at"),
                row.bytes("revocation_list"),
                row.number("revocation_list_number"),
                row.instant("revocation_list_expires_at"),
                row.instant("created_at"));
    }
}
