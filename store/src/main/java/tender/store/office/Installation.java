package tender.store.office;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.secret.ColumnCipher;
import tender.store.secret.EncryptedColumn;

/** The installation's own id, made once. */
public final class Installation {
    private Installation() {}

    private static final String MAKE = """
            insert into installation (id, created_at)
            select ?, ?
            where not exists (select 1 from installation)""";
    private static final String GET = "select id from installation order by created_at limit 1";

    public static UUID id(Tx tx, Instant now) {
        tx.update(MAKE, p -> p.id(Ids.next()).instant(now));
        return tx.first(GET, p -> p, row -> row.id("id")).orElseThrow();
    }

    private static final String CHECK = "select key_check from installation where id = ?";
    private static final String SET_CHECK = "update installation set key_check = ? where id = ?";

    /** Fails when the database's secrets were encrypted under a master key that is not at hand. */
    public static void checkKey(Tx tx, UUID id, ColumnCipher cipher) {
        byte[] stored =
                tx.list(CHECK, p -> p.id(id), row -> row.bytes("key_check")).get(0);
        if (stored == null) {
            tx.updateOne(
                    SET_CHECK,
                    p -> p.bytes(cipher.seal(Secret.of("tender"), EncryptedColumn.KEY_CHECK, id))
                            .id(id));
        } else {
            cipher.open(stored, EncryptedColumn.KEY_CHECK, id);
        }
    }

    private static final String JOURNAL_KEY = "select journal_key from installation where id = ?";
    private static final String SET_JOURNAL_KEY =
            "update installation set journal_key = ?, journal_keyed_from = ?, journal_anchor = ? where id = ?";

    /** The key of the journal's chain, made where there is none yet; what stands in the journal already is bound to it. */
    public static Secret journalKey(Tx tx, UUID id, ColumnCipher cipher, SecureRandom random) {
        Journal.lock(tx);
        byte[] stored = tx.list(JOURNAL_KEY, p -> p.id(id), row -> row.bytes("journal_key"))
                .get(0);
        if (stored != null) {
            return cipher.open(stored, EncryptedColumn.JOURNAL_KEY, id);
        }
        byte[] bytes = new byte[32];
        random.nextBytes(bytes);
        Secret key = Secret.of(bytes);
        Journal.Head head = Journal.head(tx);
        tx.updateOne(
                SET_JOURNAL_KEY,
                p -> p.bytes(cipher.seal(key, EncryptedColumn.JOURNAL_KEY, id))
                        .number(head.number())
                        .text(Journal.anchor(key, head))
                        .id(id));
        return key;
    }

    private static final String SIGNER_KEY = "select signer_key from installation where id = ? for update";
    private static final String SET_SIGNER_KEY = "update installation set signer_key = ? where id = ?";

    /** The private key that signs provisioning files, 32 bytes; made where there is none yet. */
    public static Secret signerKey(Tx tx, UUID id, ColumnCipher cipher, SecureRandom random) {
        byte[] stored = tx.list(SIGNER_KEY, p -> p.id(id), row -> row.bytes("signer_key"))
                .get(0);
        if (stored != null) {
            return cipher.open(stored, EncryptedColumn.SIGNER_KEY, id);
        }
        byte[] bytes = new byte[32];
        random.nextBytes(bytes);
        Secret key = Secret.of(bytes);
        tx.updateOne(
                SET_SIGNER_KEY,
                p -> p.bytes(cipher.seal(key, EncryptedColumn.SIGNER_KEY, id)).id(id));
        return key;
    }
}
