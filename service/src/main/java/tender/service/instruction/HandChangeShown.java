package tender.service.instruction;

import java.time.Instant;
import java.util.Optional;
import tender.core.backup.Snapshot;
import tender.core.office.Device;
import tender.core.office.Drift;
import tender.service.gateway.GatewayReading;
import tender.service.office.OfficeDocuments;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.HandChanges;
import tender.store.event.Events;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;

/** Looks in what was just read whether a change that somebody was to make by hand is there. */
public final class HandChangeShown implements GatewayReading.Conclusion {
    @Override
    public void draw(Tx tx, Gateways.Gateway gateway, Snapshot snapshot, Device device, Instant asOf) {
        HandChanges.atGateway(tx, gateway.id()).stream()
                .filter(c -> !asOf.isBefore(c.orderedAt())) // files copied before it was asked prove nothing
                .filter(c -> Drift.isMade(
                        OfficeDocuments.DEVICE.read(c.before()), OfficeDocuments.DEVICE.read(c.wanted()), device))
                .forEach(c -> done(tx, c, "shown by a reading of the gateway", asOf));
    }

    static void done(Tx tx, HandChanges.HandChange c, String how, Instant now) {
        DeviceChanges.move(tx, c.id(), ChangeState.KEPT, how, Optional.of(now));
        Events.say(tx, "gateway", c.gatewayId());
        Journal.append(tx, By.tender(now), "device-changed", "gateway", c.gatewayId(), c.words() + ", by hand, " + how);
    }
}
