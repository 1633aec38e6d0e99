package tender.service.trial;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.network.IpAddress;
import tender.core.trial.Claim;
import tender.core.trial.Claims;
import tender.core.trial.Ladder;
import tender.service.profile.ByHand;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.trial.TrialState;
import tender.store.trial.Trials;

/** What came of trials made elsewhere: by standing vantages, and with files on people's own machines. */
final class ElsewhereTrials {
    private static final Duration SIDE_BY_SIDE = Duration.ofHours(1);
    private static final int ADD_LISTENER = 20;
    private static final Set<ProfileState> OVER =
            Set.of(ProfileState.WITHDRAWN, ProfileState.WITHDRAWING, ProfileState.CLOSING);

    private final Db db;
    private final Gateways gateways;
    private final TrialRunner runner;

    ElsewhereTrials(Db db, Gateways gateways, TrialRunner runner) {
        this.db = db;
        this.gateways = gateways;
        this.runner = runner;
    }

    /**
     * Ends a trial that was handed to a standing vantage.
     *
     * @throws Refused where no such trial runs at that vantage
     */
    void end(UUID trialId, String vantage, TrialReport report, Instant now) {
        Trials.Trial trial = db.inTransaction(tx -> Trials.byId(tx, trialId))
                .filter(t -> t.vantage().equals(vantage) && t.state() == TrialState.RUNNING)
                .orElseThrow(() -> Refused.notFound("trial of this vantage"));
        Trials.Shown shown = TrialRecorder.shown(report.ladder(), claims(trial, report), true);
        Optional<String> beside = sideBySide(trial, shown.all(), now);
        db.run(tx -> {
            Trials.end(
                    tx,
                    new Trials.Ending(
                            trialId,
                            TrialRecorder.rows(trialId, report.rungs()),
                            shown,
                            Optional.empty(),
                            report.measured(),
                            now));
            beside.ifPresent(note -> Trials.note(tx, trialId, note));
            Events.say(tx, "trial", trialId);
        });
        saw(trial.listenerId(), report);
    }

    private Claims claims(Trials.Trial trial, TrialReport report) {
        if (TrialKinds.isProbed(trial.protocol())) {
            return Claims.ofProbe(report.ladder());
        }
        Gateways.Gateway gateway = db.inTransaction(tx -> gateways.byName(tx, trial.gateway()))
                .orElseThrow(() -> Refused.notFound("gateway"));
        return Claims.of(
                report.ladder(),
                gateway.insideHost(),
                runner.wanted(trial),
                report.measured().map(KeptMeasure::facts));
    }

    /** What inside and outside say together. */
    private Optional<String> sideBySide(Trials.Trial outside, boolean proven, Instant now) {
        if (proven) {
            return Optional.empty();
        }
        return db.inTransaction(tx -> Trials.ofListener(tx, outside.listenerId(), ADD_LISTENER)).stream()
                .filter(t -> t.vantage().equals(Vantages.SERVICE)
                        && t.proven().orElse(false)
                        && t.createdAt().isAfter(now.minus(SIDE_BY_SIDE)))
                .findFirst()
                .map(t -> "it works from the service and not from " + outside.vantage()
                        + ": the listener is well, and the way to it from there is shut");
    }

    /**
     * A trial that was kept for a file tried elsewhere.
     *
     * @param note what the records say of the file: that it is not the newest, or was withdrawn
     */
    record Kept(UUID trialId, Optional<String> note) {}

    /**
     * Keeps what came of a file that somebody tried on a machine of theirs; empty where no file of ours has the digest.
     *
     * @param digest SHA-256 in hexadecimal
     */
    Optional<Kept> ofFile(String digest, TrialReport.Asked asked, TrialReport report, String name, By by) {
        Optional<Revisions.KnownFile> known = db.inTransaction(tx -> Revisions.ofDigest(tx, digest));
        return known.map(file -> keep(file, asked, report, name, by));
    }

    private Kept keep(Revisions.KnownFile file, TrialReport.Asked asked, TrialReport report, String name, By by) {
        UUID id = Ids.next();
        Profiles.Profile profile =
                db.inTransaction(tx -> Profiles.byId(tx, file.profileId())).orElseThrow();
        Ladder ladder = report.ladder();
        Claims claims = Claims.of(
                        ladder,
                        asked.insideHost(),
                        asked.wanted(),
                        report.measured().map(KeptMeasure::facts))
                .refused(asked.refusal());
        boolean connects = claims.shows(Claim.Kind.CONNECTS);
        Trials.Shown shown = TrialRecorder.shown(ladder, claims, isRecorded(profile, asked.insideHost()));
        Optional<String> note = stale(file, profile, connects);
        db.run(tx -> {
            Trials.insert(tx, order(id, profile, file, name), by.at());
            Trials.ofRevision(tx, id, file.revisionId());
            Trials.end(
                    tx,
                    new Trials.Ending(
                            id,
                            TrialRecorder.rows(id, report.rungs()),
                            shown,
                            Optional.empty(),
                            report.measured(),
                            by.at()));
            note.ifPresent(n -> Trials.note(tx, id, n));
            ByHand.tried(tx, profile.id(), connects, TrialRecorder.causes(ladder), by.at());
            Events.say(tx, "trial", id);
            Journal.append(tx, by, "trial-reported", "profile", profile.id(), shown.all() ? "proven" : "not proven");
        });
        saw(profile.listenerId(), report);
        return new Kept(id, note);
    }

    private void saw(UUID listenerId, TrialReport report) {
        db.inTransaction(tx -> Listeners.byId(tx, listenerId)).ifPresent(l -> runner.saw(l, report.observed()));
    }

    private static Trials.Order order(UUID id, Profiles.Profile profile, Revisions.KnownFile file, String name) {
        return new Trials.Order(
                id,
                Optional.of(profile.id()),
                Optional.empty(),
                "machine of " + name,
                "client",
                profile.label() + " at " + profile.gateway(),
                "this very file, told by its digest, revision " + file.number(),
                Optional.empty());
    }

    private boolean isRecorded(Profiles.Profile profile, Optional<IpAddress> host) {
        return host.isPresent()
                && host.equals(db.inTransaction(tx -> gateways.byId(tx, profile.gatewayId()))
                        .flatMap(Gateways.Gateway::insideHost));
    }

    /** What the records say of a file that was tried elsewhere: often all that was wrong. */
    private static Optional<String> stale(Revisions.KnownFile file, Profiles.Profile profile, boolean proven) {
        if (OVER.contains(profile.state())) {
            return Optional.of(profile.label() + " was withdrawn"
                    + (proven ? " and still gets in: the gateway has to be told" : ", so that nobody gets in by it"));
        }
        return file.number() < file.newest()
                ? Optional.of("this file is revision " + file.number() + " of " + profile.label() + ", the newest is "
                        + file.newest() + ": hand that one out")
                : Optional.empty();
    }
}
