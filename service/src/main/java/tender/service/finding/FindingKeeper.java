package tender.service.finding;

import java.time.Duration;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.store.event.Events;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.job.Duties;

/**
 * Keeps the table of findings. One node at a time has the duty: it hears what has changed, judges what depends on that, and
 * writes what differs. Everything is judged again when a node takes the duty, and now and then, because time passes too.
 *
 * <p>Whoever reads findings can ask for those of everything that was committed before: the question goes the same way as the
 * news, behind it, and is answered when all of that is judged.
 */
final class FindingKeeper implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(FindingKeeper.class);
    private static final String DUTY = "findings";
    private static final Duration LEASE = Duration.ofSeconds(15);
    private static final Duration RENEW = Duration.ofSeconds(5);
    /** Judging takes a quarter of a core at most: after one that took long, news is gathered for longer. */
    private static final int REST = 3;

    private static final Duration SETTLE = Duration.ofMillis(200);
    private static final Duration LONGEST_SETTLE = Duration.ofMillis(700);
    private static final Duration EVERYTHING_EACH = Duration.ofMinutes(10);
    /** While another node judges, which may have died a moment ago. */
    private static final Duration READERS_WAIT = Duration.ofSeconds(1);

    private static final Duration READERS_WAIT_HERE = Duration.ofSeconds(5);

    private final Db db;
    private final String node;
    private final Judging judging;
    private final Changed changed = new Changed();
    private final Map<String, CompletableFuture<Void>> readers = new ConcurrentHashMap<>();
    private final Thread thread = new Thread(this::run, "findings");
    private volatile boolean closed;
    private volatile boolean mine;
    private Duration settle = SETTLE;

    FindingKeeper(Db db, String node, Judging judging) {
        this.db = db;
        this.node = node;
        this.judging = judging;
        thread.setDaemon(true);
    }

    void start() {
        thread.start();
    }

    /** Hears all news of all nodes, on the listening thread. */
    void heard(String topic, String id) {
        if (topic.equals(KeptFindings.JUDGED)) {
            CompletableFuture<Void> reader = readers.remove(id);
            if (reader != null) {
                reader.complete(null);
            }
        } else {
            changed.heard(topic, id);
        }
    }

    /**
     * Comes back when everything that was committed before is judged, but after some seconds at the latest: then what was
     * judged last has to do.
     */
    void upToDate() {
        await(ask());
    }

    /** Somebody who wants to read what is judged then; they may do something else meanwhile. */
    record Asked(String id, CompletableFuture<Void> judged) {}

    /** Asks that everything that was committed before be judged; to be awaited. */
    Asked ask() {
        Asked asked = new Asked(UUID.randomUUID().toString(), new CompletableFuture<>());
        readers.put(asked.id(), asked.judged());
        db.run(tx -> Events.say(tx, KeptFindings.WANTED, asked.id()));
        return asked;
    }

    void await(Asked asked) {
        try {
            Duration longest = mine ? READERS_WAIT_HERE : READERS_WAIT;
            asked.judged().get(longest.toMillis(), TimeUnit.MILLISECONDS);
        } catch (TimeoutException | ExecutionException e) {
            LOG.debug("findings are read as they were judged last");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } finally {
            readers.remove(asked.id());
        }
    }

    private void run() {
        long renewAt = System.nanoTime();
        long everythingAt = renewAt;
        while (!closed) {
            try {
                if (System.nanoTime() >= renewAt) {
                    boolean before = mine;
                    mine = db.inTransaction(tx -> Duties.hold(tx, DUTY, node, LEASE));
                    renewAt = System.nanoTime() + RENEW.toNanos();
                    if (mine && (!before || System.nanoTime() >= everythingAt)) {
                        changed.everything();
                        everythingAt = System.nanoTime() + EVERYTHING_EACH.toNanos();
                    }
                }
                Changed.News news = changed.await(RENEW, settle);
                if (mine && !news.isEmpty()) {
                    judge(news);
                }
            } catch (StoreException e) {
                LOG.warn("findings cannot be judged now: {}", e.getMessage());
                changed.everything();
                changed.rest(RENEW);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    private void judge(Changed.News news) {
        long began = System.nanoTime();
        boolean differs = judging.judge(news);
        Duration rest = Duration.ofNanos(System.nanoTime() - began).multipliedBy(REST);
        settle = rest.compareTo(SETTLE) < 0 ? SETTLE : rest.compareTo(LONGEST_SETTLE) > 0 ? LONGEST_SETTLE : rest;
        if (differs || !news.wanted().isEmpty()) {
            db.run(tx -> {
                if (differs) {
                    Events.say(tx, "finding", "-");
                }
                news.wanted().forEach(id -> Events.say(tx, KeptFindings.JUDGED, id));
            });
        }
    }

    @Override
    public void close() {
        closed = true;
        thread.interrupt();
        try {
            thread.join(Duration.ofSeconds(5).toMillis());
            db.run(tx -> Duties.release(tx, DUTY, node));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (StoreException e) {
            LOG.warn("the duty of findings was not given back: {}", e.getMessage());
        }
    }
}
