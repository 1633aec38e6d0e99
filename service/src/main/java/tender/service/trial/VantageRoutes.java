package tender.service.trial;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.api.Page;
import tender.api.TrialApi;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.trial.Claim;
import tender.core.trial.Claims;
import tender.core.trial.Ladder;
import tender.core.trial.Rung;
import tender.core.trial.Verdict;
import tender.core.trial.Wanted;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.core.wire.Problem;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Json;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.profile.ByHand;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.profile.ProfileState;
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.trial.Trials;

/**
 * Trials made elsewhere: a standing vantage takes those that wait for it and tells what came of them; anyone's client tells of
 * a file that was tried on its machine.
 */
public final class VantageRoutes {
    private static final Duration SIDE_BY_SIDE = Duration.ofHours(1);
    private static final int MAX_TEXT = 500;
    private static final int BESIDE = 20;
    private static final Set<ProfileState> OVER =
            Set.of(ProfileState.WITHDRAWN, ProfileState.WITHDRAWING, ProfileState.CLOSING);

    private final Db db;
    private final Gateways gateways;
    private final TrialJob trials;

    private final VantageWaits waits;

    public VantageRoutes(Db db, Gateways gateways, TrialJob trials, VantageWaits waits) {
        this.db = db;
        this.gateways = gateways;
        this.trials = trials;
        this.waits = waits;
    }

    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/vantages",
                        Role.READERS,
                        "Where trials are made from",
                        TrialApi.Vantage.class,
                        call -> Answer.ok(new Page<>(
                                db.inTransaction(Trials::vantages).stream()
                                        .map(v -> new TrialApi.Vantage(v.name(), v.kind(), v.heardAt(), v.trials()))
                                        .toList(),
                                Optional.empty()))),
                Route.post(
                        "/vantage/next",
                        Role.VANTAGES,
                        "The next trial for the standing vantage that asks; waits a while for one",
                        null,
                        TrialApi.Handed.class,
                        this::next),
                Route.post(
                        "/vantage/trials/{id}",
                        Role.VANTAGES,
                        "What came of a trial that was handed to a standing vantage",
                        TrialApi.Report.class,
                        null,
                        this::report),
                Route.post(
                        "/trials/reported",
                        Role.WRITERS,
                        "What came of a file of ours that was tried elsewhere; the file is known by its digest",
                        TrialApi.Report.class,
                        TrialApi.Reported.class,
                        this::reported));
    }

    private Answer next(Call call) {
        String name = call.caller().name();
        db.run(tx -> Trials.heard(tx, name, call.now()));
        return new Answer.Later(waits.next(name).thenApply(task -> Answer.ok(new TrialApi.Handed(task))));
    }

    private Answer report(Call call) {
        TrialApi.Report report = call.body(TrialApi.Report.class);
        Trials.Trial trial = db.inTransaction(tx -> Trials.byId(tx, call.id()))
                .filter(t ->
                        t.vantage().equals(call.caller().name()) && t.state().equals("running"))
                .orElseThrow(() -> ApiFailure.notFound("trial of this vantage"));
        List<Trials.RungRow> rungs = rungs(trial.id(), report);
        Ladder ladder = TrialRecorder.ladder(rungs);
        Claims claims = trials.claims(trial, ladder, report.measured());
        Trials.Shown shown = TrialRecorder.shown(ladder, claims, true);
        Optional<String> beside = sideBySide(trial, shown.all(), call.now());
        db.run(tx -> {
            Trials.end(
                    tx,
                    trial.id(),
                    rungs,
                    shown,
                    Optional.empty(),
                    report.measured().map(Json::text),
                    call.now());
            beside.ifPresent(note -> Trials.note(tx, trial.id(), note));
            Events.say(tx, "trial", trial.id().toString());
        });
        return Answer.done();
    }

    /** What inside and outside say together. */
    private Optional<String> sideBySide(Trials.Trial outside, boolean proven, Instant now) {
        if (proven) {
            return Optional.empty();
        }
        return db.inTransaction(tx -> Trials.ofListener(tx, outside.listenerId(), BESIDE)).stream()
                .filter(t -> t.vantage().equals(TrialRoutes.VANTAGE)
                        && t.proven().orElse(false)
                        && t.createdAt().isAfter(now.minus(SIDE_BY_SIDE)))
                .findFirst()
                .map(t -> "it works from the service and not from " + outside.vantage()
                        + ": the listener is well, and the way to it from there is shut");
    }

    private Answer reported(Call call) {
        TrialApi.Report report = call.body(TrialApi.Report.class);
        String digest = Fields.required("digest", report.digest().orElse(""));
        if (!digest.matches("[0-9a-f]{64}")) {
            throw new MalformedException("digest", "digest", "SHA-256 in hexadecimal");
        }
        Optional<Revisions.KnownFile> file = db.inTransaction(tx -> Revisions.ofDigest(tx, digest));
        if (file.isEmpty()) {
            return Answer.ok(new TrialApi.Reported(Optional.empty(), Optional.empty()));
        }
        UUID id = Ids.next();
        List<Trials.RungRow> rungs = rungs(id, report);
        Profiles.Profile profile = db.inTransaction(
                        tx -> Profiles.byId(tx, file.get().profileId()))
                .orElseThrow();
        Ladder ladder = TrialRecorder.ladder(rungs);
        Claims claims = claims(ladder, report);
        Optional<IpAddress> recorded =
                db.inTransaction(tx -> gateways.byId(tx, profile.gatewayId())).flatMap(Gateways.Gateway::insideHost);
        Optional<String> host = report.asked().flatMap(TrialApi.Asked::insideHost);
        boolean asRecorded = host.isPresent() && host.equals(recorded.map(IpAddress::toString));
        Trials.Shown shown = TrialRecorder.shown(ladder, claims, asRecorded);
        Optional<String> note = stale(file.get(), profile, claims.shows(Claim.Kind.CONNECTS));
        db.run(tx -> {
            Trials.insert(
                    tx,
                    new Trials.Order(
                            id,
                            Optional.of(profile.id()),
                            Optional.empty(),
                            "machine of " + call.caller().name(),
                            "client",
                            profile.label() + " at " + profile.gateway(),
                            "this very file, told by its digest, revision "
                                    + file.get().number(),
                            Optional.empty()),
                    call.now());
            Trials.ofRevision(tx, id, file.get().revisionId());
            Trials.end(tx, id, rungs, shown, Optional.empty(), report.measured().map(Json::text), call.now());
            note.ifPresent(n -> Trials.note(tx, id, n));
            ByHand.tried(tx, profile.id(), claims.shows(Claim.Kind.CONNECTS), TrialRecorder.causes(ladder), call.now());
            Events.say(tx, "trial", id.toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "trial-reported",
                    "profile",
                    profile.id().toString(),
                    shown.all() ? "proven" : "not proven");
        });
        return Answer.ok(new TrialApi.Reported(Optional.of(id.toString()), note));
    }

    private static Claims claims(Ladder ladder, TrialApi.Report report) {
        TrialApi.Asked asked = report.asked().orElse(TrialApi.Asked.NOTHING);
        return Claims.of(
                        ladder,
                        asked.insideHost().map(h -> Fields.parse("asked.insideHost", h, IpAddress::parse)),
                        new Wanted(
                                0,
                                false,
                                asked.insideName().map(n -> Fields.parse("asked.insideName", n, HostName::parse)),
                                asked.outside().map(o -> Fields.parse("asked.outside", o, IpAddress::parse)),
                                false),
                        TrialRecorder.facts(report.measured()))
                .refused(asked.refusal().map(r -> new Problem(0, "refused", cut(r))));
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

    /** Reads what a machine elsewhere says: rungs and verdicts by their words, texts cut to a length. */
    private static List<Trials.RungRow> rungs(UUID trialId, TrialApi.Report report) {
        List<Trials.RungRow> out = new ArrayList<>();
        Fields.range("rungs", report.rungs().size(), 1, Rung.values().length);
        for (TrialApi.Rung r : report.rungs()) {
            Rung rung = Rung.ofLabel(r.rung())
                    .orElseThrow(() -> new MalformedException("rung", "rungs", "there is no such rung"));
            Verdict verdict = Arrays.stream(Verdict.values())
                    .filter(v ->
                            v.name().toLowerCase(Locale.ROOT).replace('_', ' ').equals(r.verdict()))
                    .findFirst()
                    .orElseThrow(() -> new MalformedException("verdict", "rungs", "there is no such verdict"));
            List<TrialApi.Cause> causes = r.causes().stream()
                    .limit(10)
                    .map(c -> new TrialApi.Cause(cut(c.code()), cut(c.certainty()), cut(c.what()), cut(c.remedy())))
                    .toList();
            out.add(new Trials.RungRow(
                    trialId,
                    rung.ordinal(),
                    rung.name(),
                    verdict.name(),
                    Math.max(0, Math.min(r.millis(), 600_000)),
                    cut(r.detail()),
                    Json.text(causes)));
        }
        return out;
    }

    private static String cut(String text) {
        String plain = text == null ? "" : text.replaceAll("\\p{Cntrl}+", " ");
        return plain.substring(0, Math.min(MAX_TEXT, plain.length()));
    }
}
