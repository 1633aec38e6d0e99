package tender.service.job;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.job.JobState;
import tender.store.job.Jobs;

/**
 * Lets others hear when a job has ended, on whatever node it runs. Nobody's thread is held: events bring the news, and all that
 * is waited for is looked at together once a second, should an event be lost.
 */
public final class JobWaits implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(JobWaits.class);
    private static final Duration LOOK = Duration.ofSeconds(1);

    private final Db db;
    private final Map<UUID, CompletableFuture<Jobs.Job>> waiting = new ConcurrentHashMap<>();
    private final ScheduledExecutorService looking = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "job-waits");
        thread.setDaemon(true);
        return thread;
    });

    public JobWaits(Db db) {
        this.db = db;
        looking.scheduleWithFixedDelay(
                () -> look(List.copyOf(waiting.keySet())), LOOK.toMillis(), LOOK.toMillis(), TimeUnit.MILLISECONDS);
    }

    /**
     * The job as it is when it has ended, or when an attempt has failed and another is still to come; its note says why then.
     *
     * @param longest after this it is given as it is, not ended
     */
    public CompletableFuture<Jobs.Job> ended(UUID jobId, Duration longest) {
        CompletableFuture<Jobs.Job> all = waiting.computeIfAbsent(jobId, id -> new CompletableFuture<>());
        CompletableFuture<Jobs.Job> mine = all.copy();
        heard(jobId.toString());
        return mine.completeOnTimeout(null, longest.toMillis(), TimeUnit.MILLISECONDS)
                .thenApply(job -> job != null
                        ? job
                        : db.inTransaction(tx -> Jobs.byId(tx, jobId)).orElseThrow());
    }

    /** A job has changed. */
    public void heard(String jobId) {
        UUID id = UUID.fromString(jobId);
        if (waiting.containsKey(id)) {
            try {
                looking.execute(() -> look(List.of(id)));
            } catch (RejectedExecutionException e) {
                LOG.debug("the service stops");
            }
        }
    }

    private void look(List<UUID> ids) {
        if (ids.isEmpty()) {
            return;
        }
        try {
            for (Jobs.Job job : db.inTransaction(tx -> Jobs.these(tx, ids))) {
                if (isOver(job)) {
                    Optional.ofNullable(waiting.remove(job.id())).ifPresent(f -> f.completeAsync(() -> job));
                }
            }
        } catch (StoreException e) {
            LOG.warn("jobs cannot be looked at: {}", e.getMessage());
        }
    }

    /** Whether a job's news is worth telling: it has ended, or an attempt of it has failed. */
    private static boolean isOver(Jobs.Job job) {
        boolean retried = job.state() == JobState.WAITING
                && job.attempts() > 0
                && !job.note().isEmpty();
        return retried || !job.state().isOpen();
    }

    @Override
    public void close() {
        looking.shutdownNow();
        waiting.values().forEach(f -> f.cancel(false));
    }
}
