package tender.service.change;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.office.Change;
import tender.service.office.OfficeDocuments;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;

/** Orders changes of devices' settings, and their end. */
final class ChangeOrdering {
    private final Db db;
    private final OfficeRecords records;

    ChangeOrdering(Db db, OfficeRecords records) {
        this.db = db;
        this.records = records;
    }

    /** An ordered change and its job. */
    record Ordered(DeviceChange change, UUID jobId) {}

    /** Checks the changes against what the device said, and orders them. */
    Ordered order(ChangeOrder order, Instant now) {
        if (order.gateway().readOnly()) {
            throw new Refused(Refused.Kind.CONFLICT, order.gateway().name() + " is managed for reading only");
        }
        // what cannot be applied is refused here, before any device
        Change.apply(records.device(order.gateway()), order.changes());
        order.removeWhenUnused()
                .filter(name -> records.device(order.gateway()).listener(name).isEmpty())
                .ifPresent(name -> {
                    throw new Refused(
                            Refused.Kind.NOT_FOUND,
                            order.gateway().name() + " has no listener " + name,
                            "removeWhenUnused");
                });
        return db.inTransaction(tx -> {
            UUID gatewayId = order.gateway().id();
            checkFree(tx, order.gateway());
            DeviceChange c = ordered(order, now);
            DeviceChanges.insert(tx, c);
            UUID job = Jobs.add(tx, ChangeSteps.order(c.id(), gatewayId), Duration.between(now, order.at()));
            Events.say(tx, "gateway", gatewayId);
            Journal.append(tx, new By(order.actor(), now), "device-change-ordered", "gateway", gatewayId, c.words());
            return new Ordered(c, job);
        });
    }

    /** Refuses where another change is under way that would take this one with it. */
    private static void checkFree(Tx tx, Gateways.Gateway gateway) {
        if (DeviceChanges.temporaryCounts(tx).containsKey(gateway.id())) {
            // its return brings back all settings as they were
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    gateway.name() + " has a temporary change active; keep it or return it first");
        }
        DeviceChanges.busy(tx, List.of(gateway.id())).ifPresent(name -> {
            throw new Refused(
                    Refused.Kind.CONFLICT, name + " is being changed together with others; wait until that has ended");
        });
    }

    private static DeviceChange ordered(ChangeOrder order, Instant now) {
        return new DeviceChange(
                order.id(),
                order.gateway().id(),
                order.gateway().name(),
                ChangeState.ORDERED,
                OfficeDocuments.CHANGES.write(order.changes()),
                String.join("; ", order.changes().stream().map(Change::words).toList()),
                "",
                Optional.empty(),
                Optional.empty(),
                order.temporarySeconds(),
                Optional.empty(),
                false,
                order.removeWhenUnused(),
                order.removeAt(),
                order.actor(),
                now,
                Optional.empty(),
                Optional.empty());
    }

    /** Orders that a temporary change is kept for good, or that what was there before comes back now. Gives the job. */
    UUID end(DeviceChange c, DeviceChanges.End end) {
        return db.inTransaction(tx -> {
            DeviceChanges.end(tx, c.id(), end);
            return Jobs.add(tx, ChangeSteps.order(c.id(), c.gatewayId()));
        });
    }
}
