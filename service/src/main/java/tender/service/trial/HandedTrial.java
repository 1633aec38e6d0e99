package tender.service.trial;

import java.time.Clock;
import java.time.Duration;
import java.util.UUID;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.trial.TrialState;
import tender.store.trial.Trials;

/** Ends a trial that a standing vantage did not take, or of which it never told. */
final class HandedTrial implements JobKind {
    static final String NAME = "handed-trial";
    /** Longer than a trial takes, and than a vantage waits between two questions. */
    static final Duration PATIENCE = Duration.ofSeconds(90);

    private final Db db;
    private final Clock clock;

    HandedTrial(Db db, Clock clock) {
        this.db = db;
        this.clock = clock;
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Lane lane() {
        return Lane.TRIAL;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        UUID id = UUID.fromString(job.payload());
        db.run(tx -> Trials.byId(tx, id).filter(t -> t.state().isOpen()).ifPresent(t -> {
            Trials.fail(
                    tx,
                    id,
                    t.vantage() + (t.state() == TrialState.WAITING ? " did not take it" : " took it and told nothing"),
                    clock.instant());
            Events.say(tx, "trial", id);
        }));
    }
}
