package tender.service.gateway;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.core.credential.Secret;
import tender.core.device.DeviceDescription;
import tender.core.device.DeviceFiles;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.office.Uplink;
import tender.core.wire.Fields;
import tender.io.gateway.Target;
import tender.service.device.Boxes;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobRoutes;
import tender.service.job.JobWaits;
import tender.service.office.NameLookups;
import tender.service.office.OfficeDocuments;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;

/** Adding a gateway, accepting its identity, reading it, and setting what clients are told to call. */
final class GatewayRoutes implements Routes {
    private static final int SSH_PORT = 22;
    private static final int MAX_HOSTS = 8;
    private static final String NOWHERE = "dropped-files";
    private static final List<String> FACTORY = List.of("not-asked", "changed", "still-work");
    private static final List<String> KINDS = List.of("router", "nas", "firewall");

    private final Db db;
    private final Gateways gateways;
    private final Boxes boxes;
    private final AddingGateways adding;
    private final GatewayView view;
    private final NameLookups names;
    private final GatewayReading reading;
    private final JobWaits waits;

    GatewayRoutes(Db db, Gateways gateways, Boxes boxes, GatewayReading reading, NameLookups names, JobWaits waits) {
        this.waits = waits;
        this.db = db;
        this.gateways = gateways;
        this.boxes = boxes;
        this.names = names;
        this.adding = new AddingGateways(db, gateways, boxes);
        this.view = new GatewayView(boxes);
        this.reading = reading;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/gateways",
                        Role.READERS,
                        "Gateways by name; ?text= a part of name or site, ?site= a name",
                        OfficeApi.Gateway.class,
                        call -> Cursor.byName(
                                call,
                                (after, limit) -> db.inTransaction(
                                        tx -> gateways.page(tx, call.text(), call.query("site"), after, limit)),
                                Gateways.Gateway::name,
                                all -> db.inTransaction(tx -> view.of(tx, all)))),
                Route.get(
                        "/gateways/{id}",
                        Role.READERS,
                        "One gateway",
                        OfficeApi.Gateway.class,
                        call -> answer(find(call).id())),
                Route.get(
                        "/gateways/named/{name}",
                        Role.READERS,
                        "A gateway by its name",
                        OfficeApi.Gateway.class,
                        call -> answer(db.inTransaction(tx -> gateways.byName(tx, call.path("name")))
                                .orElseThrow(() -> ApiFailure.notFound("gateway"))
                                .id())),
                Route.post(
                        "/gateways",
                        Role.WRITERS,
                        "Add a gateway; its identity is shown and has to be accepted",
                        OfficeApi.AddGateway.class,
                        OfficeApi.Gateway.class,
                        this::add),
                Route.post(
                                "/gateways/{id}/accept",
                                Role.WRITERS,
                                "Accept the identity that was compared; the gateway is then backed up and read",
                                OfficeApi.AcceptIdentity.class,
                                WatchApi.Job.class,
                                this::accept)
                        .afresh(),
                Route.post(
                        "/gateways/{id}/read",
                        Role.WRITERS,
                        "Back up and read the gateway again",
                        null,
                        WatchApi.Job.class,
                        this::read),
                Route.post(
                        "/gateways/read",
                        Role.WRITERS,
                        "Read all gateways again; one that does not answer delays nobody",
                        null,
                        OfficeApi.ReadAll.class,
                        this::readAll),
                Route.post(
                        "/gateways/{id}/backups",
                        Role.WRITERS,
                        "Take a backup now",
                        WatchApi.TakeBackup.class,
                        OfficeApi.Gateway.class,
                        this::takeBackup),
                Route.patch(
                        "/gateways/{id}",
                        Role.WRITERS,
                        "Set what operators say of a gateway: inside host, hosts clients call, uplinks, and more",
                        OfficeApi.SetGateway.class,
                        OfficeApi.Gateway.class,
                        this::set));
    }

    private Gateways.Gateway find(Call call) {
        return db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("gateway"));
    }

    private Answer answer(UUID id) {
        return db.inTransaction(tx -> {
            Gateways.Gateway gateway = gateways.byId(tx, id).orElseThrow(() -> ApiFailure.notFound("gateway"));
            return Answer.ok(view.of(tx, List.of(gateway)).get(0), gateway.version());
        });
    }

    private Answer add(Call call) {
        OfficeApi.AddGateway request = call.body(OfficeApi.AddGateway.class);
        String name = Fields.name("name", request.name());
        String kind = request.kind().orElse("router");
        if (!KINDS.contains(kind)) {
            throw new ApiFailure(ProblemCode.MALFORMED, "kind is router, nas or firewall", "kind");
        }
        String connector = request.connector().orElse("ssh");
        String description = request.description().orElse("plain-router");
        AddingGateways.Order order = new AddingGateways.Order(
                name,
                Fields.required("site", request.site()),
                kind,
                connector,
                target(request, name, connector, boxes.description(description)),
                description,
                request.insideHost().map(t -> Fields.parse("insideHost", t, IpAddress::parse)),
                request.endpoint().map(GatewayRoutes::hosts).orElse(List.of()));
        UUID id = adding.add(order, call.caller().reference(), call.now());
        return Answer.created(db.inTransaction(tx ->
                view.of(tx, List.of(gateways.byId(tx, id).orElseThrow())).get(0)));
    }

    private static Target target(
            OfficeApi.AddGateway request, String name, String connector, DeviceDescription description) {
        boolean files = connector.equals(AddingGateways.BY_FILES);
        return new Target(
                Fields.parse("address", files ? NOWHERE : request.address(), Host::parse),
                Fields.parse("port", Integer.toString(request.port().orElse(SSH_PORT)), Port::parse),
                files ? name : Fields.name("user", request.user()),
                files ? Secret.of("") : Fields.given("key", request.key()),
                Optional.empty(),
                description,
                request.readOnly().orElse(false));
    }

    private Answer accept(Call call) {
        Gateways.Gateway gateway = find(call);
        String identity = Fields.required(
                "identity", call.body(OfficeApi.AcceptIdentity.class).identity());
        if (!adding.shows(gateway, identity)) {
            throw new ApiFailure(
                    ProblemCode.GATEWAY_IDENTITY_CHANGED,
                    gateway.name() + " shows another fingerprint than the one given",
                    "identity");
        }
        return job(adding.accept(gateway, identity, call.caller().reference(), call.now()));
    }

    private Answer job(UUID id) {
        return Answer.accepted(
                JobRoutes.render(db.inTransaction(tx -> Jobs.byId(tx, id)).orElseThrow()));
    }

    private Answer read(Call call) {
        Gateways.Gateway gateway = find(call);
        return job(db.inTransaction(tx -> Jobs.add(tx, GatewayJobs.read(gateway.id()))));
    }

    /** One job for each, so that the number of workers bounds connections and threads. */
    private Answer readAll(Call call) {
        List<OfficeApi.ReadJob> jobs = db.inTransaction(tx -> gateways.page(tx, "", Integer.MAX_VALUE).stream()
                .filter(Gateways.Gateway::identityAccepted)
                .map(g -> new OfficeApi.ReadJob(
                        g.name(), Jobs.add(tx, GatewayJobs.read(g.id())).toString()))
                .toList());
        return Answer.accepted(new OfficeApi.ReadAll(jobs));
    }

    private Answer takeBackup(Call call) {
        Gateways.Gateway gateway = find(call);
        String reason = Fields.optionalTitle(
                "reason", call.body(WatchApi.TakeBackup.class).reason());
        UUID job = db.inTransaction(tx -> Jobs.add(
                tx,
                GatewayBackupJob.order(
                        gateway.id(),
                        reason.isEmpty() ? "on demand" : reason,
                        call.caller().reference())));
        return JobRoutes.whenDone(waits, job, gateway.name(), () -> answer(gateway.id()));
    }

    private static List<Host> hosts(String text) {
        List<Host> out = new ArrayList<>();
        for (String one : text.split("\\s*,\\s*")) {
            out.add(Fields.parse("endpoint", one, Host::parse));
        }
        return Fields.range("endpoint", out.size(), 1, MAX_HOSTS) > 0 ? out : List.of();
    }

    /** {@code KIND:WORDS}, as in {@code fixed:192.0.2.1 vpn.example 100/20}, {@code behind:GATEWAY}, {@code carrier-nat}. */
    private Uplink uplink(String text) {
        int colon = text.indexOf(':');
        String kind = colon < 0 ? text : text.substring(0, colon);
        List<String> words = colon < 0
                ? List.of()
                : List.of(text.substring(colon + 1).strip().split("[\\s,]+"));
        Uplink uplink =
                Fields.parse("uplinks", text, t -> DeviceFiles.uplinkOf("main", Uplink.Kind.parse(kind), words));
        uplink.behind()
                .ifPresent(front -> db.inTransaction(tx -> gateways.byName(tx, front))
                        .orElseThrow(() -> new ApiFailure(
                                ProblemCode.NOT_FOUND,
                                "there is no gateway " + front + " to stand behind",
                                "uplinks")));
        return uplink;
    }

    private Answer set(Call call) {
        OfficeApi.SetGateway request = call.body(OfficeApi.SetGateway.class);
        int version = call.version();
        Gateways.Gateway g = find(call);
        String factory = request.factory().orElse(g.factory());
        if (!FACTORY.contains(factory)) {
            throw new ApiFailure(ProblemCode.MALFORMED, "factory is not-asked, changed or still-work", "factory");
        }
        String description = request.description().orElse(g.description());
        boxes.description(description);
        Optional<UUID> other = request.joinedWith()
                .map(name -> db.inTransaction(tx -> gateways.byName(tx, name))
                        .orElseThrow(
                                () -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such gateway", "joinedWith"))
                        .id());
        Gateways.OperatorSettings settings = new Gateways.OperatorSettings(
                request.insideHost()
                        .map(t -> Fields.parse("insideHost", t, IpAddress::parse))
                        .or(g::insideHost),
                request.endpoint().map(GatewayRoutes::hosts).orElse(g.hosts()),
                factory,
                request.uplinks()
                        .map(list -> OfficeDocuments.UPLINKS.write(
                                list.stream().map(this::uplink).toList()))
                        .orElse(g.uplinks()));
        Gateways.Gateway changed =
                g.with(settings, description, request.readOnly().orElse(g.readOnly()));
        db.run(tx -> {
            gateways.set(tx, changed, version);
            other.ifPresent(id -> Gateways.join(tx, g.id(), id));
            Events.say(tx, "gateway", g.id());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "gateway-set",
                    "gateway",
                    g.id(),
                    "what operators say of it");
        });
        names.look(g.name());
        reading.endpoints(g.id(), call.now());
        return answer(g.id());
    }
}
