package tender.service.collect;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.UUID;
import tender.service.job.JobKind;
import tender.store.handout.Pickups;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;

/** Writes what happened at the staff's page into the journal, which the page itself cannot reach. */
final class CollectionJournal implements JobKind {
    private static final String NAME = "collection-journal";
    private static final Duration EVERY = Duration.ofSeconds(15);
    /** Tries from one source are written as one entry. */
    private static final Duration GATHERED = Duration.ofSeconds(10);

    private final Db db;
    private final Clock clock;

    CollectionJournal(Db db, Clock clock) {
        this.db = db;
        this.clock = clock;
    }

    static void ensure(Tx tx) {
        Jobs.keepRunning(tx, NAME, EVERY);
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        write(clock.instant().minus(GATHERED));
    }

    /** Writes every collection, and tries from before a time. */
    void write(Instant triesBefore) {
        db.run(tx -> {
            List<Pickups.Unwritten> all = Pickups.take(tx, triesBefore);
            for (Pickups.Unwritten u : all) {
                Journal.append(
                        tx,
                        new By("stranger", clock.instant()),
                        u.collected() ? "handout-collected" : u.stopped() ? "collection-stopped" : "collection-failed",
                        "handout",
                        u.handoutId().map(UUID::toString).orElse("unknown"),
                        u.collected() ? "" : u.tries() + (u.tries() == 1 ? " try" : " tries"));
            }
        });
    }

    /** Writes what there is, at once. */
    void collected() {
        write(clock.instant().minus(GATHERED));
    }
}
