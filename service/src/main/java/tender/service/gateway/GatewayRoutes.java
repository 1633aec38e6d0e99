package tender.service.gateway;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
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
import tender.io.gateway.Capability;
import tender.io.gateway.Connector;
import tender.io.gateway.Target;
import tender.service.device.Boxes;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.job.JobRoutes;
import tender.service.job.JobWaits;
import tender.service.office.NameLookups;
import tender.service.office.OfficeDocuments;
import tender.service.office.OfficeRecords;
import tender.store.backup.Backups;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.GivenFiles;
import tender.store.office.Listeners;
import tender.store.office.Sites;

/** Adding a gateway, accepting its identity, reading it, and setting what clients are told to call. */
public final class GatewayRoutes {
    private static final int SSH_PORT = 22;
    private static final int MAX_HOSTS = 8;
    private static final int MAX_DROPPED = 100;
    private static final int MOST_NAMED = 10;
    private static final String NOWHERE = "dropped-files";
    private static final List<String> FACTORY = List.of("not-asked", "changed", "still-work");
    private static final List<String> KINDS = List.of("router", "nas", "firewall");

    private final Db db;
    private final Gateways gateways;
    private final Boxes boxes;
    private final GivenFiles given;
    private final NameLookups names;
    private final GatewayReading reading;
    private final JobWaits waits;

    public GatewayRoutes(
            Db db,
            Gateways gateways,
            Boxes boxes,
            GatewayReading reading,
            NameLookups names,
            GivenFiles given,
            JobWaits waits) {
        this.waits = waits;
        this.db = db;
        this.gateways = gateways;
        this.boxes = boxes;
        this.names = names;
        this.given = given;
        this.reading = reading;
    }

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
                Route.post(
                        "/gateways/{id}/dropped",
                        Role.WRITERS,
                        "Drop files of a gateway that nobody can reach; it is then read",
                        OfficeApi.DropFiles.class,
                        WatchApi.Job.class,
                        this::drop),
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
        Map<String, List<String>> capabilities = new HashMap<>(); // by kind of box, not asked for each gateway
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
                        capabilities.computeIfAbsent(
                                g.connector() + " " + g.description() + " " + g.readOnly(), k -> capabilities(g)),
                        g.address().toString(),
                        g.port().number(),
                        g.user(),
                        g.identity(),
                        g.identityAccepted(),
                        g.insideHost().map(Object::toString),
                        g.hosts().stream().map(Object::toString).toList(),
                        OfficeRecords.uplinks(g).stream().map(Uplink::words).toList(),
                        g.factory(),
                        g.description(),
                        g.readOnly(),
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
                l.gone(),
                Math.max(0, l.taken().size() - own));
    }

    private List<String> capabilities(Gateways.Gateway g) {
        return boxes.capabilities(g.connector(), g.description(), g.readOnly()).stream()
                .map(Capability::word)
                .sorted()
                .toList();
    }

    private Answer add(Call call) {
        OfficeApi.AddGateway request = call.body(OfficeApi.AddGateway.class);
        String name = Fields.name("name", request.name());
        String kind = request.kind().orElse("router");
        if (!KINDS.contains(kind)) {
            throw new ApiFailure(ProblemCode.MALFORMED, "kind is router, nas or firewall", "kind");
        }
        String way = request.connector().orElse("ssh");
        Connector connector = boxes.connector(way);
        boolean files = way.equals("file");
        String description = request.description().orElse("plain-router");
        Target target = new Target(
                Fields.parse("address", files ? NOWHERE : request.address(), Host::parse),
                Fields.parse("port", Integer.toString(request.port().orElse(SSH_PORT)), Port::parse),
                files ? name : Fields.name("user", request.user()),
                files ? Secret.of("") : Fields.given("key", request.key()),
                Optional.empty(),
                boxes.description(description),
                request.readOnly().orElse(false));
        Optional<IpAddress> inside = request.insideHost().map(t -> Fields.parse("insideHost", t, IpAddress::parse));
        List<Host> hosts = request.endpoint().map(t -> hosts(t)).orElse(List.of());
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
                way,
                target.host(),
                target.port(),
                target.user(),
                identity,
                false,
                inside,
                hosts,
                Optional.empty(),
                Optional.empty(),
                call.now(),
                1,
                description,
                target.readOnly(),
                "not-asked",
                "[]",
                Optional.empty());
        db.run(tx -> {
            gateways.insert(tx, gateway, target.secret());
            if (files) {
                gateways.acceptIdentity(tx, gateway.id(), identity, gateway.version()); // nobody's key to compare
            }
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
        return Answer.created(db.inTransaction(tx -> render(
                        tx, List.of(gateways.byId(tx, gateway.id()).orElseThrow()))
                .get(0)));
    }

    private Answer accept(Call call) {
        Gateways.Gateway gateway = find(call);
        String identity = Fields.required(
                "identity", call.body(OfficeApi.AcceptIdentity.class).identity());
        Target target = new Target(
                gateway.address(),
                gateway.port(),
                gateway.user(),
                Secret.of(""),
                Optional.empty(),
                boxes.description(gateway.description()),
                true);
        if (!boxes.connector(gateway.connector()).identity(target).equals(identity)) {
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
            return Jobs.add(tx, GatewayJobs.read(gateway.id()));
        });
        return job(job);
    }

    private Answer job(UUID id) {
        return Answer.accepted(tender.service.job.JobRoutes.render(
                db.inTransaction(tx -> Jobs.byId(tx, id)).orElseThrow()));
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
        Gateways.Gateway changed = new Gateways.Gateway(
                g.id(),
                g.siteId(),
                g.site(),
                g.name(),
                g.kind(),
                g.make(),
                g.model(),
                g.release(),
                g.connector(),
                g.address(),
                g.port(),
                g.user(),
                g.identity(),
                g.identityAccepted(),
                request.insideHost()
                        .map(t -> Fields.parse("insideHost", t, IpAddress::parse))
                        .or(g::insideHost),
                request.endpoint().map(GatewayRoutes::hosts).orElse(g.hosts()),
                g.readAt(),
                g.readProblem(),
                g.createdAt(),
                g.version(),
                description,
                request.readOnly().orElse(g.readOnly()),
                factory,
                request.uplinks()
                        .map(list -> OfficeDocuments.UPLINKS.write(
                                list.stream().map(this::uplink).toList()))
                        .orElse(g.uplinks()),
                g.device());
        db.run(tx -> {
            gateways.set(tx, changed, version);
            other.ifPresent(id -> Gateways.join(tx, g.id(), id));
            Events.say(tx, "gateway", g.id().toString());
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "gateway-set",
                    "gateway",
                    g.id().toString(),
                    "what operators say of it");
        });
        names.look(g.name());
        reading.endpoints(g.id(), call.now());
        return answer(g.id());
    }

    private Answer drop(Call call) {
        Gateways.Gateway g = find(call);
        if (!g.connector().equals("file")) {
            throw new ApiFailure(
                    ProblemCode.CONFLICT, g.name() + " is read over " + g.connector() + "; files are not dropped");
        }
        OfficeApi.DropFiles request = call.body(OfficeApi.DropFiles.class);
        Map<String, String> files = Fields.given("files", request.files());
        Instant taken = request.taken().orElse(call.now());
        if (taken.isAfter(call.now())) {
            throw new ApiFailure(ProblemCode.MALFORMED, "files cannot be taken in the future", "taken");
        }
        Fields.range("files", files.size(), 1, MAX_DROPPED);
        DeviceDescription description = boxes.description(g.description());
        files.forEach((path, text) -> {
            if (!path.matches("/[A-Za-z0-9._/-]{1,200}") || path.contains("..") || !description.speaksOf(path)) {
                throw new ApiFailure(
                        ProblemCode.MALFORMED,
                        "the description " + g.description() + " speaks of no such file; it speaks of "
                                + String.join(
                                        ", ",
                                        description.files().stream()
                                                .map(f -> f.path())
                                                .toList()),
                        "files");
            }
        });
        Map<String, byte[]> contents = files.entrySet().stream()
                .collect(Collectors.toMap(Map.Entry::getKey, f -> f.getValue().getBytes(StandardCharsets.UTF_8)));
        return job(db.inTransaction(tx -> {
            given.put(tx, g.id(), contents, taken);
            Journal.append(
                    tx,
                    call.now(),
                    call.caller().reference(),
                    "files-dropped",
                    "gateway",
                    g.id().toString(),
                    String.join(
                                    ", ",
                                    files.keySet().stream()
                                            .sorted()
                                            .limit(MOST_NAMED)
                                            .toList())
                            + (files.size() > MOST_NAMED ? " and " + (files.size() - MOST_NAMED) + " more" : ""));
            return Jobs.add(tx, GatewayJobs.read(g.id()));
        }));
    }
}
