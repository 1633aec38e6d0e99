package tender.service.trial;

import com.fasterxml.jackson.core.type.TypeReference;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.TrialApi;
import tender.core.network.IpAddress;
import tender.core.trial.Cause;
import tender.core.trial.Certainty;
import tender.core.trial.Claim;
import tender.core.trial.Claims;
import tender.core.trial.Exit;
import tender.core.trial.Ladder;
import tender.core.trial.Measured;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.trial.Verdict;
import tender.core.wire.Fields;
import tender.service.http.Json;
import tender.service.office.OfficeRecords;
import tender.service.profile.ByHand;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.trial.Trials;

/** Keeps what came of trials, and reads it again. */
final class TrialRecorder {
    private static final int EARLIER = 30;

    private final Db db;
    private final Clock clock;
    private final OfficeRecords records;

    TrialRecorder(Db db, Clock clock, OfficeRecords records) {
        this.db = db;
        this.clock = clock;
        this.records = records;
    }

    /** Ends a trial that the service made. */
    void end(UUID trialId, Ladder ladder, Claims claims, Optional<Long> received, Optional<Measured> measured) {
        List<Trials.RungRow> rows =
                ladder.rungs().stream().map(r -> row(trialId, r)).toList();
        Trials.Shown shown = shown(ladder, claims, true);
        db.run(tx -> {
            Trials.byId(tx, trialId)
                    .flatMap(Trials.Trial::profileId)
                    .ifPresent(id ->
                            ByHand.tried(tx, id, claims.shows(Claim.Kind.CONNECTS), causes(ladder), clock.instant()));
            Trials.end(
                    tx,
                    trialId,
                    rows,
                    shown,
                    received,
                    measured.map(m -> Json.text(inContext(tx, trialId, m))),
                    clock.instant());
            Events.say(tx, "trial", trialId.toString());
        });
    }

    /** @param recorded whether the host inside is the one that the gateway's records name */
    static Trials.Shown shown(Ladder ladder, Claims claims, boolean recorded) {
        return new Trials.Shown(
                claims.areShown(),
                Json.text(claims.all().stream().map(TrialRecorder::claim).toList()),
                claims.ofProfile(ladder, recorded));
    }

    private static TrialApi.Claim claim(Claim c) {
        return new TrialApi.Claim(c.kind().name().toLowerCase(Locale.ROOT), c.shown(), c.said());
    }

    static List<TrialApi.Claim> claims(Trials.Trial trial) {
        return Json.readOwn(trial.claims(), new TypeReference<List<TrialApi.Claim>>() {});
    }

    /** The result in a line; empty while a trial runs. */
    static String result(List<TrialApi.Claim> claims) {
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

    private static Trials.RungRow row(UUID trialId, RungResult r) {
        List<TrialApi.Cause> causes = r.causes().stream()
                .map(c -> new TrialApi.Cause(
                        c.code(), c.certainty().name().toLowerCase(Locale.ROOT), c.what(), c.remedy()))
                .toList();
        return new Trials.RungRow(
                trialId,
                r.rung().ordinal(),
                r.rung().name(),
                r.verdict().name(),
                r.millis(),
                r.detail(),
                Json.text(causes));
    }

    static Ladder ladder(List<Trials.RungRow> rows) {
        return new Ladder(rows.stream()
                .map(r -> new RungResult(
                        Rung.valueOf(r.rung()),
                        Verdict.valueOf(r.verdict()),
                        r.millis(),
                        r.detail(),
                        Json.readOwn(r.causes(), new TypeReference<List<TrialApi.Cause>>() {}).stream()
                                .map(c -> new Cause(c.code(), Certainty.POSSIBLE, c.what(), c.remedy()))
                                .toList()))
                .toList());
    }

    /** What was measured elsewhere, as far as claims rest on it. */
    static Optional<Measured> facts(Optional<TrialApi.Measured> told) {
        return told.map(m -> new Measured(
                List.of(),
                0,
                Optional.empty(),
                m.name()
                        .map(n -> new Measured.InsideName(
                                n.name(),
                                address("measured.name.server", n.server()),
                                n.answered(),
                                n.address().map(a -> address("measured.name.address", a)))),
                m.exit()
                        .map(e -> new Exit(
                                e.full(),
                                e.direct().map(a -> address("measured.exit.direct", a)),
                                e.through().map(a -> address("measured.exit.through", a)))),
                Optional.empty()));
    }

    private static IpAddress address(String field, String text) {
        return Fields.parse(field, text, IpAddress::parse);
    }

    /** A rate beside what the gateway's line takes and what was measured before from here. */
    private TrialApi.Measured inContext(Tx tx, UUID trialId, Measured m) {
        if (m.transfer().isEmpty()) {
            return TrialApi.Measured.of(m);
        }
        Trials.Trial trial = Trials.byId(tx, trialId).orElseThrow();
        List<Double> earlier = Trials.ofListener(tx, trial.listenerId(), EARLIER).stream()
                .filter(t -> t.vantage().equals(trial.vantage()))
                .flatMap(t -> t.measured().stream())
                .flatMap(text -> Json.readOwn(text, new TypeReference<TrialApi.Measured>() {}).transfer().stream())
                .map(TrialApi.Transfer::megabits)
                .toList();
        OptionalInt line = records.withoutHoldings(tx, clock.instant())
                .gateway(trial.gateway())
                .flatMap(g -> g.uplinks().stream().findFirst())
                .map(u -> OptionalInt.of(Math.min(u.downMegabits(), u.upMegabits())))
                .orElse(OptionalInt.empty());
        return TrialApi.Measured.of(m, line, earlier);
    }
}
