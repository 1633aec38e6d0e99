package tender.service.instruction;

import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.network.Transport;
import tender.core.office.Change;
import tender.core.office.HandSteps;
import tender.core.office.PortRange;
import tender.io.gateway.GatewayFailure;
import tender.service.gateway.GatewayReading;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.office.OfficeDocuments;
import tender.service.trial.ListenerProof;
import tender.store.change.HandChanges;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.office.Gateways;
import tender.store.office.Listeners;

/**
 * Finds out whether a change is made that somebody says to have made by hand. A gateway that Tender reads is read. At one that is
 * managed by hand the listeners are tried that the change is about, with files made for them as they should be now; where a trial
 * shows otherwise, the instruction is open again.
 */
final class HandChangeCheck implements JobKind {
    private static final String NAME = "hand-change-check";

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final GatewayReading reading;
    private final ListenerProof proof;

    HandChangeCheck(Db db, Clock clock, Gateways gateways, GatewayReading reading, ListenerProof proof) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.reading = reading;
        this.proof = proof;
    }

    static UUID order(Tx tx, UUID changeId) {
        return Jobs.add(
                tx,
                Jobs.Order.once(NAME, changeId.toString(), NAME + ":" + changeId)
                        .attempts(1));
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
        Optional<HandChanges.HandChange> open = db.inTransaction(tx -> HandChanges.byId(tx, id));
        if (open.isEmpty()) {
            return; // shown or cancelled meanwhile
        }
        Gateways.Gateway gateway = db.inTransaction(
                        tx -> gateways.byId(tx, open.get().gatewayId()))
                .orElseThrow();
        progress.at(20, gateway.isManual() ? "trying what the change is about" : "reading the gateway");
        if (gateway.isManual()) {
            tried(open.get(), gateway);
        } else {
            read(open.get(), gateway);
        }
    }

    private void read(HandChanges.HandChange c, Gateways.Gateway gateway) {
        String found = "the gateway does not show it";
        try {
            reading.read(gateway.id(), "after a change by hand", "tender");
        } catch (GatewayFailure e) {
            found = "the gateway cannot be read: " + e.getMessage();
        }
        open(c.id(), found);
    }

    /** Where it is still open, that is what was found. */
    private void open(UUID id, String found) {
        db.run(tx -> HandChanges.byId(tx, id).ifPresent(c -> {
            HandChanges.found(tx, id, found);
            Events.say(tx, "gateway", c.gatewayId());
        }));
    }

    private void tried(HandChanges.HandChange c, Gateways.Gateway gateway) {
        List<String> shown = new ArrayList<>();
        List<String> untried = new ArrayList<>();
        for (Change change : OfficeDocuments.CHANGES.read(c.changes())) {
            HandSteps.Tries tries = HandSteps.of(change).tries();
            for (Listeners.Listener l : showing(tries, gateway)) {
                ListenerProof.Shown s = proof.of(l, tries, l.name() + ", whether a change by hand is made");
                if (s.works().isPresent() && !s.works().get() || s.onlyOthers()) {
                    open(c.id(), s.words());
                    return;
                }
                (s.works().isPresent() ? shown : untried).add(s.words());
            }
        }
        String how = shown.isEmpty()
                ? "as " + c.claimed().orElse("somebody") + " says; no trial shows it"
                        + (untried.isEmpty() ? "" : ": " + String.join("; ", untried))
                : "shown by trials: " + String.join("; ", shown);
        db.run(tx -> HandChanges.byId(tx, c.id()).ifPresent(o -> HandChangeShown.done(tx, o, how, clock.instant())));
    }

    /** The listeners that can show a change: the one that it names, or those whose packets it lets in. */
    private List<Listeners.Listener> showing(HandSteps.Tries tries, Gateways.Gateway gateway) {
        return tries.opened()
                .map(o -> behind(gateway, o.transport(), o.ports()))
                .orElseGet(() -> db.inTransaction(tx -> Listeners.of(tx, List.of(gateway.id()))).stream()
                        .filter(l -> !l.gone() && tries.listener().equals(Optional.of(l.name())))
                        .toList());
    }

    /** Listeners of a gateway and of those behind it that take packets at these ports. */
    private List<Listeners.Listener> behind(Gateways.Gateway gateway, Transport transport, PortRange ports) {
        return db
                .inTransaction(tx -> {
                    List<UUID> ids = new ArrayList<>(List.of(gateway.id()));
                    gateways.directlyBehind(tx, gateway.name()).forEach(g -> ids.add(g.id()));
                    return Listeners.of(tx, ids);
                })
                .stream()
                .filter(l -> !l.gone() && l.transport() == transport && ports.contains(l.port()))
                .toList();
    }
}
