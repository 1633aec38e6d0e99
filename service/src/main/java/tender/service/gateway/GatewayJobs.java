package tender.service.gateway;

import java.util.UUID;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;

/** Time-taking work on a gateway: reading it, and bringing it to what the records want. One at a time for each gateway. */
public final class GatewayJobs {
    public static final String READ = "gateway-read";
    public static final String RECONCILE = "gateway-reconcile";
    public static final String SYNC = "gateway-sync";

    private GatewayJobs() {}

    /** Reads a gateway; jobs of one gateway follow each other. */
    public static Jobs.Order read(UUID gatewayId) {
        return Jobs.Order.once(READ, gatewayId.toString(), "gateway:" + gatewayId);
    }

    /** Orders that all that is due at a gateway is written; one order that waits is enough for all. Gives the job. */
    public static UUID reconcile(Tx tx, UUID gatewayId) {
        return Jobs.join(tx, Jobs.Order.once(RECONCILE, gatewayId.toString(), "gateway:" + gatewayId));
    }

    /** Brings everybody who is let in at a gateway to what the records say. */
    public static Jobs.Order sync(UUID gatewayId) {
        return Jobs.Order.once(SYNC, gatewayId.toString(), "gateway:" + gatewayId);
    }
}
