package tender.service.change;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.office.ListenerChange;
import tender.service.job.JobKind;
import tender.store.change.DeviceChanges;
import tender.store.change.DeviceChanges.DeviceChange;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.ListenerProfiles;

/** Removes old listeners that were replaced by new ones: when the last user has moved, or on the date that was set. */
final class ListenerRemoval implements JobKind {
    static final String NAME = "removing";

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final ChangeOrdering ordering;

    ListenerRemoval(Db db, Clock clock, Gateways gateways, ChangeOrdering ordering) {
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
        for (DeviceChange c : db.inTransaction(DeviceChanges::removing)) {
            look(c);
        }
    }

    private void look(DeviceChange c) {
        Instant now = clock.instant();
        String old = c.removeWhenUnused().orElseThrow();
        Optional<Listeners.Listener> listener =
                db.inTransaction(tx -> Listeners.of(tx, List.of(c.gatewayId()))).stream()
                        .filter(l -> l.name().equals(old) && !l.gone())
                        .findFirst();
        if (listener.isEmpty()) {
            db.run(tx -> DeviceChanges.removed(tx, c.id(), old + " is gone"));
            return;
        }
        List<String> left = db.inTransaction(
                tx -> ListenerProfiles.usersLeft(tx, listener.get().id()));
        boolean due = c.removeAt().filter(at -> !at.isAfter(now)).isPresent();
        if (!left.isEmpty() && !due) {
            return;
        }
        db.run(tx -> DeviceChanges.removed(
                tx, c.id(), old + " removed: " + (left.isEmpty() ? "its last user has moved" : "its date has come")));
        ordering.order(
                ChangeOrder.of(
                        db.inTransaction(tx -> gateways.byId(tx, c.gatewayId())).orElseThrow(),
                        new ListenerChange.RemoveListener(old),
                        left.isEmpty() ? "nobody uses it any more" : "its date has come",
                        By.tender(now)),
                now);
    }
}
