package tender.service.trial;

import com.fasterxml.jackson.core.type.TypeReference;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.ProblemCode;
import tender.api.TrialApi;
import tender.core.credential.Custody;
import tender.core.network.HostName;
import tender.core.office.Protocol;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Json;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.office.ListenerChoice;
import tender.service.profile.Canaries;
import tender.service.profile.Issuing;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.trial.Trials;

/** Starting trials and reading their ladders. */
public final class TrialRoutes {
    static final String VANTAGE = "service";

    private final Db db;
    private final Gateways gateways;
    private final Canaries canaries;
    private final TrialJob trials;

    public TrialRoutes(Db db, Gateways gateways, Canaries canaries, TrialJob trials) {
        this.db = db;
        this.gateways = gateways;
        this.canaries = canaries;
        this.trials = trials;
    }

    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/trials",
                        Role.READERS,
                        "Trials, newest first; ?profile=ID for one profile's, ?text= a part of label or person",
                        TrialApi.Trial.class,
                        call -> Cursor.newestFirst(
                                call,
                                (before, limit) -> db.inTransaction(
                                        tx -> Trials.page(tx, call.queryId("profile"), call.text(), before, limit)),
                                Trials.Trial::id,
                                this::render)),
                Route.get(
                        "/trials/{id}",
                        Role.READERS,
                        "One trial with its rungs",
                        TrialApi.Trial.class,
                        call -> Answer.ok(find(call.id()))),
                Route.post(
                        "/trials",
                        Role.WRITERS,
                        "Try a profile, or a listener, from the service or a standing vantage",
                        TrialApi.Start.class,
                        TrialApi.Trial.class,
                        this::start));
    }

    private TrialApi.Trial find(UUID id) {
        return render(db.inTransaction(tx -> Trials.byId(tx, id)).stream().toList()).stream()
                .findFirst()
                .orElseThrow(() -> ApiFailure.notFound("trial"));
    }

    private List<TrialApi.Trial> render(List<Trials.Trial> all) {
        Map<UUID, List<Trials.RungRow>> rungs =
                db
                        .inTransaction(tx -> Trials.rungs(
                                tx, all.stream().map(Trials.Trial::id).toList()))
                        .stream()
                        .collect(Collectors.groupingBy(Trials.RungRow::trialId));
        return all.stream()
                .map(t -> new TrialApi.Trial(
                        t.id().toString(),
                        t.label(),
                        t.person(),
                        t.gateway(),
                        t.vantage(),
                        t.subject(),
                        t.restsOn(),
                        t.state(),
                        t.rung().map(r -> Rung.valueOf(r).label()),
                        t.proven(),
                        t.proven().map(p -> TrialJob.verdict(t.protocol(), p, failed(rungs.get(t.id())))),
                        TrialRecorder.result(TrialRecorder.claims(t)),
                        TrialRecorder.claims(t),
                        t.note(),
                        rungs.getOrDefault(t.id(), List.of()).stream()
                                .map(TrialRoutes::render)
                                .toList(),
                        t.measured().map(m -> Json.readOwn(m, new TypeReference<TrialApi.Measured>() {})),
                        t.createdAt(),
                        t.endedAt()))
                .toList();
    }

    private static Optional<Rung> failed(List<Trials.RungRow> rungs) {
        return rungs == null
                ? Optional.empty()
                : TrialRecorder.ladder(rungs).failure().map(RungResult::rung);
    }

    private static TrialApi.Rung render(Trials.RungRow r) {
        Rung rung = Rung.valueOf(r.rung());
        return new TrialApi.Rung(
                rung.label(),
                rung.meaning(),
                r.verdict().toLowerCase(Locale.ROOT).replace('_', ' '),
                r.millis(),
                r.detail(),
                Json.readOwn(r.causes(), new TypeReference<List<TrialApi.Cause>>() {}));
    }

    /** A standing vantage that does not ask for work takes no trial. */
    private void standing(String name, Instant now) {
        Optional<Instant> heard = db.inTransaction(tx -> Trials.heardAt(tx, name));
        if (heard.isEmpty()) {
            throw new ApiFailure(
                    ProblemCode.NOT_FOUND, "no vantage of that name ever stood; see tender vantage list", "from");
        }
        if (heard.get().isBefore(now.minus(HandedTrial.PATIENCE))) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    name + " was heard last at " + heard.get() + "; start it there: tender vantage stand",
                    "from");
        }
    }

    /** What is tried: a profile, or a listener that is knocked at. */
    private record Subject(Optional<UUID> profileId, Optional<UUID> listenerId, String kind, UUID id, String subject) {}

    private Answer start(Call call) {
        TrialApi.Start asked = call.body(TrialApi.Start.class);
        Optional<String> insideName = asked.insideName()
                .map(n -> Fields.parse("insideName", n, HostName::parse).text());
        if (asked.profile().isPresent() == asked.gateway().isPresent()) {
            throw new MalformedException("trial", "profile", "say either a profile or a gateway");
        }
        Subject subject = asked.profile().isPresent()
                ? profile(asked.profile().get())
                : listener(asked.gateway().get(), asked.listener(), call);
        String from = asked.from().filter(f -> !f.equals(VANTAGE)).orElse(VANTAGE);
        boolean here = from.equals(VANTAGE);
        if (!here) {
            standing(from, call.now());
        }
        UUID id = Ids.next();
        db.run(tx -> {
            Trials.insert(
                    tx,
                    new Trials.Order(
                            id,
                            subject.profileId(),
                            subject.listenerId(),
                            from,
                            here ? "service" : "standing",
                            subject.subject(),
                            "",
                            asked.measure() || insideName.isPresent()
                                    ? Optional.of(Json.text(TrialJob.Asked.of(asked.measure(), insideName)))
                                    : Optional.empty()),
                    call.now());
            Jobs.add(
                    tx,
                    Jobs.Order.once(
                                    here ? TrialJob.NAME : HandedTrial.NAME,
                                    id.toString(),
                                    "trial:" + (here ? subject.id() : id))
                            .attempts(3),
                    here ? Duration.ZERO : HandedTrial.PATIENCE);
            Events.say(tx, "trial", id.toString());
            if (!here) {
                Events.say(tx, Trials.WAITING, from);
                beside(tx, subject, from, call.now());
            }
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "trial-started",
                    subject.kind(),
                    subject.id().toString(),
                    "");
        });
        return Answer.accepted(find(id));
    }

    /** The same from the service at the same time, so that inside and outside can be told apart. */
    private static void beside(Tx tx, Subject subject, String from, Instant now) {
        UUID id = Ids.next();
        Trials.insert(
                tx,
                new Trials.Order(
                        id,
                        subject.profileId(),
                        subject.listenerId(),
                        VANTAGE,
                        "service",
                        subject.subject() + ", beside " + from,
                        "",
                        Optional.empty()),
                now);
        Jobs.add(
                tx,
                Jobs.Order.once(TrialJob.NAME, id.toString(), "trial:" + subject.id())
                        .attempts(3));
    }

    private Subject profile(String label) {
        Profiles.Profile profile = db.inTransaction(tx -> Profiles.byLabel(tx, Fields.required("profile", label)))
                .orElseThrow(() -> ApiFailure.notFound("profile"));
        if (!Issuing.TRIABLE.contains(profile.state())) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    label + " is " + profile.state().word()
                            + profile.problem().map(p -> ": " + p).orElse(""));
        }
        Listeners.Listener listener =
                db.inTransaction(tx -> Listeners.byId(tx, profile.listenerId())).orElseThrow();
        if (isKnocked(listener)) {
            return knocked(listener);
        }
        if (profile.custody() != Custody.HELD) {
            throw new ApiFailure(
                    ProblemCode.KEY_NOT_HELD, label + "'s key was made on the device and never reached Tender");
        }
        return new Subject(
                Optional.of(profile.id()),
                Optional.empty(),
                "profile",
                profile.id(),
                label + " at " + profile.gateway());
    }

    private Subject listener(String gateway, Optional<String> name, Call call) {
        UUID gatewayId = db.inTransaction(tx -> gateways.byName(tx, gateway))
                .orElseThrow(() -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such gateway", "gateway"))
                .id();
        Listeners.Listener listener =
                ListenerChoice.of(gateway, db.inTransaction(tx -> Listeners.of(tx, List.of(gatewayId))), name);
        if (isKnocked(listener)) {
            return knocked(listener);
        }
        Profiles.Profile canary = canaries.of(listener.id(), call.caller().reference(), call.now());
        return new Subject(
                Optional.of(canary.id()),
                Optional.empty(),
                "profile",
                canary.id(),
                listener.gateway() + " " + listener.name());
    }

    private static boolean isKnocked(Listeners.Listener listener) {
        if (!TrialJob.isTried(listener.protocol())) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    Protocol.parse(listener.protocol()).title() + " is not tried: it is broken, and should be off",
                    "listener");
        }
        return TrialJob.KNOCKED.contains(Protocol.parse(listener.protocol()));
    }

    private static Subject knocked(Listeners.Listener listener) {
        return new Subject(
                Optional.empty(),
                Optional.of(listener.id()),
                "listener",
                listener.id(),
                listener.gateway() + " " + listener.name());
    }
}
