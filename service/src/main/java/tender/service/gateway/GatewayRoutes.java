package tender.service.gateway;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.wire.Fields;
import tender.io.gateway.Connector;
import tender.io.gateway.Target;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.session.Watch;
import tender.store.backup.Backups;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.office.Sites;

/** Adding a gateway, accepting its identity, reading it, and setting what clients are told to call. */
public final class GatewayRoutes {
    private static final int SSH_PORT = 22;
    private static final List<String> KINDS = List.of("router", "nas", "firewall");

    private final Db db;
    private final Gateways gateways;
    private final Connector connector;
    private final GatewayReading reading;
    private final Watch watch;

    public GatewayRoutes(Db db, Gateways gateways, Connector connector, GatewayReading reading, Watch watch) {
        this.db = db;
        this.gateways = gateways;
        this.connector = connector;
        this.reading = reading;
        this.watch = watch;
    }

    public List<Route> routes() {
        return List.of(
                Route.page(
                        "/gateways",
                        Role.READERS,
                        "Gateways by name",
                        OfficeApi.Gateway.class,
                        call -> Cursor.byName(
                                call,
                                (after, limit) -> db.inTransaction(tx -> gateways.page(tx, after, limit)),
                                Gateways.Gateway::name,
                                all -> db.inTransaction(tx -> render(tx, all)))),
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
                        this::accept),
                Route.post(
                        "/gateways/{id}/read",
                        Role.WRITERS,
                        "Back up and read the gateway again",
                        null,
                        WatchApi.Job.class,
                        this::read),
                Route.post(
                        "/gateways/{id}/backups",
                        Role.WRITERS,
                        "Take a backup now",
                        WatchApi.TakeBackup.class,
                        OfficeApi.Gateway.class,
                        this::takeBackup),
                Route.post(
                        "/gateways/{id}/apply",
                        Role.WRITERS,
                        "Bring the gateway to what the records want",
                        null,
                        WatchApi.Job.class,
                        this::apply),
                Route.patch(
                        "/gateways/{id}",
                        Role.WRITERS,
                        "Set the inside host and the endpoint clients call",
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
            return Answer.ok(render(tx, List.of(gateway)).get(0), gateway.version());
        });
    }

    private List<OfficeApi.Gateway> render(Tx tx, List<Gateways.Gateway> all) {
        Map<UUID, List<Listeners.Listener>> listeners =
                Listeners.of(tx, all.stream().map(Gateways.Gateway::id).toList()).stream()
                        .collect(Collectors.groupingBy(Listeners.Listener::gatewayId));
        Map<UUID, Backups.Backup> newest = Backups.newest(
                        tx, all.stream().map(Gateways.Gateway::id).toList())
                .stream()
                .collect(Collectors.toMap(Backups.Backup::gatewayId, b -> b));
        List<String> capabilities = connector.capabilities().stream()
                .map(c -> c.name().toLowerCase(java.util.Locale.ROOT))
                .sorted()
                .toList();
        return all.stream()
                .map(g -> new OfficeApi.Gateway(
                        g.id().toString(),
                        g.name(),
                        g.site(),
                        g.kind(),
                        g.make(),
                        g.model(),
                        g.release(),
                        g.connector(),
                        capabilities,
                        g.address().toString(),
                        g.port().number(),
                        g.user(),
                        g.identity(),
                        g.identityAccepted(),
                        g.insideHost().map(Object::toString),
                        g.endpointHost().map(Object::toString),
                        g.readAt(),
                        g.readProblem(),
                        Optional.ofNullable(newest.get(g.id()))
                                .map(b -> new OfficeApi.NewestBackup(b.id().toString(), b.number(), b.takenAt())),
                        listeners.getOrDefault(g.id(), List.of()).stream()
                                .map(GatewayRoutes::render)
                                .toList(),
                        g.createdAt(),
                        g.version()))
                .toList();
    }

    private static OfficeApi.Listener render(Listeners.Listener l) {
        int own = l.insideAddress().isPresent() ? 1 : 0;
        return new OfficeApi.Listener(
                l.id().toString(),
                l.name(),
                l.protocol(),
                l.transport().word(),
                l.port().number(),
                l.publicKey(),
                l.tunnels().stream().map(Object::toString).toList(),
                l.insideAddress().map(Object::toString),
                l.endpoint().map(Object::toString),
                l.inForce(),
                Math.max(0, l.taken().size() - own));
    }

    private Answer add(Call call) {
        OfficeApi.AddGateway request = call.body(OfficeApi.AddGateway.class);
        String name = Fields.name("name", request.name());
        String kind = request.kind().orElse("router");
        if (!KINDS.contains(kind)) {
            throw new ApiFailure(ProblemCode.MALFORMED, "kind is router, nas or firewall", "kind");
        }
        Target target = new Target(
                Fields.parse("address", request.address(), Host::parse),
                Fields.parse("port", Integer.toString(request.port().orElse(SSH_PORT)), Port::parse),
                Fields.name("user", request.user()),
                Fields.given("key", request.key()),
                Optional.empty());
        Optional<IpAddress> inside = request.insideHost().map(t -> Fields.parse("insideHost", t, IpAddress::parse));
        Optional<Host> endpoint = request.endpoint().map(t -> Fields.parse("endpoint", t, Host::parse));
        Sites.Site site = db.inTransaction(tx -> Sites.byName(tx, Fields.required("site", request.site())))
                .orElseThrow(
                        () -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such site; add it first", "site"));
        if (db.inTransaction(tx -> gateways.byName(tx, name)).isPresent()) {
            throw new ApiFailure(ProblemCode.CONFLICT, "there is a gateway of this name already", "name");
        }
        String identity = connector.identity(target);
        Gateways.Gateway gateway = new Gateways.Gateway(
                Ids.next(),
                site.id(),
                site.name(),
                name,
                kind,
                "",
                "",
                "",
                "ssh",
                target.host(),
                target.port(),
                target.user(),
                identity,
                false,
                inside,
                endpoint,
                Optional.empty(),
                Optional.empty(),
                call.now(),
                1);
        db.run(tx -> {
            gateways.insert(tx, gateway, target.privateKey());
            Events.say(tx, "gateway", gateway.id().toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "gateway-added",
                    "gateway",
                    gateway.id().toString(),
                    name + ", shows " + identity);
        });
        return Answer.created(
                db.inTransaction(tx -> render(tx, List.of(gateway)).get(0)));
    }

    private Answer accept(Call call) {
        Gateways.Gateway gateway = find(call);
        String identity = Fields.required(
                "identity", call.body(OfficeApi.AcceptIdentity.class).identity());
        Target target = new Target(
                gateway.address(),
                gateway.port(),
                gateway.user(),
                tender.core.credential.Secret.of(""),
                Optional.empty());
        if (!connector.identity(target).equals(identity)) {
            throw new ApiFailure(
                    ProblemCode.GATEWAY_IDENTITY_CHANGED,
                    gateway.name() + " shows another fingerprint than the one given",
                    "identity");
        }
        UUID job = db.inTransaction(tx -> {
            gateways.acceptIdentity(tx, gateway.id(), identity, gateway.version());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "identity-accepted",
                    "gateway",
                    gateway.id().toString(),
                    identity);
            watch.ensure(tx, gateway.id(), call.now());
            return order(tx, GatewayJobs.read(gateway.id()), call);
        });
        return job(job);
    }

    private UUID order(Tx tx, Jobs.Order order, Call call) {
        UUID job = Jobs.add(tx, order, call.now());
        Events.say(tx, tender.service.event.LiveEvents.JOB_ADDED, job.toString());
        return job;
    }

    private Answer job(UUID id) {
        return Answer.accepted(tender.service.job.JobRoutes.render(
                db.inTransaction(tx -> Jobs.byId(tx, id)).orElseThrow()));
    }

    private Answer read(Call call) {
        Gateways.Gateway gateway = find(call);
        return job(db.inTransaction(tx -> order(tx, GatewayJobs.read(gateway.id()), call)));
    }

    private Answer apply(Call call) {
        Gateways.Gateway gateway = find(call);
        return job(db.inTransaction(tx -> order(tx, GatewayJobs.change(gateway.id()), call)));
    }

    private Answer takeBackup(Call call) {
        Gateways.Gateway gateway = find(call);
        String reason = Fields.optionalTitle(
                "reason", call.body(WatchApi.TakeBackup.class).reason());
        reading.read(
                gateway.id(),
                reason.isEmpty() ? "on demand" : reason,
                call.caller().reference());
        return answer(gateway.id());
    }

    private Answer set(Call call) {
        OfficeApi.SetGateway request = call.body(OfficeApi.SetGateway.class);
        int version = call.version();
        Gateways.Gateway gateway = find(call);
        Optional<IpAddress> inside = request.insideHost()
                .map(t -> Fields.parse("insideHost", t, IpAddress::parse))
                .or(gateway::insideHost);
        Optional<Host> endpoint = request.endpoint()
                .map(t -> Fields.parse("endpoint", t, Host::parse))
                .or(gateway::endpointHost);
        db.run(tx -> {
            gateways.set(tx, gateway.id(), inside, endpoint, version);
            endpoint.ifPresent(host -> Listeners.of(tx, List.of(gateway.id()))
                    .forEach(l -> Listeners.putEndpoint(tx, l.id(), new Endpoint(host, l.port(), Transport.UDP))));
            Events.say(tx, "gateway", gateway.id().toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "gateway-set",
                    "gateway",
                    gateway.id().toString(),
                    "inside host or endpoint");
        });
        return answer(gateway.id());
    }
}
