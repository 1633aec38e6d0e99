package tender.store.office;

import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Tx;

/** Who may write a gateway now. The fence rises with every holder, so that a late one is recognised on the device too. */
public final class Writers {
    private Writers() {}

    private static final String ACQUIRE = """
            insert into gateway_writer as w (gateway_id, fence, holder, until)
            values (?, 1, ?, ?)
            on conflict (gateway_id) do update
            set fence = w.fence + 1, holder = excluded.holder, until = excluded.until
            where w.until < ? or w.holder = excluded.holder
            returning fence""";

    /** The fence to write under; empty while another node holds the gateway. */
    public static Optional<Long> acquire(Tx tx, UUID gatewayId, String holder, Instant now, Instant until) {
        return tx.first(
                ACQUIRE, p -> p.id(gatewayId).text(holder).instant(until).instant(now), row -> row.number("fence"));
    }

    private static final String HOLD = """
            update gateway_writer
            set until = ?
            where gateway_id = ? and fence = ?""";

    /** Fails with a stale write when somebody else took over. */
    public static void hold(Tx tx, UUID gatewayId, long fence, Instant until) {
        tx.updateOne(HOLD, p -> p.instant(until).id(gatewayId).number(fence));
    }
}
