package tender.store.operator;

import java.time.Instant;
import tender.store.jdbc.Tx;

/** Failed attempts by subject (an account, a source, a link), counted over all nodes. */
public final class Attempts {
    private Attempts() {}

    private static final String ADD = "insert into attempt (subject, at) values (?, ?)";

    public static void add(Tx tx, String subject, Instant now) {
        tx.updateOne(ADD, p -> p.text(subject).instant(now));
    }

    private static final String COUNT = "select count(*) as n from attempt where subject = ? and at > ?";

    public static long since(Tx tx, String subject, Instant since) {
        return tx.first(COUNT, p -> p.text(subject).instant(since), row -> row.number("n"))
                .orElse(0L);
    }

    private static final String PURGE = "delete from attempt where at < ?";

    public static void purge(Tx tx, Instant before) {
        tx.update(PURGE, p -> p.instant(before));
    }
}
