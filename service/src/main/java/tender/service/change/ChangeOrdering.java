package tender.service.change;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.service.office.OfficeDocuments;
import tender.service.office.OfficeRecords;
import tender.service.profile.ByHand;
import tender.service.refusal.Refused;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.change.HandChanges;
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
    private final ByHand byHand;

    ChangeOrdering(Db db, OfficeRecords records, ByHand byHand) {
        this.byHand = byHand;
        this.db = db;
        this.records = records;
    }

    /** An ordered change and its job, where Tender makes it. */
    record Ordered(DeviceChange change, Optional<UUID> jobId) {}

    /** Checks the changes against what the device said, and orders them. */
    Ordered order(ChangeOrder order, Instant now) {
        // what cannot be applied is refused here, before any device
        Device before = records.device(order.gateway());
        Device wanted = Change.apply(before, order.changes());
        order.removeWhenUnused().filter(name -> before.listener(name).isEmpty()).ifPresent(name -> {
            throw new Refused(
                    Refused.Kind.NOT_FOUND, order.gateway().name() + " has no listener " + name, "removeWhenUnused");
        });
        return db.inTransaction(tx -> {
            UUID gatewayId = order.gateway().id();
            if (byHand.everything(tx, gatewayId)) {
                return new Ordered(asked(tx, order, before, wanted, now), Optional.empty());
            }
            checkFree(tx, order.gateway());
            DeviceChange c = ordered(order, ChangeState.ORDERED, now);
            DeviceChanges.insert(tx, c);
            UUID job = Jobs.add(tx, ChangeSteps.order(c.id(), gatewayId), Duration.between(now, order.at()));
            Events.say(tx, "gateway", gatewayId);
            Journal.append(tx, new By(order.actor(), now), "device-change-ordered", "gateway", gatewayId, c.words());
            return new Ordered(c, Optional.of(job));
        });
    }

    /** Whether changes of a gateway become instructions for a person. */
    boolean isByHand(Gateways.Gateway gateway) {
        return db.inTransaction(tx -> byHand.everything(tx, gateway.id()));
    }

    /** Tender does not write the gateway: somebody is asked to make the changes there. */
    private DeviceChange asked(Tx tx, ChangeOrder order, Device before, Device wanted, Instant now) {
        if (order.temporarySeconds().isPresent() || order.at().isAfter(now)) {
            throw new Refused(
                    Refused.Kind.MALFORMED,
                    "Tender does not write " + order.gateway().name()
                            + ": a change that somebody makes there by hand has no time, and is not rolled back by itself",
                    order.temporarySeconds().isPresent() ? "temporarySeconds" : "at");
        }
        Gateways.lock(tx, order.gateway().id());
        DeviceChange c = ordered(order, ChangeState.BY_HAND, now);
        if (HandChanges.atGateway(tx, c.gatewayId()).stream()
                .anyMatch(o -> o.words().equals(c.words()))) {
            throw new Refused(
                    Refused.Kind.CONFLICT, "somebody is asked to do this at " + c.gateway() + " already: " + c.words());
        }
        DeviceChanges.insert(tx, c);
        HandChanges.insert(
                tx, c.id(), OfficeDocuments.DEVICE.write(before), OfficeDocuments.DEVICE.write(wanted), order.why());
        Events.say(tx, "gateway", c.gatewayId());
        Journal.append(
                tx,
                new By(order.actor(), now),
                "device-change-asked",
                "gateway",
                c.gatewayId(),
                c.words() + ", by hand");
        return c;
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

    private static DeviceChange ordered(ChangeOrder order, ChangeState state, Instant now) {
        return new DeviceChange(
                order.id(),
                order.gateway().id(),
                order.gateway().name(),
                state,
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
