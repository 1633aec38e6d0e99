package tender.service.job;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.service.http.Problems;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.job.Jobs;

/**
 * Takes due jobs and runs them on a bounded number of threads. One thread of its own looks for work when a job was added,
 * when one ended, and when the next is due; another keeps this node's leases alive.
 */
public final class JobRunner implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(JobRunner.class);
    private static final Duration LEASE = Duration.ofSeconds(20);
    private static final Duration HEARTBEAT = Duration.ofSeconds(5);
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(1);
    private static final Duration FIRST_RETRY = Duration.ofSeconds(1);

    private final Db db;
    private final Clock clock;
    private final String node;
    private final Map<String, JobKind> kinds;
    private final int workers;
    private final ExecutorService pool;
    private final Semaphore free;
    private final Semaphore signal = new Semaphore(0);
    private final Thread dispatcher = new Thread(this::dispatch, "jobs");
    private final Thread heart = new Thread(this::beat, "job-leases");
    private volatile boolean closed;

    public JobRunner(Db db, Clock clock, String node, List<JobKind> kinds, int workers) {
        this.db = db;
        this.clock = clock;
        this.node = node;
        this.kinds = kinds.stream().collect(Collectors.toMap(JobKind::name, Function.identity()));
        this.workers = workers;
        this.pool = Executors.newFixedThreadPool(workers, task -> new Thread(task, "job"));
        this.free = new Semaphore(workers);
    }

    public void start() {
        int released = db.inTransaction(tx -> Jobs.release(tx, node));
        if (released > 0) {
            LOG.info("{} jobs of an earlier run go on", released);
        }
        dispatcher.setDaemon(true);
        heart.setDaemon(true);
        dispatcher.start();
        heart.start();
    }

    /** Look for work now. */
    public void wake() {
        signal.release();
    }

    private void dispatch() {
        while (!closed) {
            try {
                free.acquire();
                Optional<Jobs.Job> job = lease();
                if (job.isPresent()) {
                    pool.execute(() -> runThenFree(job.get()));
                } else {
                    free.release();
                    signal.tryAcquire(untilNext().toMillis(), TimeUnit.MILLISECONDS);
                    signal.drainPermits();
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    private Optional<Jobs.Job> lease() {
        try {
            return Jobs.lease(db, node, clock.instant(), LEASE);
        } catch (StoreException e) {
            LOG.warn("no work can be taken: {}", e.getMessage());
            return Optional.empty();
        }
    }

    private Duration untilNext() {
        try {
            Duration wait = db.inTransaction(Jobs::nextDue)
                    .map(due -> Duration.between(clock.instant(), due))
                    .orElse(LONGEST_WAIT);
            return wait.isNegative()
                    ? Duration.ofMillis(20)
                    : wait.compareTo(LONGEST_WAIT) > 0 ? LONGEST_WAIT : wait.plusMillis(1);
        } catch (StoreException e) {
            return LONGEST_WAIT;
        }
    }

    private void runThenFree(Jobs.Job job) {
        try {
            run(job);
        } catch (StoreException e) {
            LOG.warn("job {} could not be ended: {}; its lease will run out", job.kind(), e.getMessage());
        } finally {
            free.release();
            wake();
        }
    }

    private void run(Jobs.Job job) {
        JobKind kind = kinds.get(job.kind());
        try {
            if (kind == null) {
                throw new IllegalStateException("no work of kind " + job.kind() + " is known here");
            }
            kind.run(job, progress(job));
            finish(job, "done", "");
        } catch (RuntimeException e) {
            failed(job, kind, e);
        }
    }

    private void failed(Jobs.Job job, JobKind kind, RuntimeException e) {
        String why = Problems.problem(e, "job " + job.kind()).detail();
        if (job.attempts() >= job.maxAttempts()) {
            if (kind != null && job.everyMillis().isEmpty()) {
                kind.gaveUp(job, why);
            }
            finish(job, "failed", why);
        } else {
            Duration wait = FIRST_RETRY.multipliedBy(1L << Math.min(job.attempts() - 1, 6));
            Instant at = clock.instant().plus(wait);
            db.run(tx -> {
                Jobs.retry(tx, job.id(), node, why, at);
                Events.say(tx, "job", job.id().toString());
            });
        }
    }

    private void finish(Jobs.Job job, String state, String note) {
        db.run(tx -> {
            Jobs.finish(tx, job.id(), node, state, note, clock.instant());
            if (job.everyMillis().isEmpty()) {
                Events.say(tx, "job", job.id().toString());
            }
        });
    }

    private JobKind.Progress progress(Jobs.Job job) {
        return new JobKind.Progress() {
            @Override
            public void at(int percent, String note) {
                db.run(tx -> {
                    Jobs.progress(tx, job.id(), node, percent, note);
                    Events.say(tx, "job", job.id().toString());
                });
            }

            @Override
            public boolean cancelWanted() {
                return db.inTransaction(tx -> Jobs.byId(tx, job.id()))
                        .filter(Jobs.Job::cancelWanted)
                        .isPresent();
            }
        };
    }

    private void beat() {
        while (!closed) {
            try {
                if (free.availablePermits() < workers) {
                    db.run(tx -> Jobs.extend(tx, node, clock.instant().plus(LEASE)));
                }
                db.run(tx -> Jobs.reap(tx, clock.instant()));
            } catch (StoreException e) {
                LOG.warn("leases could not be kept: {}", e.getMessage());
            }
            try {
                TimeUnit.MILLISECONDS.sleep(HEARTBEAT.toMillis());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    @Override
    public void close() {
        closed = true;
        dispatcher.interrupt();
        heart.interrupt();
        pool.shutdown();
        try {
            if (!pool.awaitTermination(5, TimeUnit.SECONDS)) {
                pool.shutdownNow();
            }
            db.run(tx -> Jobs.release(tx, node));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (StoreException e) {
            LOG.warn("jobs were not given back: {}", e.getMessage());
        }
    }
}
