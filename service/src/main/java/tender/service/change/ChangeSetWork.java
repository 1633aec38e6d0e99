package tender.service.change;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayFailure;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.job.NotNow;
import tender.service.job.Steps;
import tender.service.refusal.Refused;
import tender.store.change.ChangeSets;
import tender.store.change.ChangeSets.ChangeSet;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;

/**
 * Makes changes of several gateways together: each is written with the rollback armed on the device; only when all are written
 * and right is the rollback called off, gateway by gateway. One that fails brings all of them back as they were.
 *
 * <p>Killed before all are right, the next run brings back whatever was written. Killed afterwards, it looks again at each
 * gateway before it lets it be: one that has meanwhile brought back by itself what was there takes the others with it.
 */
final class ChangeSetWork implements JobKind {
    static final String NAME = "change-set";
    private static final Duration LOOK_AGAIN = Duration.ofSeconds(60);
    private static final int MOST_TRIES = 20;

    private final Db db;
    private final Clock clock;
    private final ChangeSteps steps;

    ChangeSetWork(Db db, Clock clock, ChangeSteps steps) {
        this.db = db;
        this.clock = clock;
        this.steps = steps;
    }

    static Jobs.Order order(UUID setId) {
        return Jobs.Order.once(NAME, setId.toString(), "change-set:" + setId);
    }

    /** After a start: whatever is neither ended nor ordered is ordered again. */
    static void ensure(Tx tx) {
        for (ChangeSet set : ChangeSets.unfinished(tx)) {
            if (!Jobs.isOrdered(tx, NAME, set.id().toString())) {
                Jobs.add(tx, order(set.id()));
            }
        }
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        UUID id = UUID.fromString(job.payload());
        ChangeSet set = db.inTransaction(tx -> ChangeSets.byId(tx, id)).orElseThrow(() -> Refused.notFound("set"));
        switch (set.state()) {
            case ORDERED -> make(set, progress);
            case WRITING -> back(set, ChangeSets.State.WRITING, "interrupted while writing");
            case KEEPING -> keep(set, true);
            case KEPT, FAILED -> progress.at(100, set.note());
        }
    }

    /** What was begun is brought back as soon as the gateways answer again. */
    @Override
    public void gaveUp(Jobs.Job job, String why) {
        UUID id = UUID.fromString(job.payload());
        db.run(tx -> ChangeSets.byId(tx, id)
                .filter(set -> set.endedAt().isEmpty())
                .ifPresent(set -> Jobs.add(tx, order(id), LOOK_AGAIN)));
    }

    private List<DeviceChange> members(ChangeSet set) {
        return db.inTransaction(tx -> DeviceChanges.ofSet(tx, set.id()));
    }

    private void make(ChangeSet set, Progress progress) {
        if (!move(set, ChangeSets.State.ORDERED, ChangeSets.State.WRITING)) {
            return; // another node makes it
        }
        List<DeviceChange> members = members(set);
        // the first waits for the last
        Duration guard = steps.guard().multipliedBy(members.size());
        List<ChangeSteps.Written> written = new ArrayList<>();
        for (DeviceChange c : members) {
            try {
                Steps at = at(progress, c, written.size(), members.size());
                written.add(patiently(() -> steps.write(c, Optional.of(guard), at)));
            } catch (GatewayFailure | MalformedException | NotNow e) {
                back(set, ChangeSets.State.WRITING, c.gateway() + ": " + e.getMessage());
                return;
            }
        }
        for (ChangeSteps.Written w : written) {
            Steps at = at(progress, w.change(), written.size(), written.size());
            Optional<String> wrong = patiently(() -> steps.wrong(w, at));
            if (wrong.isPresent()) {
                back(set, ChangeSets.State.WRITING, w.change().gateway() + ": " + wrong.get());
                return;
            }
        }
        if (move(set, ChangeSets.State.WRITING, ChangeSets.State.KEEPING)) { // else another node has brought all back
            keep(set, false);
        }
    }

    /** Peers and accounts are written at the same gateways meanwhile; nothing was done yet where somebody else has the lease. */
    private static <T> T patiently(Supplier<T> step) {
        for (int tries = 1; ; tries++) {
            try {
                return step.get();
            } catch (NotNow e) {
                if (tries == MOST_TRIES) {
                    throw e;
                }
                pause(e.after());
            }
        }
    }

    private static void pause(Duration time) {
        try {
            TimeUnit.MILLISECONDS.sleep(time.toMillis());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new NotNow("the service stops", time);
        }
    }

    private static Steps at(Progress progress, DeviceChange c, int done, int all) {
        return (percent, note) -> progress.at((done * 100 + percent) / (all + 1), c.gateway() + ": " + note);
    }

    /** @param lookAgain whether time has passed since all were right */
    private void keep(ChangeSet set, boolean lookAgain) {
        List<DeviceChange> members = members(set);
        if (lookAgain) {
            for (DeviceChange c : members) {
                if (c.state() == ChangeState.WRITING && steps.hasReturned(c)) {
                    back(set, ChangeSets.State.KEEPING, c.gateway() + " has rolled back by itself");
                    return;
                }
            }
        }
        for (DeviceChange c : members) {
            if (c.state() == ChangeState.WRITING) {
                steps.keep(c, "read back and active, with the others of its set");
                steps.said(c, "device-changed", "with the others of its set");
            }
        }
        end(set, ChangeSets.State.KEEPING, ChangeSets.State.KEPT, "all are active");
    }

    /** None of it stays; throws while a gateway that would not do it by itself does not answer. */
    private void back(ChangeSet set, ChangeSets.State from, String why) {
        for (DeviceChange c : members(set)) {
            if (c.state() == ChangeState.WRITING || c.state() == ChangeState.KEPT) {
                steps.rollBack(c, ChangeState.FAILED, why + "; it was rolled back");
            } else if (c.state() == ChangeState.ORDERED) {
                steps.settle(c, ChangeState.FAILED, why + "; nothing was written here");
            }
        }
        end(set, from, ChangeSets.State.FAILED, why + "; none of the changes was kept");
    }

    private boolean move(ChangeSet set, ChangeSets.State from, ChangeSets.State to) {
        return db.inTransaction(tx -> ChangeSets.move(tx, set.id(), from, to, "", Optional.empty()));
    }

    private void end(ChangeSet set, ChangeSets.State from, ChangeSets.State state, String note) {
        Instant now = clock.instant();
        db.run(tx -> {
            ChangeSets.move(tx, set.id(), from, state, note, Optional.of(now));
            Events.say(tx, "change-set", set.id());
        });
    }
}
