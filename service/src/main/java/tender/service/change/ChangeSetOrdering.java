package tender.service.change;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.office.Change;
import tender.service.office.OfficeDocuments;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.change.ChangeSets;
import tender.store.change.ChangeState;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;

/** Orders changes of several gateways that are made together. */
final class ChangeSetOrdering {
    private final Db db;
    private final OfficeRecords records;
    private final ChangeOrdering single;

    ChangeSetOrdering(Db db, OfficeRecords records, ChangeOrdering single) {
        this.single = single;
        this.db = db;
        this.records = records;
    }

    /** What is to change at one of the gateways. */
    record Member(Gateways.Gateway gateway, List<Change> changes) {}

    /** An ordered set and its job. */
    record Ordered(UUID setId, UUID jobId) {}

    /** @throws Refused where a change cannot be made at its gateway as it is, or another one is being made there */
    Ordered order(List<Member> members, By by) {
        check(members);
        UUID setId = Ids.next();
        List<UUID> gatewayIds = members.stream().map(m -> m.gateway().id()).toList();
        return db.inTransaction(tx -> {
            DeviceChanges.unfinishedAt(tx, gatewayIds).ifPresent(name -> {
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        name + " has a change that has not ended; wait for it, or keep or return it");
            });
            ChangeSets.insert(tx, setId, by);
            for (Member m : members) {
                DeviceChange c = change(setId, m, by);
                DeviceChanges.insert(tx, c);
                Events.say(tx, "gateway", m.gateway().id());
                Journal.append(
                        tx, by, "device-change-ordered", "gateway", m.gateway().id(), c.words());
            }
            return new Ordered(setId, Jobs.add(tx, ChangeSetWork.order(setId)));
        });
    }

    private void check(List<Member> members) {
        Set<String> names = members.stream().map(m -> m.gateway().name()).collect(Collectors.toSet());
        if (names.size() < members.size()) {
            throw new Refused(Refused.Kind.CONFLICT, "a gateway is named twice; put its changes together");
        }
        for (Member m : members) {
            if (single.isByHand(m.gateway())) {
                throw new Refused(
                        Refused.Kind.CONFLICT,
                        "Tender does not write " + m.gateway().name()
                                + "; order its changes alone: they become instructions");
            }
            Change.apply(
                    records.device(m.gateway()), m.changes()); // what cannot be applied is refused before any device
        }
    }

    private static DeviceChange change(UUID setId, Member m, By by) {
        return new DeviceChange(
                Ids.next(),
                m.gateway().id(),
                m.gateway().name(),
                ChangeState.ORDERED,
                OfficeDocuments.CHANGES.write(m.changes()),
                String.join("; ", m.changes().stream().map(Change::words).toList()),
                "",
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                false,
                Optional.empty(),
                Optional.empty(),
                by.actor(),
                by.at(),
                Optional.empty(),
                Optional.of(setId));
    }
}
