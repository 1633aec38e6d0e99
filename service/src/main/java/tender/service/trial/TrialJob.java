package tender.service.trial;

import java.time.Clock;
import java.util.UUID;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.profile.ProfileOrigin;
import tender.store.profile.Profiles;
import tender.store.trial.TrialState;
import tender.store.trial.Trials;

/** Makes a trial that somebody ordered. */
final class TrialJob implements JobKind {
    static final String NAME = "trial";

    private final Db db;
    private final Clock clock;
    private final TrialRunner runner;
    private final Delivery delivery;

    TrialJob(Db db, Clock clock, TrialRunner runner, Delivery delivery) {
        this.db = db;
        this.clock = clock;
        this.runner = runner;
        this.delivery = delivery;
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
        UUID trialId = UUID.fromString(job.payload());
        Trials.Trial trial =
                db.inTransaction(tx -> Trials.byId(tx, trialId)).orElseThrow(() -> Refused.notFound("trial"));
        if (trial.state() == TrialState.ENDED) {
            return;
        }
        db.inTransaction(tx -> trial.profileId().flatMap(id -> Profiles.byId(tx, id)))
                .filter(p -> p.origin() == ProfileOrigin.CANARY)
                .ifPresent(p -> delivery.now(p.gatewayId()));
        runner.run(trial);
    }

    @Override
    public void gaveUp(Jobs.Job job, String why) {
        UUID trialId = UUID.fromString(job.payload());
        db.run(tx -> {
            Trials.fail(tx, trialId, why, clock.instant());
            Events.say(tx, "trial", trialId);
        });
    }
}
