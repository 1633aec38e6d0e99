package tender.service.job;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
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
import tender.service.metrics.Metrics;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.job.JobState;
import tender.store.job.Jobs;

/**
 * Takes due jobs and runs them, each lane on a bounded number of threads of its own. One thread per lane looks for work when
 * a job was added, when one ended, and when the next is due; another keeps this node's leases alive. Only kinds that this
 * node knows are taken, so that a node of another release does not use up their attempts.
 */
public final class JobRunner implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(JobRunner.class);
    private static final Duration LEASE = Duration.ofSeconds(20);
    private static final Duration HEARTBEAT = Duration.ofSeconds(5);
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(1);
    private static final Duration FIRST_RETRY = Duration.ofSeconds(1);

    private final Db db;
    private final String node;
    private final Map<String, JobKind> kinds;
    private final int workers;
    private final Wording wording;
    private final Metrics metrics;
    private final List<LaneRunner> lanes;
    private final Thread heart = new Thread(this::beat, "job-leases");
    private volatile boolean closed;

    /** Puts what a job threw into words. */
    @FunctionalInterface
    public interface Wording {
        Said of(RuntimeException e, String where);
    }

    /** @param code stable, such as {@code gateway-unreachable}; kept with the job, as the words are */
    public record Said(String code, String words) {}

    /** @param workers jobs of each lane that run at once */
    public JobRunner(Db db, String node, List<JobKind> kinds, int workers, Wording wording, Metrics metrics) {
        this.db = db;
        this.wording = wording;
        this.metrics = metrics;
        this.node = node;
        this.kinds = kinds.stream().collect(Collectors.toMap(JobKind::name, Function.identity()));
        this.workers = workers;
        this.lanes = Arrays.stream(Lane.values()).map(LaneRunner::new).toList();
    }

    /** Begins to take work; work that this node left behind goes on. */
    public void start() {
        int lapsed = db.inTransaction(tx -> Jobs.lapse(tx, node));
        if (lapsed > 0) {
            LOG.info("{} jobs of an earlier run go on", lapsed);
            db.run(Jobs::reap);
        }
        lanes.forEach(LaneRunner::start);
        heart.setDaemon(true);
        heart.start();
    }

    /** Look for work now. */
    public void wake() {
        lanes.forEach(LaneRunner::wake);
    }

    /** One lane: its kinds, its threads, and the thread that finds work for them. */
    private final class LaneRunner {
        private final List<String> names;
        private final ExecutorService pool;
        private final Semaphore free;
        private final Semaphore signal = new Semaphore(0);
        private final Thread dispatcher;

        LaneRunner(Lane lane) {
            String name = "job-" + lane.name().toLowerCase(Locale.ROOT);
            this.names = kinds.values().stream()
                    .filter(k -> k.lane() == lane)
                    .map(JobKind::name)
                    .toList();
            this.pool = Executors.newFixedThreadPool(workers, task -> new Thread(task, name));
            this.free = new Semaphore(workers);
            this.dispatcher = new Thread(this::dispatch, name + "-finder");
            dispatcher.setDaemon(true);
        }

        void start() {
            dispatcher.start();
        }

        void wake() {
            signal.release();
        }

        boolean isBusy() {
            return free.availablePermits() < workers;
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
                return Jobs.lease(db, node, names, LEASE);
            } catch (StoreException e) {
                LOG.warn("no work can be taken: {}", e.getMessage());
                return Optional.empty();
            }
        }

        private Duration untilNext() {
            try {
                return db.inTransaction(tx -> Jobs.nextDue(tx, names))
                        .map(wait -> wait.plusMillis(1))
                        .filter(wait -> wait.compareTo(LONGEST_WAIT) < 0)
                        .orElse(LONGEST_WAIT);
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
                JobRunner.this.wake(); // jobs of other lanes may have waited for this one
            }
        }

        void close() throws InterruptedException {
            if (!pool.awaitTermination(5, TimeUnit.SECONDS)) {
                pool.shutdownNow();
            }
        }
    }

    private void run(Jobs.Job job) {
        JobKind kind = kinds.get(job.kind());
        long began = System.nanoTime();
        String outcome = "done";
        try {
            kind.run(job, progress(job));
            finish(job, JobState.DONE, "", Optional.empty());
        } catch (NotNow e) {
            outcome = "put off";
            db.run(tx -> Jobs.postpone(tx, job.id(), node, e.getMessage(), e.after()));
        } catch (RuntimeException e) {
            outcome = job.attempts() >= job.maxAttempts() ? "failed" : "retried";
            failed(job, kind, e);
        } finally {
            metrics.job(
                    kind.lane().name().toLowerCase(Locale.ROOT),
                    kind.name(),
                    outcome,
                    Duration.ofNanos(System.nanoTime() - began));
        }
    }

    private void failed(Jobs.Job job, JobKind kind, RuntimeException e) {
        Said said = wording.of(e, "job " + job.kind());
        if (job.attempts() >= job.maxAttempts()) {
            giveUp(job, kind, said.words(), Optional.of(said.code()));
        } else {
            Duration wait = FIRST_RETRY.multipliedBy(1L << Math.min(job.attempts() - 1, 6));
            db.run(tx -> {
                Jobs.retry(tx, job.id(), node, said.words(), Optional.of(said.code()), wait);
                Events.say(tx, "job", job.id());
            });
        }
    }

    private void giveUp(Jobs.Job job, JobKind kind, String why, Optional<String> problem) {
        if (job.everyMillis().isEmpty()) {
            kind.gaveUp(job, why);
        }
        finish(job, JobState.FAILED, why, problem);
    }

    private void finish(Jobs.Job job, JobState state, String note, Optional<String> problem) {
        db.run(tx -> {
            Jobs.finish(tx, job.id(), node, state, note, problem);
            if (job.everyMillis().isEmpty()) {
                Events.say(tx, "job", job.id());
            }
        });
    }

    private JobKind.Progress progress(Jobs.Job job) {
        return new JobKind.Progress() {
            @Override
            public void at(int percent, String note) {
                db.run(tx -> {
                    Jobs.progress(tx, job.id(), node, percent, note);
                    Events.say(tx, "job", job.id());
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
                if (lanes.stream().anyMatch(LaneRunner::isBusy)) {
                    db.run(tx -> Jobs.extend(tx, node, LEASE));
                }
                db.run(Jobs::reap);
                endSpent();
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

    /** Ends jobs whose last attempt took their node with it. */
    private void endSpent() {
        for (Optional<Jobs.Job> job = Jobs.takeSpent(db, node, kinds.keySet(), LEASE);
                job.isPresent();
                job = Jobs.takeSpent(db, node, kinds.keySet(), LEASE)) {
            LOG.warn(
                    "job {} was lost with its node {} times and is given up",
                    job.get().kind(),
                    job.get().attempts());
            giveUp(
                    job.get(),
                    kinds.get(job.get().kind()),
                    "the node that ran it stopped " + job.get().attempts() + " times without ending it",
                    Optional.empty());
        }
    }

    @Override
    public void close() {
        closed = true;
        heart.interrupt();
        lanes.forEach(lane -> {
            lane.dispatcher.interrupt();
            lane.pool.shutdown();
        });
        try {
            for (LaneRunner lane : lanes) {
                lane.close();
            }
            db.run(tx -> Jobs.release(tx, node));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (StoreException e) {
            LOG.warn("jobs were not given back: {}", e.getMessage());
        }
    }
}
