package tender.service.trial;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.trial.Rung;
import tender.core.trial.Verdict;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayFailure;
import tender.service.profile.Canaries;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.By;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.trial.TrialDocuments;
import tender.store.trial.Trials;

/** Tries listeners with their canaries: on a schedule, and after a change. */
public final class CanaryTrials {
    private static final Logger LOG = LoggerFactory.getLogger(CanaryTrials.class);
    private static final int ECHOES = 5;
    private static final int KEPT = 50;

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final Canaries canaries;
    private final Delivery delivery;
    private final TrialRunner runner;

    CanaryTrials(Db db, Clock clock, Gateways gateways, Canaries canaries, Delivery delivery, TrialRunner runner) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.canaries = canaries;
        this.delivery = delivery;
        this.runner = runner;
    }

    /**
     * Tries a listener with its canary, made for the listener as it is now, and keeps the trial; empty where it cannot be
     * tried at all.
     *
     * @param delivered lets the canary in; a job of the gateway itself does that at once, and cannot wait for another
     */
    public Optional<Boolean> prove(UUID listenerId, String why, Delivery delivered) {
        try {
            Profiles.Profile canary = canaries.of(listenerId, By.tender(clock.instant()));
            delivered.now(canary.gatewayId());
            canaries.afresh(canary.id(), clock.instant());
            return tried(canary, why, Optional.empty()).proven();
        } catch (GatewayFailure | MalformedException | Refused e) {
            LOG.info("the listener cannot be tried {}: {}", why, e.getMessage());
            return Optional.empty();
        }
    }

    /** How a scheduled trial of a listener went; why and what to do where it was not proven. */
    public record Outcome(
            UUID trialId,
            boolean proven,
            long millis,
            Optional<Double> echoMillis,
            Optional<String> rung,
            Optional<String> cause,
            Optional<String> remedy) {}

    /**
     * Tries a listener with its canary; a try that fails is made once more with a file made for the listener as it is now.
     *
     * @throws Refused where it cannot be tried at all
     * @throws GatewayFailure where its canary cannot be let in
     */
    public Outcome scheduled(UUID listenerId) {
        Listeners.Listener listener =
                db.inTransaction(tx -> Listeners.byId(tx, listenerId)).orElseThrow();
        if (TrialKinds.isProbed(listener.protocol())) {
            Trials.Trial trial = probed(listener, "on its schedule");
            return kept(
                    listenerId,
                    trial.proven().orElse(false) ? trial : probed(listener, "on its schedule, tried again"));
        }
        refuseCarried(listener);
        Profiles.Profile canary = canaries.of(listenerId, By.tender(clock.instant()));
        delivery.now(canary.gatewayId());
        Optional<TrialDocuments.Asked> asked = Optional.of(new TrialDocuments.Asked(ECHOES, false, Optional.empty()));
        Trials.Trial trial = tried(canary, "on its schedule", asked);
        if (!trial.proven().orElse(false)) {
            canaries.afresh(canary.id(), clock.instant());
            trial = tried(canary, "on its schedule, tried again", asked);
        }
        return kept(canary.id(), trial);
    }

    /** A canary has to be let in at the gateway, which cannot be where files are carried to and fro by hand. */
    private void refuseCarried(Listeners.Listener listener) {
        db.inTransaction(tx -> gateways.byId(tx, listener.gatewayId()))
                .filter(g -> g.connector().equals("file"))
                .ifPresent(g -> {
                    throw new Refused(
                            Refused.Kind.CONFLICT,
                            g.name()
                                    + " is known from dropped files alone, so that no canary can be let in there; try a profile of somebody's",
                            "gateway");
                });
    }

    private Outcome kept(UUID of, Trials.Trial trial) {
        db.run(tx -> Trials.keepNewest(tx, of, KEPT));
        List<Trials.RungRow> rungs = db.inTransaction(tx -> Trials.rungs(tx, List.of(trial.id())));
        Optional<Trials.RungRow> failed =
                rungs.stream().filter(r -> r.verdict() == Verdict.FAILS).findFirst();
        Optional<TrialDocuments.Cause> cause =
                failed.flatMap(r -> r.causes().stream().findFirst());
        return new Outcome(
                trial.id(),
                trial.proven().orElse(false),
                rungs.stream().mapToLong(Trials.RungRow::millis).sum(),
                trial.measured().map(TrialDocuments.Measured::meanMillis),
                failed.map(Trials.RungRow::rung).map(Rung::label),
                cause.map(TrialDocuments.Cause::what),
                cause.map(TrialDocuments.Cause::remedy));
    }

    private Trials.Trial tried(Profiles.Profile canary, String why, Optional<TrialDocuments.Asked> asked) {
        return made(new Trials.Order(
                Ids.next(),
                Optional.of(canary.id()),
                Optional.empty(),
                Vantages.SERVICE,
                "service",
                canary.gateway() + " " + canary.listener() + ", " + why,
                "",
                asked));
    }

    private Trials.Trial probed(Listeners.Listener listener, String why) {
        return made(new Trials.Order(
                Ids.next(),
                Optional.empty(),
                Optional.of(listener.id()),
                Vantages.SERVICE,
                "service",
                listener.gateway() + " " + listener.name() + ", " + why,
                "",
                Optional.empty()));
    }

    private Trials.Trial made(Trials.Order order) {
        db.run(tx -> Trials.insert(tx, order, clock.instant()));
        runner.run(db.inTransaction(tx -> Trials.byId(tx, order.id())).orElseThrow());
        return db.inTransaction(tx -> Trials.byId(tx, order.id())).orElseThrow();
    }
}
