package tender.store.secret;

import java.util.Arrays;
import java.util.List;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.credential.Secret;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;

/** Encrypts values anew under the newest key, batch by batch, while others read and write them. */
public final class Reencryption {
    /** Rows of one transaction; few, because a backup can have megabytes. */
    private static final int BATCH = 50;

    private final Db db;
    private final ColumnCipher cipher;

    public Reencryption(Db db, ColumnCipher cipher) {
        this.db = db;
        this.cipher = cipher;
    }

    private record Stored(String row, byte[] value) {}

    /** How far a pass over a column is: the last row that was looked at, and how many values were encrypted anew. */
    public record Batch(String last, int values) {}

    /**
     * Encrypts one batch of a column anew. Rows that somebody is writing just now are left for a later pass.
     *
     * @param after the last row of the batch before; {@link EncryptedColumn#first} at the beginning
     */
    public Batch batch(EncryptedColumn c, String after) {
        byte[] prefix = ColumnCipher.prefix(cipher.newest());
        String select = "select (" + c.row() + ")::text as row, " + c.column() + " as value from " + c.table()
                + " where "
                + c.row() + " > " + c.parameter() + " and " + another(c, prefix) + " order by " + c.row() + " limit "
                + BATCH + " for update skip locked";
        String update = "update " + c.table() + " set " + c.column() + " = ? where " + c.row() + " = " + c.parameter();
        return db.inTransaction(tx -> {
            List<Stored> found = tx.list(
                    select, p -> p.text(after).bytes(prefix), row -> new Stored(row.text("row"), row.bytes("value")));
            for (Stored s : found) {
                byte[] anew = cipher.seal(cipher.open(s.value(), c, s.row()), c, s.row());
                tx.later(update, p -> p.bytes(anew).text(s.row()));
            }
            return new Batch(
                    found.isEmpty() ? after : found.get(found.size() - 1).row(), found.size());
        });
    }

    /** SQL for a value that another key than the newest encrypted; one parameter, how those of the newest begin. */
    private static String another(EncryptedColumn c, byte[] prefix) {
        return c.column() + " is not null and substring(" + c.column() + " from 1 for " + prefix.length + ") <> ?";
    }

    /** How many values all columns have that another key than the newest encrypted. */
    public long left(Tx tx) {
        byte[] prefix = ColumnCipher.prefix(cipher.newest());
        long sum = 0;
        for (EncryptedColumn c : EncryptedColumn.values()) {
            sum += tx.first(
                            "select count(*) as n from " + c.table() + " where " + another(c, prefix),
                            p -> p.bytes(prefix),
                            row -> row.number("n"))
                    .orElse(0L);
        }
        return sum;
    }

    private static final String LOCK_TIMEOUT = "set local lock_timeout = '3s'";

    /** Waits until nobody is writing any of the tables, and lets nobody begin until the transaction ends. */
    public void quiet(Tx tx) {
        tx.update(LOCK_TIMEOUT, p -> p);
        tx.update(
                "lock table "
                        + Arrays.stream(EncryptedColumn.values())
                                .map(EncryptedColumn::table)
                                .distinct()
                                .sorted()
                                .collect(Collectors.joining(", "))
                        + " in share mode",
                p -> p);
    }

    private static final String PLACE = "master key rotation ";

    /** A new key, encrypted under the one before, to be told to other nodes by the database. */
    public byte[] wrap(MasterKey fresh, UUID rotation) {
        return cipher.sealAt(Secret.of(fresh.bytes()), PLACE + rotation);
    }

    public MasterKey unwrap(String keyId, byte[] wrapped, UUID rotation) {
        return new MasterKey(keyId, cipher.openAt(wrapped, PLACE + rotation));
    }
}
