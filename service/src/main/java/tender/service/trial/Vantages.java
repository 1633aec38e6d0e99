package tender.service.trial;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayFailure;
import tender.io.names.NameService;
import tender.service.office.OfficeRecords;
import tender.service.profile.Canaries;
import tender.service.profile.ProfileFiles;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.journal.By;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.trial.Trials;

/** Standing vantages: what they are handed for a trial. */
final class Vantages {
    /** The name of the vantage that the service itself is. */
    static final String SERVICE = "service";

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final ProfileFiles files;
    private final Canaries canaries;
    private final Delivery delivery;
    private final TrialRunner runner;
    private final Probing probing;
    private final TrialRecorder recorder;

    Vantages(
            Db db,
            Clock clock,
            Gateways gateways,
            ProfileFiles files,
            Canaries canaries,
            Delivery delivery,
            TrialRunner runner,
            OfficeRecords records,
            NameService names) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.files = files;
        this.canaries = canaries;
        this.delivery = delivery;
        this.runner = runner;
        this.probing = new Probing(db, records, names);
        this.recorder = new TrialRecorder(db, clock, records);
    }

    /** The listener's canary, or what to probe; empty where the trial cannot be made, which ends it. */
    Optional<Handed> handed(UUID trialId) {
        Trials.Trial trial = db.inTransaction(tx -> Trials.byId(tx, trialId)).orElseThrow();
        try {
            Listeners.Listener listener = db.inTransaction(tx -> Listeners.byId(tx, trial.listenerId()))
                    .orElseThrow();
            return Optional.of(
                    TrialKinds.isProbed(listener.protocol()) ? probe(trial, listener) : connect(trial, listener));
        } catch (GatewayFailure | MalformedException | Refused e) {
            db.run(tx -> {
                Trials.fail(tx, trialId, e.getMessage(), clock.instant());
                Events.say(tx, "trial", trialId);
            });
            return Optional.empty();
        }
    }

    private Handed probe(Trials.Trial trial, Listeners.Listener listener) {
        Handed.Probe probe = new Handed.Probe(trial.id(), trial.subject(), probing.probe(listener, clock.instant()));
        recorder.probes(trial);
        return probe;
    }

    private Handed connect(Trials.Trial trial, Listeners.Listener listener) {
        Profiles.Profile made = canaries.of(listener.id(), By.tender(clock.instant()));
        delivery.now(listener.gatewayId());
        ProfileFiles.Newest canary = files.newest(made.id());
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, listener.gatewayId())).orElseThrow();
        recorder.runsElsewhere(
                trial,
                canary,
                trial.profileId().map(id -> files.newest(id).revision().id()));
        return new Handed.Connect(
                trial.id(),
                trial.subject(),
                canary.content(),
                files.account(canary.profile()),
                gateway.insideHost(),
                runner.wanted(trial));
    }

    /**
     * A standing vantage that does not ask for work takes no trial.
     *
     * @throws Refused where there is none of the name, or it was not heard lately
     */
    void requireStanding(String name, Instant now) {
        Optional<Instant> heard = db.inTransaction(tx -> Trials.heardAt(tx, name));
        if (heard.isEmpty()) {
            throw new Refused(
                    Refused.Kind.NOT_FOUND, "no vantage of that name ever stood; see tender vantage list", "from");
        }
        if (heard.get().isBefore(now.minus(HandedTrial.PATIENCE))) {
            throw new Refused(
                    Refused.Kind.CONFLICT,
                    name + " was heard last at " + heard.get() + "; start it there: tender vantage run",
                    "from");
        }
    }

    List<Trials.Vantage> all() {
        return db.inTransaction(Trials::vantages);
    }

    /** A standing vantage asks for work. */
    void heard(String name, Instant now) {
        db.run(tx -> Trials.heard(tx, name, now));
    }
}
