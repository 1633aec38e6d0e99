package tender.service.change;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.backup.Comparison;
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
import tender.service.job.Steps;
import tender.service.office.OfficeDocuments;
import tender.service.reconcile.GatewayReconciler;
import tender.service.trial.CanaryTrials;
import tender.store.backup.Backups;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Listeners;

/** The steps of a change at one gateway: written with a rollback, judged, kept, or rolled back. */
final class ChangeSteps {
    /** The kind of job that brings back a change at its end. */
    static final String JOB = "device-change";

    private final Db db;
    private final Clock clock;
    private final Connections connections;
    private final GatewayReading reading;
    private final Backups backups;
    private final CanaryTrials trials;
    private final GatewayReconciler reconciler;
    /** How long a device waits for word before it brings back what was active. */
    private final Duration guard;

    ChangeSteps(
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

    static Jobs.Order order(UUID changeId, UUID gatewayId) {
        return Jobs.Order.once(JOB, changeId.toString(), "gateway:" + gatewayId);
    }

    /** Whether a change could cut Tender itself off from the device. */
    static boolean couldCutOff(List<Change> changes) {
        return changes.stream().anyMatch(Change::mayCutOff);
    }

    private static List<Change> changes(DeviceChange c) {
        return OfficeDocuments.CHANGES.read(c.changes());
    }

    Duration guard() {
        return guard;
    }

    /** The device waits for word only where the change could cut Tender off, or ends by itself. */
    Optional<Duration> usualGuard(DeviceChange c) {
        return c.guardSeconds()
                .map(Duration::ofSeconds)
                .or(() -> couldCutOff(changes(c)) ? Optional.of(guard) : Optional.empty());
    }

    /** What the records want at the gateway is active now; this job has the gateway to itself. */
    private void atOnce(UUID gatewayId) {
        reconciler.reconcile(gatewayId, Steps.UNHEARD);
    }

    /**
     * A change that is written, and not yet judged.
     *
     * @param listener to be tried
     * @param provenBefore whether it was proven just before
     * @param revertAt when it is rolled back
     */
    record Written(
            DeviceChange change,
            GatewayReconciler.Before before,
            Optional<UUID> listener,
            boolean provenBefore,
            Optional<Instant> revertAt) {}

    /**
     * Tries the listener as it is, keeps what is there, arms the rollback, and writes.
     *
     * @param rollbackAfter when the device itself is to bring back what was there, where it can
     * @throws GatewayFailure also when something may be written; then the change is in state writing
     * @throws MalformedException likewise
     */
    Written write(DeviceChange c, Optional<Duration> rollbackAfter, Steps progress) {
        List<Change> changes = changes(c);
        Optional<UUID> listener = listener(c, changes);
        progress.at(10, "trying the listener as it is");
        boolean provenBefore = listener.flatMap(l -> trials.prove(l, "before a change", this::atOnce))
                .orElse(false);
        Optional<Instant> revertAt =
                c.guardSeconds().map(seconds -> clock.instant().plusSeconds(seconds));
        GatewayReconciler.Before before = reconciler.settings(
                c.gatewayId(),
                changes,
                rollbackAfter,
                there -> db.run(
                        tx -> DeviceChanges.writing(tx, c.id(), there.read().backupId(), there.armed(), revertAt)),
                progress);
        return new Written(c, before, listener, provenBefore, revertAt);
    }

    /** Reads it again and tries the listener; gives what is not as wanted. */
    Optional<String> wrong(Written w, Steps progress) {
        progress.at(70, "reading it again");
        Optional<String> wrong = check(w.change(), w.before().read(), changes(w.change()));
        if (wrong.isPresent() || !w.provenBefore()) {
            return wrong;
        }
        progress.at(85, "trying the listener");
        boolean proven = w.listener()
                .flatMap(l -> trials.prove(l, "after a change", this::atOnce))
                .orElse(true);
        return proven ? Optional.empty() : Optional.of("the listener was proven before and is not any more");
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
            return missing(before, wanted, after.device());
        } catch (GatewayFailure e) {
            return Optional.of("the device does not answer any more: " + e.getMessage());
        }
    }

    /** What the device should say and does not, or which listener did not take its settings up. */
    private static Optional<String> missing(Device before, Device wanted, Device now) {
        List<Drift.Difference> left = Drift.between(wanted, now);
        if (!left.isEmpty()) {
            return Optional.of("read again, " + left.get(0).field() + " is "
                    + (left.get(0).is().isEmpty() ? "missing" : left.get(0).is()));
        }
        return now.listeners().stream()
                .filter(l -> l.is(Attribute.ACTIVE, "no")
                        && before.listener(l.name())
                                .filter(b -> b.is(Attribute.ACTIVE, "no"))
                                .isEmpty())
                .map(Listener::name)
                .findFirst()
                .map(name -> name + " did not take it up");
    }

    /** Whether the device has rolled back by itself: every file that was written is as it was before. */
    boolean hasReturned(DeviceChange c) {
        Snapshot before = snapshot(c.backupId()).orElseThrow();
        Optional<Snapshot> after = snapshot(c.afterBackupId());
        connections.drop(c.gatewayId());
        try (ManagementConnection session = connections.open(c.gatewayId())) {
            Map<String, byte[]> now = session.readAll().files();
            return after.isPresent()
                    && Comparison.between(before, after.get()).stream()
                            .allMatch(d -> Arrays.equals(
                                    now.get(d.path()), before.files().get(d.path())));
        }
    }

    /** Whether something of it may be written. */
    boolean isBegun(DeviceChange c) {
        return db.inTransaction(tx -> DeviceChanges.byId(tx, c.id()))
                .filter(now -> now.state() == ChangeState.WRITING)
                .isPresent();
    }

    /** It stays for good; a device that waits for word is told so. */
    void keep(DeviceChange stale, String note) {
        DeviceChange c =
                db.inTransaction(tx -> DeviceChanges.byId(tx, stale.id())).orElseThrow();
        if (c.armedOnDevice()) {
            reconciler.disarm(c.gatewayId());
        }
        settle(c, ChangeState.KEPT, note);
    }

    /**
     * What the change did is taken back, and nothing else: through Tender where it can reach the device, else by the device
     * itself. Then the records say who is let in, so that nobody who was withdrawn meanwhile comes back with it.
     */
    void rollBack(DeviceChange stale, ChangeState state, String note) {
        DeviceChange c =
                db.inTransaction(tx -> DeviceChanges.byId(tx, stale.id())).orElseThrow();
        Snapshot before = snapshot(c.backupId()).orElseThrow();
        connections.drop(c.gatewayId());
        try {
            reconciler.restore(
                    c.gatewayId(), before, snapshot(c.afterBackupId()), c.armedOnDevice(), "after " + state.word());
            settle(c, state, note);
            said(c, state == ChangeState.ROLLED_BACK ? "device-change-rolled-back" : "device-change-failed", note);
        } catch (GatewayFailure e) {
            if (!c.armedOnDevice()) {
                throw e; // the job is tried again until the device answers
            }
            Duration after = guard.plusSeconds(5);
            db.run(tx -> {
                DeviceChanges.move(
                        tx,
                        c.id(),
                        ChangeState.ACTIVE,
                        "contact was lost; the device rolls back by itself",
                        Optional.empty());
                DeviceChanges.lostUntil(tx, c.id(), clock.instant().plus(after));
                Jobs.add(tx, order(c.id(), c.gatewayId()), after);
                Events.say(tx, "gateway", c.gatewayId());
            });
        }
    }

    private Optional<Snapshot> snapshot(Optional<UUID> backupId) {
        return backupId.map(id -> Snapshot.ofZip(db.inTransaction(tx -> backups.content(tx, id))));
    }

    /** It has ended. */
    void settle(DeviceChange c, ChangeState state, String note) {
        db.run(tx -> {
            DeviceChanges.move(tx, c.id(), state, note, Optional.of(clock.instant()));
            Events.say(tx, "gateway", c.gatewayId());
        });
        reading.endpoints(c.gatewayId(), clock.instant());
    }

    /** Notes it in the journal. */
    void said(DeviceChange c, String action, String note) {
        db.run(tx -> Journal.append(
                tx, new By(c.orderedBy(), clock.instant()), action, "gateway", c.gatewayId(), c.words() + ": " + note));
    }
}
