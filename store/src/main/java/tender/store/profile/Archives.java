package tender.store.profile;

import java.util.UUID;
import tender.core.credential.Secret;
import tender.core.wire.Sha256;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
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

    /** A file or archive of client files, as somebody gave it. */
    public record Archive(UUID gatewayId, String name, byte[] content) {}

    /** Keeps one; the same one is kept once. */
    public void put(Tx tx, Archive archive, By by) {
        UUID id = Ids.next();
        byte[] sealed = cipher.seal(Secret.of(archive.content()), EncryptedColumn.ARCHIVE, id);
        tx.update(
                PUT,
                p -> p.id(id)
                        .id(archive.gatewayId())
                        .text(archive.name())
                        .text(Sha256.hex(archive.content()))
                        .bytes(sealed)
                        .text(by.actor())
                        .instant(by.at()));
    }
}
