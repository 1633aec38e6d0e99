package tender.service.change;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayFailure;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.refusal.Refused;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;

/**
 * Makes an ordered change of a device's settings: backup, a rollback armed where contact could be lost, write, start anew
 * what has to, read again over a fresh connection, and try the listener. A change that fails is rolled back.
 *
 * <p>A killed run leaves the change in state writing, with what was there before in a backup; the next run puts that back
 * and says so. Nothing half-written stays.
 */
final class ChangeWork implements JobKind {
    private static final Logger LOG = LoggerFactory.getLogger(ChangeWork.class);
    private static final Duration LOOK_AGAIN = Duration.ofSeconds(60);

    private final Db db;
    private final Clock clock;
    private final ChangeSteps steps;

    ChangeWork(Db db, Clock clock, ChangeSteps steps) {
        this.db = db;
        this.clock = clock;
        this.steps = steps;
    }

    @Override
    public String name() {
        return ChangeSteps.JOB;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        DeviceChange c = db.inTransaction(tx -> DeviceChanges.byId(tx, UUID.fromString(job.payload())))
                .orElseThrow(() -> Refused.notFound("change"));
        switch (c.state()) {
            case ORDERED -> make(c, progress);
            case WRITING -> steps.rollBack(c, ChangeState.FAILED, "interrupted while writing; it was rolled back");
            case ACTIVE -> {
                Optional<DeviceChanges.End> end = db.inTransaction(tx -> DeviceChanges.end(tx, c.id()));
                if (end.isEmpty()) {
                    end(c);
                } else if (end.get() == DeviceChanges.End.KEEP) {
                    steps.keep(c, "kept for good");
                    steps.said(c, "device-change-kept", "kept for good");
                } else {
                    steps.rollBack(c, ChangeState.ROLLED_BACK, "rolled back before it expired");
                }
            }
            case KEPT, FAILED, ROLLED_BACK, BY_HAND, CANCELLED ->
                LOG.debug("change {} is {} already", c.id(), c.state());
        }
    }

    /** What was not begun has failed; what was begun is put back as soon as the device answers again. */
    @Override
    public void gaveUp(Jobs.Job job, String why) {
        UUID id = UUID.fromString(job.payload());
        DeviceChange c = db.inTransaction(tx -> DeviceChanges.byId(tx, id)).orElseThrow();
        if (c.state() == ChangeState.ORDERED) {
            steps.settle(c, ChangeState.FAILED, why);
        } else if (c.endedAt().isEmpty()) {
            db.run(tx -> Jobs.add(tx, ChangeSteps.order(id, c.gatewayId()), LOOK_AGAIN));
        }
    }

    /** After a start: whatever is neither ended nor ordered is ordered again. */
    static void ensure(Tx tx, Instant now) {
        for (DeviceChange c : DeviceChanges.unfinished(tx)) {
            boolean alone = c.setId().isEmpty() || c.state() == ChangeState.ACTIVE; // the set's own job makes it
            if (alone && !Jobs.isOrdered(tx, ChangeSteps.JOB, c.id().toString())) {
                Jobs.add(
                        tx,
                        ChangeSteps.order(c.id(), c.gatewayId()),
                        Duration.between(now, c.revertAt().orElse(now)));
            }
        }
    }

    private void make(DeviceChange c, Progress progress) {
        ChangeSteps.Written written;
        try {
            written = steps.write(c, steps.usualGuard(c), progress);
        } catch (GatewayFailure | MalformedException e) {
            failed(c, e);
            return;
        }
        Optional<String> wrong = steps.wrong(written, progress);
        if (wrong.isPresent()) {
            steps.rollBack(c, ChangeState.FAILED, wrong.get() + "; it was rolled back");
        } else {
            succeeded(written);
        }
    }

    private void succeeded(ChangeSteps.Written w) {
        DeviceChange c = w.change();
        String note = w.provenBefore() ? "read back, active, proven by a trial" : "read back and active";
        if (w.revertAt().isPresent()) {
            db.run(tx -> {
                DeviceChanges.move(
                        tx, c.id(), ChangeState.ACTIVE, note + "; it rolls back automatically", Optional.empty());
                Jobs.add(
                        tx,
                        ChangeSteps.order(c.id(), c.gatewayId()),
                        Duration.between(clock.instant(), w.revertAt().get()));
            });
        } else {
            steps.keep(c, note);
        }
        steps.said(c, "device-changed", note);
    }

    private void failed(DeviceChange c, RuntimeException e) {
        if (steps.isBegun(c)) {
            steps.rollBack(c, ChangeState.FAILED, e.getMessage() + "; it was rolled back");
        } else {
            steps.settle(c, ChangeState.FAILED, e.getMessage() + "; nothing was written");
            steps.said(c, "device-change-failed", e.getMessage());
        }
    }

    /** The end of a temporary change: the device has brought back what was there, or Tender does. */
    private void end(DeviceChange c) {
        Duration left = Duration.between(clock.instant(), c.revertAt().orElse(Instant.MIN));
        if (left.isNegative() || left.isZero()) {
            steps.rollBack(c, ChangeState.ROLLED_BACK, "rolled back when it expired");
            return;
        }
        db.run(
                tx -> { // an earlier order of the same job, or this node's clock is behind the database's
                    if (!Jobs.isWaiting(tx, ChangeSteps.JOB, c.id().toString())) {
                        Jobs.add(tx, ChangeSteps.order(c.id(), c.gatewayId()), left);
                    }
                });
    }
}
