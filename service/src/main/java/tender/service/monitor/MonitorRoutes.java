package tender.service.monitor;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.MonitorApi;
import tender.api.Page;
import tender.api.ProblemCode;
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
import tender.store.monitor.ScheduledTrials;
import tender.store.office.Listeners;

/** Setting monitors, and reading what they say. */
final class MonitorRoutes implements Routes {
    private static final int LATEST = 48;
    private static final int MAX_HISTORY = 5_000;
    private static final Duration DAY = Duration.ofDays(1);
    private static final Duration MONTH = Duration.ofDays(30);

    private final Db db;

    MonitorRoutes(Db db) {
        this.db = db;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/monitors",
                        Role.READERS,
                        "Listeners and what their monitors say, the most urgent first; ?state= not-proven, waiting, proven or"
                                + " not-monitored, ?gateway= a name, ?text= a part of the gateway's or listener's name",
                        MonitorApi.Monitor.class,
                        this::page),
                Route.get(
                        "/monitors/counts",
                        Role.READERS,
                        "How many listeners are proven, not proven, waiting and not monitored",
                        MonitorApi.Counts.class,
                        call -> Answer.ok(counts())),
                Route.post(
                        "/monitors",
                        Role.WRITERS,
                        "Monitor every listener that can be tried and has no monitor yet, starting now",
                        MonitorApi.SetAll.class,
                        MonitorApi.AllSet.class,
                        this::setAll),
                Route.get(
                        "/monitors/{id}",
                        Role.READERS,
                        "One listener and what its monitor says",
                        MonitorApi.Monitor.class,
                        call -> Answer.ok(render(
                                        db.inTransaction(tx -> ScheduledTrials.of(tx, call.id())).stream()
                                                .toList(),
                                        call.now())
                                .stream()
                                .findFirst()
                                .orElseThrow(() -> ApiFailure.notFound("listener")))),
                Route.page(
                        "/monitors/{id}/history",
                        Role.READERS,
                        "A listener's results, oldest first; ?days= how far back, 30 if left out",
                        MonitorApi.Result.class,
                        this::history),
                Route.post(
                        "/monitors/{id}",
                        Role.WRITERS,
                        "Monitor a listener on a schedule, starting now",
                        MonitorApi.Put.class,
                        MonitorApi.Monitor.class,
                        this::put),
                Route.delete(
                        "/monitors/{id}",
                        Role.WRITERS,
                        "Stop monitoring a listener; its history is deleted",
                        this::drop));
    }

    private Answer page(Call call) {
        ScheduledTrials.Filter filter = new ScheduledTrials.Filter(
                call.query("state").map(MonitorRoutes::standing), call.query("gateway"), call.text());
        return Cursor.byName(
                call,
                (after, limit) -> db.inTransaction(tx -> ScheduledTrials.page(tx, filter, after, limit)),
                ScheduledTrials.ScheduledTrial::place,
                all -> render(all, call.now()));
    }

    private static ScheduledTrials.Standing standing(String word) {
        return Arrays.stream(ScheduledTrials.Standing.values())
                .filter(s -> s.word().equals(word))
                .findFirst()
                .orElseThrow(
                        () -> new MalformedException("state", "state", "not-proven, waiting, proven or not-monitored"));
    }

    private MonitorApi.Counts counts() {
        ScheduledTrials.Counts c = db.inTransaction(tx -> ScheduledTrials.counts(tx, TrialKinds.tried()));
        return new MonitorApi.Counts(c.proven(), c.notProven(), c.waiting(), c.notMonitored(), c.couldBeTried());
    }

    /** Spread over the interval, so that a whole fleet does not begin at once. */
    private Answer setAll(Call call) {
        Duration every = every(call.body(MonitorApi.SetAll.class).everySeconds());
        int begun = db.inTransaction(tx -> {
            List<UUID> ids = ScheduledTrials.begin(tx, every, call.now(), TrialKinds.tried());
            for (int i = 0; i < ids.size(); i++) {
                Jobs.add(
                        tx,
                        MonitorJob.order(ids.get(i), every),
                        every.multipliedBy(i).dividedBy(ids.size()));
            }
            String words = ids.size() + " listeners every " + every.toSeconds() + " s";
            Journal.append(tx, call.by(), "monitors-set", "listener", "-", words);
            if (!ids.isEmpty()) {
                Events.say(tx, "monitor", ids.get(0));
            }
            return ids.size();
        });
        return Answer.ok(new MonitorApi.AllSet(begun));
    }

    private static Duration every(int seconds) {
        return Duration.ofSeconds(Fields.range("everySeconds", seconds, 60, 86_400));
    }

    private List<MonitorApi.Monitor> render(List<ScheduledTrials.ScheduledTrial> all, Instant now) {
        List<UUID> ids =
                all.stream().map(ScheduledTrials.ScheduledTrial::listenerId).toList();
        Map<UUID, ScheduledTrials.Share> shares =
                db.inTransaction(tx -> ScheduledTrials.shares(tx, ids, now.minus(DAY), now.minus(MONTH))).stream()
                        .collect(Collectors.toMap(ScheduledTrials.Share::listenerId, s -> s));
        Map<UUID, List<ScheduledTrials.Result>> latest =
                db.inTransaction(tx -> ScheduledTrials.latest(tx, ids, LATEST)).stream()
                        .collect(Collectors.groupingBy(ScheduledTrials.Result::listenerId));
        return all.stream()
                .map(r -> render(
                        r,
                        Optional.ofNullable(shares.get(r.listenerId())),
                        latest.getOrDefault(r.listenerId(), List.of())))
                .toList();
    }

    private static MonitorApi.Monitor render(
            ScheduledTrials.ScheduledTrial r,
            Optional<ScheduledTrials.Share> share,
            List<ScheduledTrials.Result> latest) {
        return new MonitorApi.Monitor(
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
                share.flatMap(ScheduledTrials.Share::day),
                share.flatMap(ScheduledTrials.Share::month),
                latest.stream().map(x -> render(r.protocol(), x)).toList());
    }

    private static MonitorApi.Result render(String protocol, ScheduledTrials.Result r) {
        return new MonitorApi.Result(
                r.at(), r.proven(), verdict(protocol, r.proven(), r.rung()), r.echoMillis(), r.millis(), r.rung());
    }

    private static String verdict(String protocol, boolean proven, Optional<String> rung) {
        return TrialKinds.verdict(protocol, proven, rung.flatMap(Rung::ofLabel));
    }

    private Answer history(Call call) {
        int days = call.query("days").map(d -> Fields.number("days", d, 1, 90)).orElse(30);
        Instant from = call.now().minus(Duration.ofDays(days));
        List<ScheduledTrials.Result> all =
                new ArrayList<>(db.inTransaction(tx -> ScheduledTrials.history(tx, call.id(), from, MAX_HISTORY)));
        Collections.reverse(all);
        String protocol = db.inTransaction(tx -> Listeners.byId(tx, call.id()))
                .orElseThrow(() -> ApiFailure.notFound("listener"))
                .protocol();
        return Answer.ok(new Page<>(all.stream().map(r -> render(protocol, r)).toList(), Optional.empty()));
    }

    private Answer put(Call call) {
        MonitorApi.Put request = call.body(MonitorApi.Put.class);
        Duration every = every(request.everySeconds());
        if (request.quietFrom().isPresent() != request.quietTo().isPresent()) {
            throw new MalformedException("quiet", "quietTo", "quiet hours have a beginning and an end");
        }
        Optional<String> from = request.quietFrom().map(t -> time("quietFrom", t));
        Optional<String> to = request.quietTo().map(t -> time("quietTo", t));
        Instant now = call.now();
        ScheduledTrials.ScheduledTrial monitor = db.inTransaction(tx -> {
            ScheduledTrials.ScheduledTrial there =
                    ScheduledTrials.of(tx, call.id()).orElseThrow(() -> ApiFailure.notFound("listener"));
            if (!TrialKinds.isTried(there.protocol())) {
                throw new ApiFailure(
                        ProblemCode.CONFLICT,
                        there.listener() + " is for " + there.protocol() + ", which is broken and not tried");
            }
            ScheduledTrials.put(tx, call.id(), every, from, to, now);
            Jobs.strike(tx, MonitorJob.NAME, call.id().toString());
            Jobs.add(tx, MonitorJob.order(call.id(), every));
            Events.say(tx, "monitor", call.id());
            ScheduledTrials.ScheduledTrial set =
                    ScheduledTrials.of(tx, call.id()).orElseThrow();
            Journal.append(
                    tx,
                    call.by(),
                    "monitor-set",
                    "listener",
                    call.id(),
                    set.gateway() + " " + set.listener() + " every " + every.toSeconds() + " s");
            return set;
        });
        return Answer.ok(render(List.of(monitor), now).get(0));
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
            if (!ScheduledTrials.drop(tx, call.id())) {
                throw ApiFailure.notFound("monitor");
            }
            Jobs.strike(tx, MonitorJob.NAME, call.id().toString());
            Events.say(tx, "monitor", call.id());
            Journal.append(tx, call.by(), "monitor-removed", "listener", call.id(), "");
        });
        return Answer.done();
    }
}
