package tender.service.node;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import tender.service.job.JobKind;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.operator.Replays;

/** Clears what has had its time. */
public final class Housekeeping implements JobKind, NodeModule {
    private static final String NAME = "housekeeping";
    private static final Duration JOBS_KEPT = Duration.ofDays(30);
    private static final Duration EVERY = Duration.ofMinutes(10);

    private final Db db;
    private final Clock clock;
    private final List<NodeModule> modules;

    /** @param modules whose upkeep this is */
    public Housekeeping(Db db, Clock clock, List<NodeModule> modules) {
        this.db = db;
        this.clock = clock;
        this.modules = List.copyOf(modules);
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(this);
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        Jobs.keepRunning(tx, NAME, EVERY);
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        Instant now = clock.instant();
        db.run(tx -> {
            Replays.purge(tx, now.minus(Duration.ofDays(1)));
            Jobs.purge(tx, now.minus(JOBS_KEPT));
            modules.forEach(m -> m.upkeep(tx, now));
        });
    }
}
