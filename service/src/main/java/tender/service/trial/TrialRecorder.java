package tender.service.trial;

import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.trial.Cause;
import tender.core.trial.Certainty;
import tender.core.trial.Claim;
import tender.core.trial.Claims;
import tender.core.trial.Ladder;
import tender.core.trial.Measured;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.service.office.OfficeRecords;
import tender.service.profile.ByHand;
import tender.service.profile.ProfileFiles;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.profile.ProfileOrigin;
import tender.store.trial.TrialDocuments;
import tender.store.trial.Trials;

/** Keeps how far trials are and what came of them, and reads it again. */
final class TrialRecorder {
    private static final int EARLIER = 30;
    private static final String PROBE = "an answer to a stranger; nobody's account was used";

    private final Db db;
    private final Clock clock;
    private final OfficeRecords records;

    TrialRecorder(Db db, Clock clock, OfficeRecords records) {
        this.db = db;
        this.clock = clock;
        this.records = records;
    }

    /** A listener is probed, by nobody in particular. */
    void probes(Trials.Trial trial) {
        running(trial, Optional.empty(), Optional.empty(), PROBE, Optional.empty());
    }

    /** @param connected whether the profile's device is, so that its listener's canary is tried in its place */
    void runs(Trials.Trial trial, ProfileFiles.Newest asked, ProfileFiles.Newest tried, boolean connected) {
        Optional<String> note = connected
                ? Optional.of(asked.profile().label()
                        + " is connected now and was left alone; the listener was tried with a canary of Tender's own")
                : Optional.empty();
        String restsOn = tried.profile().origin() == ProfileOrigin.CANARY
                ? canary(tried)
                : "this profile, revision " + tried.revision().number();
        running(
                trial,
                Optional.of(tried.profile().id()),
                Optional.of(asked.revision().id()),
                restsOn,
                note);
    }

    /** @param revision the newest of the trial's profile, where it is of one */
    void runsElsewhere(Trials.Trial trial, ProfileFiles.Newest canary, Optional<UUID> revision) {
        running(trial, Optional.of(canary.profile().id()), revision, canary(canary), Optional.empty());
    }

    private static String canary(ProfileFiles.Newest tried) {
        return "a canary, " + tried.profile().label();
    }

    private void running(
            Trials.Trial trial, Optional<UUID> tried, Optional<UUID> revision, String restsOn, Optional<String> note) {
        db.run(tx -> {
            Trials.running(tx, trial.id(), tried, revision, restsOn, note);
            Events.say(tx, "trial", trial.id());
        });
    }

    /** Says at which rung a running trial is. */
    void at(UUID trialId, Rung rung) {
        db.run(tx -> {
            Trials.at(tx, trialId, rung);
            Events.say(tx, "trial", trialId);
        });
    }

    /**
     * Ends a trial that the service made.
     *
     * @param received the gateway's count of bytes from the tried key after the trial, where it was asked
     */
    void end(UUID trialId, Ladder ladder, Claims claims, Optional<Long> received, Optional<Measured> measured) {
        List<Trials.RungRow> rows = rows(trialId, ladder.rungs());
        Trials.Shown shown = shown(ladder, claims, true);
        db.run(tx -> {
            Trials.byId(tx, trialId)
                    .flatMap(Trials.Trial::profileId)
                    .ifPresent(id ->
                            ByHand.tried(tx, id, claims.shows(Claim.Kind.CONNECTS), causes(ladder), clock.instant()));
            Trials.end(
                    tx,
                    new Trials.Ending(
                            trialId,
                            rows,
                            shown,
                            received,
                            measured.map(m -> inContext(tx, trialId, m)),
                            clock.instant()));
            Events.say(tx, "trial", trialId);
        });
    }

    /** @param recorded whether the host inside is the one that the gateway's records name */
    static Trials.Shown shown(Ladder ladder, Claims claims, boolean recorded) {
        return new Trials.Shown(
                claims.areShown(),
                claims.all().stream()
                        .map(c -> new TrialDocuments.Claim(word(c.kind()), c.shown(), c.said()))
                        .toList(),
                claims.ofProfile(ladder, recorded));
    }

    /** The result in a line; empty while a trial runs. */
    static String result(List<TrialDocuments.Claim> claims) {
        return new Claims(claims.stream()
                        .map(c -> new Claim(
                                Claim.Kind.valueOf(c.kind().toUpperCase(Locale.ROOT)), c.shown(), c.words(), c.words()))
                        .toList())
                .words();
    }

    static Set<String> causes(Ladder ladder) {
        return ladder.failure().stream()
                .flatMap(r -> r.causes().stream())
                .map(Cause::code)
                .collect(Collectors.toSet());
    }

    static List<Trials.RungRow> rows(UUID trialId, List<RungResult> rungs) {
        return rungs.stream()
                .map(r -> new Trials.RungRow(
                        trialId,
                        r.rung().ordinal(),
                        r.rung(),
                        r.verdict(),
                        r.millis(),
                        r.detail(),
                        r.causes().stream()
                                .map(c -> new TrialDocuments.Cause(c.code(), word(c.certainty()), c.what(), c.remedy()))
                                .toList()))
                .toList();
    }

    private static String word(Enum<?> value) {
        return value.name().toLowerCase(Locale.ROOT);
    }

    static Ladder ladder(List<Trials.RungRow> rows) {
        return new Ladder(rows.stream()
                .map(r -> new RungResult(
                        r.rung(),
                        r.verdict(),
                        r.millis(),
                        r.detail(),
                        r.causes().stream().map(TrialRecorder::cause).toList()))
                .toList());
    }

    private static Cause cause(TrialDocuments.Cause c) {
        return new Cause(c.code(), Certainty.valueOf(c.certainty().toUpperCase(Locale.ROOT)), c.what(), c.remedy());
    }

    /** A rate beside what the gateway's line takes and what was measured before from here. */
    private TrialDocuments.Measured inContext(Tx tx, UUID trialId, Measured m) {
        if (m.transfer().isEmpty()) {
            return KeptMeasure.of(m, OptionalInt.empty(), List.of());
        }
        Trials.Trial trial = Trials.byId(tx, trialId).orElseThrow();
        List<Double> earlier = Trials.ofListener(tx, trial.listenerId(), EARLIER).stream()
                .filter(t -> t.vantage().equals(trial.vantage()))
                .flatMap(t -> t.measured().stream())
                .flatMap(kept -> kept.transfer().stream())
                .map(TrialDocuments.Transfer::megabits)
                .toList();
        OptionalInt line = records.withoutProfiles(tx, clock.instant())
                .gateway(trial.gateway())
                .flatMap(g -> g.uplinks().stream().findFirst())
                .map(u -> OptionalInt.of(Math.min(u.downMegabits(), u.upMegabits())))
                .orElse(OptionalInt.empty());
        return KeptMeasure.of(m, line, earlier);
    }
}
