package tender.service.trial;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.api.TrialApi;
import tender.core.office.Protocol;
import tender.core.trial.Ladder;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.trial.Verdict;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
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
import tender.store.profile.Profiles;
import tender.store.profile.Revisions;
import tender.store.trial.Trials;

/**
 * Trials made elsewhere: a standing vantage takes those that wait for it and tells what came of them; anyone's client tells of
 * a file that was tried on its machine.
 */
public final class VantageRoutes {
    private static final Duration WAIT = Duration.ofSeconds(20);
    private static final int MAX_WAITING = 16;
    private static final Duration LOOK = Duration.ofMillis(300);
    private static final Duration SIDE_BY_SIDE = Duration.ofHours(1);
    private static final int MAX_TEXT = 500;
    private static final int BESIDE = 20;

    private final Db db;
    private final TrialJob trials;

    /** The one waiting call of each vantage. */
    private final Map<String, Object> waits = new ConcurrentHashMap<>();

    public VantageRoutes(Db db, TrialJob trials) {
        this.db = db;
        this.trials = trials;
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
        Object mine = new Object();
        if (waits.size() >= MAX_WAITING && !waits.containsKey(name)) {
            throw ApiFailure.retry(ProblemCode.BUSY, "too many vantages wait at once", (int) WAIT.toSeconds());
        }
        waits.put(name, mine); // a vantage waits once: an earlier call of its own ends
        try {
            return awaited(name, mine);
        } finally {
            waits.remove(name, mine);
        }
    }

    private Answer awaited(String name, Object mine) {
        long end = System.nanoTime() + WAIT.toNanos();
        do {
            if (waits.get(name) != mine) {
                return Answer.ok(new TrialApi.Handed(Optional.empty()));
            }
            Optional<UUID> waiting = db.inTransaction(tx -> Trials.takeFor(tx, name));
            if (waiting.isPresent()) {
                return Answer.ok(new TrialApi.Handed(trials.handed(waiting.get())));
            }
            pause();
        } while (System.nanoTime() < end);
        return Answer.ok(new TrialApi.Handed(Optional.empty()));
    }

    private static void pause() {
        try {
            Thread.sleep(LOOK.toMillis());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new ApiFailure(ProblemCode.UNAVAILABLE, "the service stops");
        }
    }

    private Answer report(Call call) {
        TrialApi.Report report = call.body(TrialApi.Report.class);
        Trials.Trial trial = db.inTransaction(tx -> Trials.byId(tx, call.id()))
                .filter(t ->
                        t.vantage().equals(call.caller().name()) && t.state().equals("running"))
                .orElseThrow(() -> ApiFailure.notFound("trial of this vantage"));
        List<Trials.RungRow> rungs = rungs(trial.id(), report);
        boolean shown =
                TrialJob.KNOCKED.contains(Protocol.parse(trial.protocol())) ? isAnswered(rungs) : isProven(rungs);
        Optional<String> beside = sideBySide(trial, shown, call.now());
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
        Optional<String> note = stale(file.get(), profile, isProven(rungs));
        db.run(tx -> {
            Trials.insert(
                    tx,
                    new Trials.Order(
                            id,
                            Optional.of(profile.id()),
                            Optional.empty(),
                            "machine of " + call.caller().name(),
                            "client",
                            "this very file reaches the inside",
                            "this very file, told by its digest, revision "
                                    + file.get().number(),
                            Optional.empty()),
                    call.now());
            Trials.end(
                    tx,
                    id,
                    rungs,
                    isProven(rungs),
                    Optional.empty(),
                    report.measured().map(Json::text),
                    call.now());
            note.ifPresent(n -> Trials.note(tx, id, n));
            ByHand.tried(tx, profile.id(), isProven(rungs), causes(report), call.now());
            Events.say(tx, "trial", id.toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "trial-reported",
                    "profile",
                    profile.id().toString(),
                    isProven(rungs) ? "proven" : "not proven");
        });
        return Answer.ok(new TrialApi.Reported(Optional.of(id.toString()), note));
    }

    private static Set<String> causes(TrialApi.Report report) {
        return report.rungs().stream()
                .filter(r -> r.verdict().equals("fails"))
                .flatMap(r -> r.causes().stream())
                .map(TrialApi.Cause::code)
                .collect(Collectors.toSet());
    }

    /** What the records say of a file that was tried elsewhere: often all that was wrong. */
    private static Optional<String> stale(Revisions.KnownFile file, Profiles.Profile profile, boolean proven) {
        if (Set.of("withdrawn", "withdrawing", "closing").contains(profile.state())) {
            return Optional.of(profile.label() + " was withdrawn"
                    + (proven ? " and still gets in: the gateway has to be told" : ", so that nobody gets in by it"));
        }
        return file.number() < file.newest()
                ? Optional.of("this file is revision " + file.number() + " of " + profile.label() + ", the newest is "
                        + file.newest() + ": hand that one out")
                : Optional.empty();
    }

    private static boolean isProven(List<Trials.RungRow> rungs) {
        return ladder(rungs).isProven();
    }

    private static boolean isAnswered(List<Trials.RungRow> rungs) {
        return ladder(rungs).isAnswered();
    }

    private static Ladder ladder(List<Trials.RungRow> rungs) {
        return new Ladder(rungs.stream()
                .map(r -> new RungResult(
                        Rung.valueOf(r.rung()), Verdict.valueOf(r.verdict()), r.millis(), r.detail(), List.of()))
                .toList());
    }

    /** Reads what a machine elsewhere says: rungs and verdicts by their words, texts cut to a length. */
    private static List<Trials.RungRow> rungs(UUID trialId, TrialApi.Report report) {
        List<Trials.RungRow> out = new ArrayList<>();
        Fields.range("rungs", report.rungs().size(), 1, Rung.values().length);
        for (TrialApi.Rung r : report.rungs()) {
            Rung rung = Arrays.stream(Rung.values())
                    .filter(x -> x.label().equals(r.rung()))
                    .findFirst()
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
