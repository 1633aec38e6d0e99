package tender.service.trial;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.trial.Trials;

/**
 * Standing vantages that wait for a trial. Each waits once: a new call ends an earlier one of the same vantage. A waiting call
 * holds no thread; it is answered when a trial for that vantage is announced, or after a while with none.
 */
final class VantageWaits implements AutoCloseable {
    private static final Duration LONGEST = Duration.ofSeconds(20);
    private static final int MAX_WAITING = 16;
    private static final int AT_ONCE = 4;

    private final Db db;
    private final Function<UUID, Optional<Handed>> handed;
    private final Map<String, Waiting> waits = new ConcurrentHashMap<>();
    private final ExecutorService pool = Executors.newFixedThreadPool(AT_ONCE, task -> daemon(task, "vantage-task"));
    private final ScheduledExecutorService ends =
            Executors.newSingleThreadScheduledExecutor(task -> daemon(task, "vantage-end"));

    /** @param handed makes a trial's task from its id; may take as long as a gateway takes to let its canary in */
    VantageWaits(Db db, Function<UUID, Optional<Handed>> handed) {
        this.db = db;
        this.handed = handed;
    }

    private static Thread daemon(Runnable task, String name) {
        Thread thread = new Thread(task, name);
        thread.setDaemon(true);
        return thread;
    }

    /** The next task of a vantage, or nothing after a while. */
    CompletableFuture<Optional<Handed>> next(String name) {
        if (waits.size() >= MAX_WAITING && !waits.containsKey(name)) {
            throw Refused.retry(Refused.Kind.BUSY, "too many vantages wait at once", (int) LONGEST.toSeconds());
        }
        Waiting mine = new Waiting(name);
        Waiting earlier = waits.put(name, mine);
        if (earlier != null) {
            ends.execute(earlier::end);
        }
        ends.schedule(mine::end, LONGEST.toMillis(), TimeUnit.MILLISECONDS);
        look(name); // for one that was announced before
        return mine.task;
    }

    /** Looks whether a trial waits for this vantage; returns at once. */
    void look(String name) {
        Waiting waiting = waits.get(name);
        if (waiting != null) {
            try {
                pool.execute(waiting::take);
            } catch (RejectedExecutionException e) {
                waiting.end(); // the service stops
            }
        }
    }

    void lookAll() {
        List.copyOf(waits.keySet()).forEach(this::look);
    }

    /** One waiting call. Taking and ending exclude each other, so that no trial is taken for a call that has ended. */
    private final class Waiting {
        private final String name;
        private final CompletableFuture<Optional<Handed>> task = new CompletableFuture<>();

        Waiting(String name) {
            this.name = name;
        }

        synchronized void take() {
            if (task.isDone()) {
                return;
            }
            try {
                Optional<UUID> trial = db.inTransaction(tx -> Trials.takeFor(tx, name));
                if (trial.isPresent()) {
                    waits.remove(name, this);
                    task.complete(handed.apply(trial.get()));
                }
            } catch (RuntimeException e) {
                waits.remove(name, this);
                task.completeExceptionally(e);
            }
        }

        synchronized void end() {
            waits.remove(name, this);
            task.complete(Optional.empty());
        }
    }

    @Override
    public void close() {
        pool.shutdown();
        ends.shutdownNow();
        List.copyOf(waits.values()).forEach(Waiting::end);
    }
}
