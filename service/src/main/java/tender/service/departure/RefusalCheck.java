package tender.service.departure;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.io.gateway.GatewayFailure;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.trial.RefusalProof;
import tender.store.credential.Credentials;
import tender.store.departure.Departures;
import tender.store.departure.RefusalState;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.profile.ProfileState;

/**
 * Shows by trials that withdrawn profiles are refused, as soon as their gateways show that they are gone, and again until it is shown.
 * Then what was held of their credentials is erased.
 */
final class RefusalCheck implements JobKind {
    private static final String NAME = "refusal-check";
    private static final Duration EVERY = Duration.ofSeconds(20);
    private static final int AT_ONCE = 20;

    private final Db db;
    private final Clock clock;
    private final RefusalProof proof;

    RefusalCheck(Db db, Clock clock, RefusalProof proof) {
        this.db = db;
        this.clock = clock;
        this.proof = proof;
    }

    static void ensure(Tx tx) {
        Jobs.keepRunning(tx, NAME, EVERY);
    }

    /** Looks at a departure now; gives the job. */
    static UUID soon(Tx tx, UUID departureId) {
        return Jobs.add(
                tx,
                Jobs.Order.once(NAME, departureId.toString(), NAME + ":" + departureId)
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
        List<Departures.Refusal> open = db.inTransaction(tx -> job.payload().isEmpty()
                ? Departures.due(tx, clock.instant(), AT_ONCE)
                : Departures.refusals(tx, UUID.fromString(job.payload())).stream()
                        .filter(r -> r.shown() == RefusalState.OPEN && isGone(r))
                        .toList());
        for (int i = 0; i < open.size(); i++) {
            progress.at(100 * i / open.size(), "profile " + (i + 1) + " of " + open.size());
            check(open.get(i));
        }
    }

    /** Whether the gateway shows that it is gone, or somebody is to close it there by hand. */
    private static boolean isGone(Departures.Refusal r) {
        return r.state() == ProfileState.WITHDRAWN || r.state() == ProfileState.CLOSING;
    }

    private void check(Departures.Refusal r) {
        RefusalProof.Shown shown;
        try {
            shown = proof.of(r.profileId(), r.listenerId(), r.label() + ", whether it is refused after leaving");
        } catch (GatewayFailure e) {
            db.run(tx -> Departures.found(
                    tx, r, new Departures.Found(RefusalState.OPEN, Optional.empty(), e.getMessage()), clock.instant()));
            return; // the next one may be at another gateway
        }
        // what is to be closed by hand is open until it is closed, whether or not a trial can show it
        RefusalState state = shown.refused()
                ? RefusalState.REFUSED
                : !shown.triable() && r.state() == ProfileState.WITHDRAWN
                        ? RefusalState.NOT_TRIABLE
                        : RefusalState.OPEN;
        db.run(tx -> {
            Departures.found(tx, r, new Departures.Found(state, shown.control(), shown.words()), clock.instant());
            if (state != RefusalState.OPEN) {
                Credentials.erase(tx, r.profileId());
            }
            if (state == RefusalState.REFUSED) {
                Journal.append(
                        tx, By.tender(clock.instant()), "refusal-shown", "profile", r.profileId(), shown.words());
            }
            Events.say(tx, "profile", r.profileId());
        });
    }
}
