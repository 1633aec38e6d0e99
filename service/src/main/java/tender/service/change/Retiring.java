package tender.service.change;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.office.Change;
import tender.service.job.JobKind;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.ListenerProfiles;

/** Retires old listeners side by side with new ones: when the last holder has moved, or on the date that was set. */
final class Retiring implements JobKind {
    static final String NAME = "retiring";

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final ChangeOrdering ordering;

    Retiring(Db db, Clock clock, Gateways gateways, ChangeOrdering ordering) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.ordering = ordering;
    }

    static void ensure(Tx tx, Duration every) {
        Jobs.keepRunning(tx, NAME, every);
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        for (DeviceChange c : db.inTransaction(DeviceChanges::retiring)) {
            look(c);
        }
    }

    private void look(DeviceChange c) {
        Instant now = clock.instant();
        String old = c.retires().orElseThrow();
        Optional<Listeners.Listener> listener =
                db.inTransaction(tx -> Listeners.of(tx, List.of(c.gatewayId()))).stream()
                        .filter(l -> l.name().equals(old) && !l.gone())
                        .findFirst();
        if (listener.isEmpty()) {
            db.run(tx -> DeviceChanges.retired(tx, c.id(), old + " is gone"));
            return;
        }
        List<String> left = db.inTransaction(
                tx -> ListenerProfiles.holdersLeft(tx, listener.get().id()));
        boolean due = c.retireAt().filter(at -> !at.isAfter(now)).isPresent();
        if (!left.isEmpty() && !due) {
            return;
        }
        db.run(tx -> DeviceChanges.retired(
                tx, c.id(), old + " retired: " + (left.isEmpty() ? "its last holder has moved" : "its date has come")));
        ordering.order(
                ChangeOrder.of(
                        db.inTransaction(tx -> gateways.byId(tx, c.gatewayId())).orElseThrow(),
                        new Change.Retire(old),
                        "tender",
                        now),
                now);
    }
}
