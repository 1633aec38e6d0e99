package tender.store.secret;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.core.credential.Secret;
import tender.store.jdbc.Db;
import tender.store.testing.TestDatabase;

/** The one list of encrypted columns, held against the database. */
class EncryptedColumnsTest {
    /** Bytes that are no secret, or are encrypted under something else than the master key. */
    private static final Set<String> OTHER_BYTES = Set.of(
            "authority.certificate",
            "authority.revocation_list",
            "certificate.certificate",
            "delivery.sealed", // to the device's own key
            "device_description.content",
            "enrolment.sealing_key", // public, as the one below
            "enrolment.signing_key",
            "handout.parcel", // under the passphrase that the person was told
            "handout.salt",
            "key_rotation.wrapped"); // under the key before, and deleted when the rotation ends

    private static final MasterKey OLD = MasterKey.parse("k1:" + "11".repeat(32));
    private static final MasterKey NEW = MasterKey.parse("k2:" + "22".repeat(32));

    private TestDatabase database;
    private Db db;

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
    }

    @AfterEach
    void close() {
        db.close();
        database.close();
    }

    @Test
    void everyColumnOfBytesIsKnown() {
        List<String> found = db.inTransaction(tx -> tx.list(
                "select table_name || '.' || column_name as name from information_schema.columns"
                        + " where table_schema = 'public' and data_type = 'bytea'",
                p -> p,
                row -> row.text("name")));
        Set<String> bytes = new TreeSet<>(found);
        Set<String> known = Arrays.stream(EncryptedColumn.values())
                .map(c -> c.table() + "." + c.column())
                .collect(Collectors.toCollection(TreeSet::new));
        known.addAll(OTHER_BYTES);

        assertThat(bytes).isEqualTo(known);
    }

    private void insert(ColumnCipher cipher, int n) {
        db.run(tx -> {
            for (int i = 0; i < n; i++) {
                UUID id = UUID.randomUUID();
                tx.later(
                        "insert into credential (id, kind, purpose, secret, custody, state, created_at)"
                                + " values (?, 'X', '', ?, 'HELD', 'CREATED', now())",
                        p -> p.id(id).bytes(cipher.seal(Secret.of("of " + id), EncryptedColumn.CREDENTIAL, id)));
            }
        });
    }

    @Test
    void aPassEncryptsEveryValueAnewInBatchesAndLeavesTheRestAlone() {
        insert(new ColumnCipher(List.of(OLD)), 120);
        ColumnCipher both = new ColumnCipher(List.of(OLD, NEW));
        insert(both, 30);
        Reencryption work = new Reencryption(db, both);
        assertThat(db.<Long>inTransaction(work::left)).isEqualTo(120);

        int done = 0;
        int batches = 0;
        Reencryption.Batch batch = work.batch(EncryptedColumn.CREDENTIAL, EncryptedColumn.CREDENTIAL.first());
        while (batch.values() > 0) {
            done += batch.values();
            batches++;
            batch = work.batch(EncryptedColumn.CREDENTIAL, batch.last());
        }

        assertThat(done).isEqualTo(120);
        assertThat(batches).isEqualTo(3);
        assertThat(db.<Long>inTransaction(work::left)).isZero();
        ColumnCipher fresh = new ColumnCipher(List.of(NEW));
        db.run(tx -> tx.list("select id, secret from credential", p -> p, row -> {
            assertThat(fresh.open(row.bytes("secret"), EncryptedColumn.CREDENTIAL, row.id("id")))
                    .isEqualTo(Secret.of("of " + row.id("id")));
            return true;
        }));
    }

    @Test
    void everyColumnCanBeWalkedAndLocked() {
        Reencryption work = new Reencryption(db, new ColumnCipher(List.of(OLD, NEW)));
        for (EncryptedColumn c : EncryptedColumn.values()) {
            assertThat(work.batch(c, c.first()).values()).as(c.name()).isZero();
        }
        db.run(work::quiet);
    }

    @Test
    void aNewKeyIsToldUnderTheOldOneAlone() {
        UUID rotation = UUID.randomUUID();
        byte[] wrapped = new Reencryption(db, new ColumnCipher(List.of(OLD))).wrap(NEW, rotation);
        assertThat(new Reencryption(db, new ColumnCipher(List.of(OLD))).unwrap("k2", wrapped, rotation))
                .isEqualTo(NEW);
        ColumnCipher cipher = new ColumnCipher(List.of(OLD));
        byte[] value = new ColumnCipher(List.of(NEW)).seal(Secret.of("x"), EncryptedColumn.BACKUP, 1);
        cipher.whenUnknown(() -> cipher.add(NEW));
        assertThat(cipher.open(value, EncryptedColumn.BACKUP, 1)).isEqualTo(Secret.of("x"));
        assertThat(cipher.newest()).isEqualTo("k2");
        cipher.dropOthers();
        assertThat(cipher.ids()).containsExactly("k2");
    }
}
