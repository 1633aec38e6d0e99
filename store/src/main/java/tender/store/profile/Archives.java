package tender.store.profile;

import java.time.Instant;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** Archives of client files as gateways gave them, byte for byte and sealed, since they hold keys. */
public final class Archives {
    private static final String PUT = """
            insert into imported_archive (id, gateway_id, name, digest, content, imported_by, gathered_at)
            values (?, ?, ?, ?, ?, ?, ?)
            on conflict (gateway_id, digest) do nothing""";

    private final ColumnCipher cipher;

    public Archives(ColumnCipher cipher) {
        this.cipher = cipher;
    }

    /** Keeps one; the same one is kept once. */
    public void put(Tx tx, UUID gatewayId, String name, String digest, byte[] content, String by, Instant now) {
        UUID id = Ids.next();
        byte[] sealed = cipher.seal(Secret.of(content), EncryptedColumn.ARCHIVE, id);
        tx.update(
                PUT,
                p -> p.id(id)
                        .id(gatewayId)
                        .text(name)
                        .text(digest)
                        .bytes(sealed)
                        .text(by)
                        .instant(now));
    }
}
