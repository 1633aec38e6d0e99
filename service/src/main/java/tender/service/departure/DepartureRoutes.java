package tender.service.departure;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.api.DepartureApi;
import tender.api.Page;
import tender.service.http.Answer;
import tender.service.http.Call;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobRoutes;
import tender.service.job.JobWaits;
import tender.service.refusal.Refused;
import tender.store.departure.Departures;
import tender.store.jdbc.Db;
import tender.store.person.People;

/** People who leave, devices that are lost, and what is shown of it. */
final class DepartureRoutes implements Routes {
    private static final int MOST = 500;

    private final Db db;
    private final Departing departing;
    private final JobWaits waits;

    DepartureRoutes(Db db, Departing departing, JobWaits waits) {
        this.db = db;
        this.departing = departing;
        this.waits = waits;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                        "/people/{handle}/leave",
                        Role.WRITERS,
                        "Somebody leaves: withdraw all their profiles, and show by trials that each is refused; with dryRun nothing is done",
                        DepartureApi.Leave.class,
                        DepartureApi.Plan.class,
                        call -> depart(call, Optional.empty())),
                Route.post(
                        "/people/{handle}/devices/{device}/lost",
                        Role.WRITERS,
                        "A device is lost: withdraw its profiles, and show by trials that each is refused; with dryRun nothing is done",
                        DepartureApi.Leave.class,
                        DepartureApi.Plan.class,
                        call -> depart(call, Optional.of(call.path("device")))),
                Route.page(
                        "/departures",
                        Role.READERS,
                        "People who left and devices that were lost, newest first; ?person= a handle",
                        DepartureApi.Departure.class,
                        this::list),
                Route.get(
                        "/departures/{id}",
                        Role.READERS,
                        "One of them, with what is shown of each profile",
                        DepartureApi.Shown.class,
                        call -> Answer.ok(shown(call.id()))),
                Route.post(
                        "/departures/{id}/check",
                        Role.WRITERS,
                        "Try now what is not shown to be refused yet",
                        null,
                        DepartureApi.Shown.class,
                        this::check));
    }

    private Answer depart(Call call, Optional<String> device) {
        Departing.Whose whose = new Departing.Whose(call.path("handle"), device);
        Departing.Plan plan = departing.plan(whose);
        boolean dryRun = call.body(DepartureApi.Leave.class).dryRun().orElse(false);
        Optional<String> id = dryRun
                ? Optional.empty()
                : Optional.of(departing.order(whose, call.by()).toString());
        return Answer.ok(new DepartureApi.Plan(
                plan.person().handle(),
                plan.person().name(),
                plan.device().map(People.Device::name),
                plan.endings().stream()
                        .map(e -> new DepartureApi.Ending(
                                e.profile().id().toString(),
                                e.profile().label(),
                                e.profile().gateway(),
                                e.profile().listener(),
                                e.how(),
                                e.profile().connected()))
                        .toList(),
                plan.secrets(),
                id));
    }

    private Answer list(Call call) {
        List<Departures.Departure> all = db.inTransaction(tx -> call.query("person")
                .map(handle -> People.byHandle(tx, handle)
                        .map(p -> Departures.ofPerson(tx, p.id()))
                        .orElseThrow(() -> Refused.notFound("person")))
                .orElseGet(() -> Departures.all(tx, MOST)));
        return Answer.ok(new Page<>(all.stream().map(DepartureRoutes::render).toList(), Optional.empty()));
    }

    private Answer check(Call call) {
        UUID job = db.inTransaction(tx -> {
            Departures.byId(tx, call.id()).orElseThrow(() -> Refused.notFound("departure"));
            return RefusalCheck.soon(tx, call.id());
        });
        return JobRoutes.whenDone(waits, job, "the check", () -> Answer.ok(shown(call.id())));
    }

    private DepartureApi.Shown shown(UUID id) {
        return db.inTransaction(tx -> new DepartureApi.Shown(
                render(Departures.byId(tx, id).orElseThrow(() -> Refused.notFound("departure"))),
                Departures.refusals(tx, id).stream()
                        .map(r -> new DepartureApi.Refusal(
                                r.profileId().toString(),
                                r.label(),
                                r.gateway(),
                                r.listener(),
                                r.state().word(),
                                r.shown().word(),
                                r.control(),
                                r.found().or(r::problem),
                                r.checkedAt(),
                                r.endedAt()))
                        .toList()));
    }

    private static DepartureApi.Departure render(Departures.Departure d) {
        return new DepartureApi.Departure(
                d.id().toString(),
                d.handle(),
                d.person(),
                d.device(),
                d.orderedBy(),
                d.orderedAt(),
                d.profiles(),
                d.open());
    }
}
