package tender.service.change;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.backup.Snapshot;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.Drift;
import tender.core.office.Listener;
import tender.core.office.Protocol;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.service.device.Connections;
import tender.service.gateway.GatewayReading;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.job.Steps;
import tender.service.office.OfficeDocuments;
import tender.service.reconcile.GatewayReconciler;
import tender.service.refusal.Refused;
import tender.service.trial.CanaryTrials;
import tender.store.backup.Backups;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Listeners;

/**
 * Makes an ordered change of a device's settings: backup, a way back armed where contact could be lost, write, start anew
 * what has to, read again over a fresh connection, and try the listener. What fails is put back as it was.
 *
 * <p>A killed run leaves the change in state writing, with what was there before in a backup; the next run puts that back
 * and says so. Nothing half-written stays.
 */
public final class ChangeWork implements JobKind {
    public static final String NAME = "device-change";
    private static final Logger LOG = LoggerFactory.getLogger(ChangeWork.class);
    private static final Duration LOOK_AGAIN = Duration.ofSeconds(60);

    private final Db db;
    private final Clock clock;
    private final Connections connections;
    private final GatewayReading reading;
    private final Backups backups;
    private final CanaryTrials trials;
    private final GatewayReconciler reconciler;
    /** How long a device waits for word before it brings back what was in force. */
    private final Duration guard;

    public ChangeWork(
            Db db,
            Clock clock,
            Connections connections,
            GatewayReading reading,
            Backups backups,
            CanaryTrials trials,
            GatewayReconciler reconciler,
            Duration guard) {
        this.db = db;
        this.clock = clock;
        this.connections = connections;
        this.reading = reading;
        this.backups = backups;
        this.trials = trials;
        this.reconciler = reconciler;
        this.guard = guard;
    }

    public static Jobs.Order order(UUID changeId, UUID gatewayId) {
        return Jobs.Order.once(NAME, changeId.toString(), "gateway:" + gatewayId);
    }

    /** Whether a change could cut Tender itself off from the device. */
    static boolean couldCutOff(List<Change> changes) {
        return changes.stream().anyMatch(Change::mayCutOff);
    }

    static List<Change> changes(DeviceChange c) {
        return OfficeDocuments.CHANGES.read(c.changes());
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
        DeviceChange c = db.inTransaction(tx -> DeviceChanges.byId(tx, UUID.fromString(job.payload())))
                .orElseThrow(() -> Refused.notFound("change"));
        switch (c.state()) {
            case ORDERED -> make(c, progress);
            case WRITING -> putBack(c, ChangeState.FAILED, "interrupted while writing; what was there came back");
            case IN_FORCE -> {
                Optional<DeviceChanges.End> end = db.inTransaction(tx -> DeviceChanges.end(tx, c.id()));
                if (end.isEmpty()) {
                    end(c);
                } else if (end.get() == DeviceChanges.End.KEEP) {
                    keep(c);
                } else {
                    putBack(c, ChangeState.RETURNED, "brought back before its end");
                }
            }
            case KEPT, FAILED, RETURNED -> LOG.debug("change {} is {} already", c.id(), c.state());
        }
    }

    /** What was not begun has failed; what was begun is put back as soon as the device answers again. */
    @Override
    public void gaveUp(Jobs.Job job, String why) {
        UUID id = UUID.fromString(job.payload());
        DeviceChange c = db.inTransaction(tx -> DeviceChanges.byId(tx, id)).orElseThrow();
        if (c.state() == ChangeState.ORDERED) {
            settle(c, ChangeState.FAILED, why);
        } else if (c.endedAt().isEmpty()) {
            db.run(tx -> Jobs.add(tx, order(id, c.gatewayId()), LOOK_AGAIN));
        }
    }

    /** After a start: whatever is neither ended nor ordered is ordered again. */
    public static void ensure(Tx tx, Instant now) {
        for (DeviceChange c : DeviceChanges.unfinished(tx)) {
            if (!Jobs.isOrdered(tx, NAME, c.id().toString())) {
                Jobs.add(
                        tx,
                        order(c.id(), c.gatewayId()),
                        Duration.between(now, c.returnAt().orElse(now)));
            }
        }
    }

    /** What the records want at the gateway is in force now; this job has the gateway to itself. */
    private void atOnce(UUID gatewayId) {
        reconciler.reconcile(gatewayId, Steps.UNHEARD);
    }

    private void make(DeviceChange c, Progress progress) {
        List<Change> changes = changes(c);
        Optional<UUID> listener = listener(c, changes);
        progress.at(10, "trying the listener as it is");
        boolean provenBefore = listener.flatMap(l -> trials.prove(l, "before a change", this::atOnce))
                .orElse(false);
        Optional<Instant> returnAt =
                c.guardSeconds().map(seconds -> clock.instant().plusSeconds(seconds));
        GatewayReconciler.Before before;
        try {
            before = reconciler.settings(
                    c.gatewayId(),
                    changes,
                    c.guardSeconds()
                            .map(Duration::ofSeconds)
                            .or(() -> couldCutOff(changes) ? Optional.of(guard) : Optional.empty()),
                    there -> db.run(
                            tx -> DeviceChanges.writing(tx, c.id(), there.read().backupId(), there.armed(), returnAt)),
                    progress);
        } catch (GatewayFailure | MalformedException e) {
            failed(c, e);
            return;
        }
        progress.at(70, "reading it again");
        Optional<String> wrong = check(c, before.read(), changes);
        if (wrong.isEmpty() && provenBefore) {
            progress.at(85, "trying the listener");
            boolean proven = listener.flatMap(l -> trials.prove(l, "after a change", this::atOnce))
                    .orElse(true);
            wrong = proven ? Optional.empty() : Optional.of("the listener was proven before and is not any more");
        }
        if (wrong.isPresent()) {
            putBack(c, ChangeState.FAILED, wrong.get() + "; what was there came back");
        } else {
            succeeded(c, before.armed(), returnAt, listener.isPresent() && provenBefore);
        }
    }

    /** The listener to prove, where the change is of one that a canary can try. */
    private Optional<UUID> listener(DeviceChange c, List<Change> changes) {
        Set<String> changed = changes.stream()
                .flatMap(change -> change.changedListener().stream())
                .collect(Collectors.toSet());
        return db.inTransaction(tx -> Listeners.of(tx, List.of(c.gatewayId()))).stream()
                .filter(l -> changed.contains(l.name()) && l.protocol().equals(Protocol.WIREGUARD.word()))
                .map(Listeners.Listener::id)
                .findFirst();
    }

    /** Reads over a fresh connection; gives what is not as wanted. */
    private Optional<String> check(DeviceChange c, GatewayReading.Read read, List<Change> changes) {
        Device before = read.device();
        Device wanted = Change.apply(before, changes);
        connections.drop(c.gatewayId());
        try (ManagementConnection session = connections.open(c.gatewayId())) {
            GatewayReading.Read after = reading.read(session, c.gatewayId(), "after a change", "tender", true);
            db.run(tx -> DeviceChanges.written(tx, c.id(), after.backupId()));
            Device now = after.device();
            List<Drift.Difference> left = Drift.between(wanted, now);
            if (!left.isEmpty()) {
                return Optional.of("read again, " + left.get(0).field() + " is "
                        + (left.get(0).is().isEmpty() ? "missing" : left.get(0).is()));
            }
            return now.listeners().stream()
                    .filter(l -> l.is(Attribute.IN_FORCE, "no")
                            && before.listener(l.name())
                                    .filter(b -> b.is(Attribute.IN_FORCE, "no"))
                                    .isEmpty())
                    .map(Listener::name)
                    .findFirst()
                    .map(name -> name + " did not take it up");
        } catch (GatewayFailure e) {
            return Optional.of("the device does not answer any more: " + e.getMessage());
        }
    }

    private void succeeded(DeviceChange c, boolean armed, Optional<Instant> returnAt, boolean proven) {
        String note = proven ? "read back, in force, proven by a trial" : "read back and in force";
        if (returnAt.isPresent()) {
            db.run(tx -> {
                DeviceChanges.move(tx, c.id(), ChangeState.IN_FORCE, note + "; returns by itself", Optional.empty());
                Jobs.add(tx, order(c.id(), c.gatewayId()), Duration.between(clock.instant(), returnAt.get()));
            });
        } else {
            if (armed) {
                reconciler.disarm(c.gatewayId());
            }
            settle(c, ChangeState.KEPT, note);
        }
        said(c, "device-changed", note);
    }

    private void failed(DeviceChange c, RuntimeException e) {
        boolean wrote = db.inTransaction(tx -> DeviceChanges.byId(tx, c.id()))
                .filter(now -> now.state() == ChangeState.WRITING)
                .isPresent();
        if (wrote) {
            putBack(c, ChangeState.FAILED, e.getMessage() + "; what was there came back");
        } else {
            settle(c, ChangeState.FAILED, e.getMessage() + "; nothing was written");
            said(c, "device-change-failed", e.getMessage());
        }
    }

    /**
     * What the change did is taken back, and nothing else: through Tender where it can reach the device, else by the device
     * itself. Then the records say who is let in, so that nobody who was withdrawn meanwhile comes back with it.
     */
    private void putBack(DeviceChange stale, ChangeState state, String note) {
        DeviceChange c =
                db.inTransaction(tx -> DeviceChanges.byId(tx, stale.id())).orElseThrow();
        Snapshot before = snapshot(c.backupId()).orElseThrow();
        connections.drop(c.gatewayId());
        try {
            reconciler.restore(
                    c.gatewayId(), before, snapshot(c.afterBackupId()), c.armedOnDevice(), "after " + state.word());
            settle(c, state, note);
            said(c, state == ChangeState.RETURNED ? "device-change-returned" : "device-change-failed", note);
        } catch (GatewayFailure e) {
            if (!c.armedOnDevice()) {
                throw e; // the job is tried again until the device answers
            }
            Duration after = guard.plusSeconds(5);
            db.run(tx -> {
                DeviceChanges.move(
                        tx,
                        c.id(),
                        ChangeState.IN_FORCE,
                        "contact was lost; the device brings back by itself what was there",
                        Optional.empty());
                DeviceChanges.lostUntil(tx, c.id(), clock.instant().plus(after));
                Jobs.add(tx, order(c.id(), c.gatewayId()), after);
                Events.say(tx, "gateway", c.gatewayId().toString());
            });
        }
    }

    private Optional<Snapshot> snapshot(Optional<UUID> backupId) {
        return backupId.map(id -> Snapshot.ofZip(db.inTransaction(tx -> backups.content(tx, id))));
    }

    /** The end of a temporary change: the device has brought back what was there, or Tender does. */
    private void end(DeviceChange c) {
        Duration left = Duration.between(clock.instant(), c.returnAt().orElse(Instant.MIN));
        if (left.isNegative() || left.isZero()) {
            putBack(c, ChangeState.RETURNED, "came back at its end");
            return;
        }
        db.run(
                tx -> { // an earlier order of the same job, or this node's clock is behind the database's
                    if (!Jobs.isWaiting(tx, NAME, c.id().toString())) {
                        Jobs.add(tx, order(c.id(), c.gatewayId()), left);
                    }
                });
    }

    private void settle(DeviceChange c, ChangeState state, String note) {
        db.run(tx -> {
            DeviceChanges.move(tx, c.id(), state, note, Optional.of(clock.instant()));
            Events.say(tx, "gateway", c.gatewayId().toString());
        });
        reading.endpoints(c.gatewayId(), clock.instant());
    }

    private void said(DeviceChange c, String action, String note) {
        db.run(tx -> Journal.append(
                tx,
                clock.instant(),
                c.orderedBy(),
                action,
                "gateway",
                c.gatewayId().toString(),
                c.words() + ": " + note));
    }

    /** Keeps a temporary change for good. */
    private void keep(DeviceChange c) {
        if (c.armedOnDevice()) {
            reconciler.disarm(c.gatewayId());
        }
        settle(c, ChangeState.KEPT, "kept for good");
        said(c, "device-change-kept", "kept for good");
    }
}
