package tender.service.round;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.Page;
import tender.api.ProblemCode;
import tender.api.RoundApi;
import tender.core.trial.Rung;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.trial.TrialKinds;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.round.Rounds;

/** Setting rounds, and reading how listeners fare. */
final class RoundRoutes implements Routes {
    private static final int LATEST = 48;
    private static final int MAX_HISTORY = 5_000;
    private static final Duration DAY = Duration.ofDays(1);
    private static final Duration MONTH = Duration.ofDays(30);

    private final Db db;

    RoundRoutes(Db db) {
        this.db = db;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/rounds",
                        Role.READERS,
                        "All listeners and how they stand: tried on a schedule or not, proven or not, since when",
                        RoundApi.Round.class,
                        call -> Cursor.byName(
                                call,
                                (after, limit) -> db.inTransaction(tx -> Rounds.page(tx, after, limit)),
                                r -> r.gateway() + "/" + r.listener(),
                                all -> render(all, call.now()))),
                Route.get(
                        "/rounds/{id}",
                        Role.READERS,
                        "One listener and how it stands",
                        RoundApi.Round.class,
                        call -> Answer.ok(
                                render(
                                                db.inTransaction(tx -> Rounds.of(tx, call.id())).stream()
                                                        .toList(),
                                                call.now())
                                        .stream()
                                        .findFirst()
                                        .orElseThrow(() -> ApiFailure.notFound("listener")))),
                Route.page(
                        "/rounds/{id}/history",
                        Role.READERS,
                        "A listener's results, oldest first; ?days= how far back, 30 if left out",
                        RoundApi.Result.class,
                        this::history),
                Route.post(
                        "/rounds/{id}",
                        Role.WRITERS,
                        "Try a listener every so often, beginning now",
                        RoundApi.Put.class,
                        RoundApi.Round.class,
                        this::put),
                Route.delete("/rounds/{id}", Role.WRITERS, "Try a listener no more; its history goes too", this::drop));
    }

    private List<RoundApi.Round> render(List<Rounds.Round> all, Instant now) {
        List<UUID> ids = all.stream().map(Rounds.Round::listenerId).toList();
        Map<UUID, Rounds.Share> shares =
                db.inTransaction(tx -> Rounds.shares(tx, ids, now.minus(DAY), now.minus(MONTH))).stream()
                        .collect(Collectors.toMap(Rounds.Share::listenerId, s -> s));
        Map<UUID, List<Rounds.Result>> latest = db.inTransaction(tx -> Rounds.latest(tx, ids, LATEST)).stream()
                .collect(Collectors.groupingBy(Rounds.Result::listenerId));
        return all.stream()
                .map(r -> render(
                        r,
                        Optional.ofNullable(shares.get(r.listenerId())),
                        latest.getOrDefault(r.listenerId(), List.of())))
                .toList();
    }

    private static RoundApi.Round render(Rounds.Round r, Optional<Rounds.Share> share, List<Rounds.Result> latest) {
        return new RoundApi.Round(
                r.listenerId().toString(),
                r.gateway(),
                r.listener(),
                r.protocol(),
                r.every().map(e -> (int) e.toSeconds()),
                r.quietFrom(),
                r.quietTo(),
                r.proven(),
                r.proven().map(p -> verdict(r.protocol(), p, r.rung())),
                r.since(),
                r.rung(),
                r.cause(),
                r.trialId().map(UUID::toString),
                r.nextAt(),
                share.flatMap(Rounds.Share::day),
                share.flatMap(Rounds.Share::month),
                latest.stream().map(x -> render(r.protocol(), x)).toList());
    }

    private static RoundApi.Result render(String protocol, Rounds.Result r) {
        return new RoundApi.Result(
                r.at(), r.proven(), verdict(protocol, r.proven(), r.rung()), r.echoMillis(), r.millis(), r.rung());
    }

    private static String verdict(String protocol, boolean proven, Optional<String> rung) {
        return TrialKinds.verdict(protocol, proven, rung.flatMap(Rung::ofLabel));
    }

    private Answer history(Call call) {
        int days = call.query("days").map(d -> Fields.number("days", d, 1, 90)).orElse(30);
        Instant from = call.now().minus(Duration.ofDays(days));
        List<Rounds.Result> all =
                new ArrayList<>(db.inTransaction(tx -> Rounds.history(tx, call.id(), from, MAX_HISTORY)));
        Collections.reverse(all);
        String protocol = db.inTransaction(tx -> Listeners.byId(tx, call.id()))
                .orElseThrow(() -> ApiFailure.notFound("listener"))
                .protocol();
        return Answer.ok(new Page<>(all.stream().map(r -> render(protocol, r)).toList(), Optional.empty()));
    }

    private Answer put(Call call) {
        RoundApi.Put request = call.body(RoundApi.Put.class);
        Duration every = Duration.ofSeconds(Fields.range("everySeconds", request.everySeconds(), 60, 86_400));
        if (request.quietFrom().isPresent() != request.quietTo().isPresent()) {
            throw new MalformedException("quiet", "quietTo", "quiet hours have a beginning and an end");
        }
        Optional<String> from = request.quietFrom().map(t -> time("quietFrom", t));
        Optional<String> to = request.quietTo().map(t -> time("quietTo", t));
        Instant now = call.now();
        Rounds.Round round = db.inTransaction(tx -> {
            Rounds.Round there = Rounds.of(tx, call.id()).orElseThrow(() -> ApiFailure.notFound("listener"));
            if (!TrialKinds.isTried(there.protocol())) {
                throw new ApiFailure(
                        ProblemCode.CONFLICT,
                        there.listener() + " is for " + there.protocol() + ", which is broken and not tried");
            }
            Rounds.put(tx, call.id(), every, from, to, now);
            Jobs.strike(tx, RoundJob.NAME, call.id().toString());
            Jobs.add(tx, RoundJob.order(call.id(), every));
            Events.say(tx, "round", call.id());
            Rounds.Round set = Rounds.of(tx, call.id()).orElseThrow();
            Journal.append(
                    tx,
                    now,
                    call.caller().reference(),
                    "round-set",
                    "listener",
                    call.id(),
                    set.gateway() + " " + set.listener() + " every " + every.toSeconds() + " s");
            return set;
        });
        return Answer.ok(render(List.of(round), now).get(0));
    }

    private static String time(String field, String text) {
        try {
            return LocalTime.parse(text).toString();
        } catch (DateTimeException e) {
            throw new MalformedException("time", field, "a time such as 22:00");
        }
    }

    private Answer drop(Call call) {
        db.run(tx -> {
            if (!Rounds.drop(tx, call.id())) {
                throw ApiFailure.notFound("round");
            }
            Jobs.strike(tx, RoundJob.NAME, call.id().toString());
            Events.say(tx, "round", call.id());
            Journal.append(tx, call.now(), call.caller().reference(), "round-dropped", "listener", call.id(), "");
        });
        return Answer.done();
    }
}
