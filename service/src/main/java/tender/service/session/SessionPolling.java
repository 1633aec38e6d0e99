package tender.service.session;

import java.time.Duration;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.session.PollShares;

/**
 * Asks this node's share of the gateways, again and again, who is connected. A gateway that takes long keeps one thread busy
 * and is not asked a second time meanwhile; the others are asked on time as long as threads are free.
 */
final class SessionPolling implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(SessionPolling.class);
    private static final Duration LEASE = Duration.ofSeconds(20);
    private static final Duration RENEW = Duration.ofSeconds(5);

    private final Db db;
    private final String node;
    private final Watch watch;
    private final Duration every;
    private final ExecutorService pool;
    private final Set<UUID> asking = ConcurrentHashMap.newKeySet();
    private final Thread thread = new Thread(this::run, "session-polling");
    private volatile boolean closed;

    /** @param every from one question to a gateway to the next */
    SessionPolling(Db db, String node, Watch watch, Duration every, int threads) {
        this.db = db;
        this.node = node;
        this.watch = watch;
        this.every = every;
        this.pool = Executors.newFixedThreadPool(threads, task -> new Thread(task, "session-poll"));
        thread.setDaemon(true);
    }

    void start() {
        thread.start();
    }

    private void run() {
        Set<Integer> shares = Set.of();
        long renewAt = System.nanoTime();
        while (!closed) {
            try {
                if (System.nanoTime() - renewAt >= 0) {
                    shares = PollShares.hold(db, node, LEASE);
                    renewAt = System.nanoTime() + RENEW.toNanos();
                }
                Set<Integer> mine = shares;
                db.inTransaction(tx -> PollShares.gateways(tx, mine)).forEach(this::ask);
            } catch (StoreException e) {
                LOG.warn("who is connected cannot be asked: {}", e.getMessage());
            }
            try {
                TimeUnit.MILLISECONDS.sleep(every.toMillis());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    private void ask(UUID gatewayId) {
        if (asking.add(gatewayId)) {
            pool.execute(() -> {
                try {
                    watch.poll(gatewayId);
                } catch (RuntimeException e) {
                    LOG.warn("gateway {} was not asked who is connected: {}", gatewayId, e.getMessage());
                } finally {
                    asking.remove(gatewayId);
                }
            });
        }
    }

    @Override
    public void close() {
        closed = true;
        thread.interrupt();
        pool.shutdownNow();
        try {
            thread.join(Duration.ofSeconds(5).toMillis());
            if (!pool.awaitTermination(5, TimeUnit.SECONDS)) {
                LOG.warn("a gateway is still being asked");
            }
            db.run(tx -> PollShares.release(tx, node));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (StoreException e) {
            LOG.warn("shares were not given back: {}", e.getMessage());
        }
    }
}
