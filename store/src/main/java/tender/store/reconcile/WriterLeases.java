package tender.store.reconcile;

import java.time.Duration;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Tx;

/**
 * Who may write a gateway now, by the database's clock. The fence rises with every lease, so that a late writer is recognised
 * on the device too.
 */
public final class WriterLeases {
    private WriterLeases() {}

    private static final String ACQUIRE = """
            insert into gateway_writer as w (gateway_id, fence, holder, until)
            values (?, 1, ?, now() + ? * interval '1 millisecond')
            on conflict (gateway_id) do update
            set fence = w.fence + 1, holder = excluded.holder, until = excluded.until
            where w.until < now()
            returning fence""";

    /** The fence to write under; empty while anybody holds the gateway. */
    public static Optional<Long> acquire(Tx tx, UUID gatewayId, String holder, Duration lease) {
        return tx.first(
                ACQUIRE, p -> p.id(gatewayId).text(holder).number(lease.toMillis()), row -> row.number("fence"));
    }

    private static final String EXTEND = """
            update gateway_writer
            set until = now() + ? * interval '1 millisecond'
            where gateway_id = ? and fence = ?""";

    /** Keeps a lease; fails with a stale write when somebody else took over. */
    public static void extend(Tx tx, UUID gatewayId, long fence, Duration lease) {
        tx.updateOne(EXTEND, p -> p.number(lease.toMillis()).id(gatewayId).number(fence));
    }

    private static final String RELEASE =
            "update gateway_writer set until = '-infinity' where gateway_id = ? and fence = ?";

    /** Gives a lease back; one that somebody else took over stays theirs. */
    public static void release(Tx tx, UUID gatewayId, long fence) {
        tx.update(RELEASE, p -> p.id(gatewayId).number(fence));
    }

    private static final String LAPSE = "update gateway_writer set until = '-infinity' where holder = ?";

    /** Ends the leases that this node held when it was killed. */
    public static void lapse(Tx tx, String holder) {
        tx.update(LAPSE, p -> p.text(holder));
    }
}
