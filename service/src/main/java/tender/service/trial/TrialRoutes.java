package tender.service.trial;

import com.fasterxml.jackson.core.type.TypeReference;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.ProblemCode;
import tender.api.TrialApi;
import tender.core.network.HostName;
import tender.core.trial.Rung;
import tender.core.wire.Fields;
import tender.service.event.LiveEvents;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Json;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Listeners;
import tender.store.profile.Profiles;
import tender.store.trial.Trials;

/** Starting trials and reading their ladders. */
public final class TrialRoutes {
    /** Kinds of which a connection can be tried. */
    public static final List<String> TRIED = List.of("wireguard", "openvpn", "ikev2");

    static final String VANTAGE = "service";

    private final Db db;

    public TrialRoutes(Db db) {
        this.db = db;
    }

    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/trials",
                        Role.READERS,
                        "Trials, newest first; ?profile=ID for one profile's",
                        TrialApi.Trial.class,
                        call -> Cursor.newestFirst(
                                call,
                                (before, limit) ->
                                        db.inTransaction(tx -> Trials.page(tx, call.queryId("profile"), before, limit)),
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
                        "Try a profile from the service",
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
                        t.claim(),
                        t.restsOn(),
                        t.state(),
                        t.rung().map(r -> Rung.valueOf(r).label()),
                        t.proven(),
                        t.note(),
                        rungs.getOrDefault(t.id(), List.of()).stream()
                                .map(TrialRoutes::render)
                                .toList(),
                        t.measured().map(m -> Json.readOwn(m, new TypeReference<TrialApi.Measured>() {})),
                        t.createdAt(),
                        t.endedAt()))
                .toList();
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

    private Answer start(Call call) {
        TrialApi.Start asked = call.body(TrialApi.Start.class);
        String label = Fields.required("profile", asked.profile());
        Optional<String> insideName = asked.insideName()
                .map(n -> Fields.parse("insideName", n, HostName::parse).text());
        Profiles.Profile profile =
                db.inTransaction(tx -> Profiles.byLabel(tx, label)).orElseThrow(() -> ApiFailure.notFound("profile"));
        if (!profile.state().equals("ready")) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    label + " is " + profile.state()
                            + profile.problem().map(p -> ": " + p).orElse(""));
        }
        String protocol = db.inTransaction(tx -> Listeners.byId(tx, profile.listenerId()))
                .map(Listeners.Listener::protocol)
                .orElse("");
        if (!TRIED.contains(protocol)) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT,
                    "trials are made of WireGuard, OpenVPN and IKEv2 profiles; " + label + " is for " + protocol);
        }
        if (!profile.custody().equals("HELD")) {
            throw new ApiFailure(
                    ProblemCode.KEY_NOT_HELD, label + "'s key was made on the device and never reached Tender");
        }
        String from = asked.from().filter(f -> !f.equals(VANTAGE)).orElse(VANTAGE);
        boolean here = from.equals(VANTAGE);
        if (!here) {
            standing(from, call.now());
        }
        UUID id = Ids.next();
        db.run(tx -> {
            Trials.insert(
                    tx,
                    id,
                    profile.id(),
                    profile.id(),
                    from,
                    here ? "service" : "standing",
                    profile.label() + " reaches the inside through " + profile.gateway(),
                    "",
                    asked.measure() || insideName.isPresent()
                            ? Optional.of(Json.text(TrialJob.Asked.of(asked.measure(), insideName)))
                            : Optional.empty(),
                    call.now());
            UUID job = Jobs.add(
                    tx,
                    new Jobs.Order(
                            here ? TrialJob.NAME : HandedTrial.NAME,
                            id.toString(),
                            Optional.of("trial:" + (here ? profile.id() : id)),
                            Optional.empty(),
                            Optional.empty(),
                            3),
                    here ? call.now() : call.now().plus(HandedTrial.PATIENCE));
            Events.say(tx, LiveEvents.JOB_ADDED, job.toString());
            Events.say(tx, "trial", id.toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "trial-started",
                    "profile",
                    profile.id().toString(),
                    "");
        });
        return Answer.accepted(find(id));
    }
}
