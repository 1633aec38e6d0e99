package tender.service.provision;

import java.net.URI;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import tender.api.ProblemCode;
import tender.api.ProvisionApi;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;
import tender.store.provision.Enrolments;
import tender.store.provision.Provisions;

/** Provisioning files, and devices that joined with them. */
final class ProvisionRoutes implements Routes {
    private static final int MAX_AT_ONCE = 500;
    private static final int DEFAULT_DAYS = 7;
    private static final int MAX_DAYS = 90;

    private final Db db;
    private final Provisioning provisioning;
    private final Supplier<URI> staffUrl;

    ProvisionRoutes(Db db, Provisioning provisioning, Supplier<URI> staffUrl) {
        this.db = db;
        this.provisioning = provisioning;
        this.staffUrl = staffUrl;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.post(
                        "/provisions",
                        Role.WRITERS,
                        "Make provisioning files, for devices or for a team; each is shown once; with dryRun nothing is made",
                        ProvisionApi.Create.class,
                        ProvisionApi.Created.class,
                        this::create),
                Route.page(
                        "/provisions",
                        Role.READERS,
                        "Provisioning files that were made, newest first",
                        ProvisionApi.Provision.class,
                        call -> Cursor.newestFirst(
                                call,
                                (before, limit) -> db.inTransaction(tx -> Provisions.page(tx, before, limit)),
                                Provisions.Provision::id,
                                rows -> rows.stream().map(p -> render(p, call)).toList())),
                Route.post(
                        "/provisions/{id}/withdraw",
                        Role.WRITERS,
                        "Nobody joins with this file from now on; devices that have joined stay",
                        null,
                        ProvisionApi.Provision.class,
                        call -> {
                            provisioning.withdraw(call.id(), call.by());
                            return Answer.ok(render(
                                    db.inTransaction(tx -> Provisions.byId(tx, call.id()))
                                            .orElseThrow(() -> ApiFailure.notFound("provision")),
                                    call));
                        }),
                Route.page(
                        "/enrolments",
                        Role.READERS,
                        "Devices that joined, by person; ?person= a handle, ?text= a part of the name, ?behind=true those alone that do not hold the newest or do not connect",
                        ProvisionApi.Enrolment.class,
                        call -> {
                            Enrolments.Filter filter = new Enrolments.Filter(
                                    call.query("person"),
                                    call.text(),
                                    call.query("behind").filter("true"::equals).isPresent());
                            return Cursor.byName(
                                    call,
                                    (after, limit) -> db.inTransaction(tx -> Enrolments.page(tx, filter, after, limit)),
                                    Enrolments::key,
                                    rows -> rows.stream()
                                            .map(ProvisionRoutes::render)
                                            .toList());
                        }),
                Route.post(
                        "/people/{handle}/devices/{device}/end-enrolment",
                        Role.WRITERS,
                        "A device no longer keeps itself current: it removes its files when it asks next, and has to join anew",
                        null,
                        null,
                        call -> {
                            provisioning.end(
                                    new Provisioning.Target(call.path("handle"), call.path("device")), call.by());
                            return Answer.done();
                        }));
    }

    private Answer create(Call call) {
        ProvisionApi.Create request = call.body(ProvisionApi.Create.class);
        if (request.devices().isEmpty() == request.team().isEmpty()) {
            throw new ApiFailure(ProblemCode.MALFORMED, "name devices as PERSON/DEVICE, or one team", "devices");
        }
        Fields.range("devices", request.devices().size(), 0, MAX_AT_ONCE);
        List<URI> services = request.services().isEmpty()
                ? List.of(staffUrl.get())
                : request.services().stream().map(ProvisionRoutes::service).toList();
        Provisioning.Order order = new Provisioning.Order(
                request.devices().stream().map(ProvisionRoutes::target).toList(),
                request.team(),
                request.gateways().stream().map(ProvisionRoutes::place).toList(),
                services,
                Duration.ofDays(Fields.range("days", request.days().orElse(DEFAULT_DAYS), 1, MAX_DAYS)),
                request.code().orElse(false));
        boolean dryRun = request.dryRun().orElse(false);
        List<Provisioning.Made> made =
                dryRun ? provisioning.rehearse(order, call.by()) : provisioning.make(order, call.by());
        return Answer.created(new ProvisionApi.Created(
                provisioning.signer(),
                made.stream().map(m -> render(m, dryRun)).toList(),
                Provisioning.notes(services)));
    }

    private static URI service(String text) {
        try {
            URI uri = URI.create(text);
            if (uri.getHost() != null && (text.startsWith("https://") || text.startsWith("http://"))) {
                return uri;
            }
        } catch (IllegalArgumentException e) {
            // said below
        }
        throw new MalformedException("service", "services", "is no address of a service: https://HOST");
    }

    private static Provisioning.Target target(String text) {
        String[] words = text.split("/", -1);
        if (words.length != 2 || words[0].isEmpty() || words[1].isEmpty()) {
            throw new MalformedException("device", "devices", "is no device: PERSON/DEVICE");
        }
        return new Provisioning.Target(words[0], words[1]);
    }

    private static Provisioning.Place place(String text) {
        String[] words = text.split("/", 2);
        return new Provisioning.Place(words[0], words.length == 2 ? Optional.of(words[1]) : Optional.empty());
    }

    private static ProvisionApi.File render(Provisioning.Made m, boolean dryRun) {
        return new ProvisionApi.File(
                dryRun ? Optional.empty() : Optional.of(m.id().toString()),
                m.device().map(Provisioning.Target::toString),
                m.team(),
                m.fileName(),
                m.ends(),
                m.gateways(),
                dryRun ? Map.of() : m.codes(),
                dryRun ? Optional.empty() : Optional.of(m.file()));
    }

    private static ProvisionApi.Provision render(Provisions.Provision p, Call call) {
        String state = p.withdrawnAt().isPresent()
                ? "withdrawn"
                : p.team().isEmpty() && p.joined() > 0 ? "used" : p.ends().isBefore(call.now()) ? "ended" : "open";
        return new ProvisionApi.Provision(
                p.id().toString(),
                p.person().flatMap(n -> p.device().map(d -> n + "/" + d)),
                p.team(),
                state,
                p.asksCode(),
                p.joined(),
                p.createdBy(),
                p.createdAt(),
                p.ends());
    }

    private static ProvisionApi.Enrolment render(Enrolments.Enrolment e) {
        return new ProvisionApi.Enrolment(
                e.id().toString(),
                e.person(),
                e.device(),
                e.system(),
                e.state().word(),
                e.problem(),
                e.joinedAt(),
                e.seenAt(),
                e.waiting(),
                e.current(),
                e.proven(),
                e.failing(),
                e.found());
    }
}
