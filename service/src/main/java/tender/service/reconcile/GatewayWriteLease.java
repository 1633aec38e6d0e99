package tender.service.reconcile;

import java.time.Duration;
import java.util.UUID;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.service.job.NotNow;
import tender.store.jdbc.Db;
import tender.store.jdbc.StaleException;
import tender.store.jdbc.StoreException;
import tender.store.reconcile.WriterLeases;

/**
 * The right to write one gateway, over all nodes. It is renewed for as long as it is open, and given back when it is closed,
 * whatever happened in between; that of a node that died runs out.
 */
final class GatewayWriteLease implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(GatewayWriteLease.class);
    private static final Duration LEASE = Duration.ofSeconds(20);
    private static final Duration RENEW = Duration.ofSeconds(5);
    private static final Duration LOOK_AGAIN = Duration.ofSeconds(1);

    private final Db db;
    private final UUID gatewayId;
    private final long fence;
    private final ScheduledFuture<?> renewal;
    private volatile boolean lost;

    private GatewayWriteLease(Db db, UUID gatewayId, long fence, ScheduledExecutorService renewals) {
        this.db = db;
        this.gatewayId = gatewayId;
        this.fence = fence;
        this.renewal =
                renewals.scheduleWithFixedDelay(this::renew, RENEW.toMillis(), RENEW.toMillis(), TimeUnit.MILLISECONDS);
    }

    /** Takes the lease; says {@link NotNow} while anybody else holds it. */
    static GatewayWriteLease take(Db db, String node, UUID gatewayId, ScheduledExecutorService renewals) {
        long fence = db.inTransaction(tx -> WriterLeases.acquire(tx, gatewayId, node, LEASE))
                .orElseThrow(() -> new NotNow("another node is writing this gateway", LOOK_AGAIN));
        return new GatewayWriteLease(db, gatewayId, fence, renewals);
    }

    /** Rises with every lease of the gateway. */
    long fence() {
        return fence;
    }

    private void renew() {
        try {
            db.run(tx -> WriterLeases.extend(tx, gatewayId, fence, LEASE));
        } catch (StaleException e) {
            lost = true;
        } catch (StoreException e) {
            LOG.warn("the lease of gateway {} could not be renewed: {}", gatewayId, e.getMessage());
        }
    }

    /** Says {@link NotNow} where somebody took over meanwhile; asked right before anything is written. */
    void check() {
        renew();
        if (lost) {
            throw new NotNow("another node took over this gateway", LOOK_AGAIN);
        }
    }

    @Override
    public void close() {
        renewal.cancel(false);
        try {
            db.run(tx -> WriterLeases.release(tx, gatewayId, fence));
        } catch (StoreException e) {
            LOG.warn("the lease of gateway {} was not given back and runs out: {}", gatewayId, e.getMessage());
        }
    }
}
