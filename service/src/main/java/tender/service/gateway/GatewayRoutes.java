package tender.service.gateway;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tender.api.OfficeApi;
import tender.api.ProblemCode;
import tender.api.WatchApi;
import tender.core.credential.Secret;
import tender.core.device.DeviceDescription;
import tender.core.device.DeviceFiles;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.office.Office;
import tender.core.office.Uplink;
import tender.core.wire.Fields;
import tender.io.gateway.SignIn;
import tender.io.gateway.SshKeys;
import tender.io.gateway.Target;
import tender.service.device.Connections;
import tender.service.device.DeviceDescriptions;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.Cursor;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.office.NameLookups;
import tender.service.office.OfficeDocuments;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.journal.Journal;
import tender.store.office.Gateways;

/** Adding a gateway, accepting its identity, reading it, and setting what clients are told to call. */
final class GatewayRoutes implements Routes {
    private static final int SSH_PORT = 22;
    private static final int MAX_HOSTS = 8;
    private static final String NOWHERE = "dropped-files";
    private static final List<String> FACTORY = List.of("not-asked", "changed", "still-work");

    private final Db db;
    private final Gateways gateways;
    private final DeviceDescriptions descriptions;
    private final Connections connections;
    private final AddingGateways adding;
    private final GatewaySignIn signIns;
    private final GatewayView view;
    private final NameLookups names;
    private final GatewayReading reading;
    private final ManualGateways manual;

    GatewayRoutes(
            Db db,
            Gateways gateways,
            DeviceDescriptions descriptions,
            GatewayReading reading,
            NameLookups names,
            Connections connections,
            ManualGateways manual) {
        this.manual = manual;
        this.connections = connections;
        this.db = db;
        this.gateways = gateways;
        this.descriptions = descriptions;
        this.names = names;
        this.adding = new AddingGateways(db, gateways, descriptions, connections);
        this.signIns = new GatewaySignIn(db, descriptions, connections, adding);
        this.view = new GatewayView(descriptions);
        this.reading = reading;
    }

    @Override
    public List<Route> routes() {
        return List.of(
                Route.page(
                                "/gateways",
                                Role.READERS,
                                "Gateways by name; ?text= a part of name or site, ?site= a name, ?kind= router, nas or firewall,"
                                        + " ?state= ok, unreachable, identity-not-accepted or not-read",
                                OfficeApi.Gateway.class,
                                call -> Cursor.byName(
                                        call,
                                        Gateways.SORTS,
                                        slice -> db.inTransaction(tx -> gateways.page(tx, filter(call), slice)),
                                        Gateways.Gateway::name,
                                        all -> db.inTransaction(tx -> view.of(tx, call.now(), all))))
                        .sortedBy(Gateways.SORTS.keySet()),
                Route.get(
                        "/gateways/{id}",
                        Role.READERS,
                        "One gateway",
                        OfficeApi.Gateway.class,
                        call -> answer(call, find(call).id())),
                Route.get(
                        "/gateways/named/{name}",
                        Role.READERS,
                        "A gateway by its name",
                        OfficeApi.Gateway.class,
                        call -> answer(
                                call,
                                db.inTransaction(tx -> gateways.byName(tx, call.path("name")))
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
                Route.patch(
                        "/gateways/{id}",
                        Role.WRITERS,
                        "Set what operators say of a gateway: its name, inside host, hosts clients call, uplinks, and more",
                        OfficeApi.SetGateway.class,
                        OfficeApi.Gateway.class,
                        this::set));
    }

    private static Gateways.Filter filter(Call call) {
        return new Gateways.Filter(
                call.text(),
                call.query("site"),
                call.query("kind"),
                call.query("state").map(GatewayRoutes::condition));
    }

    private static Gateways.Condition condition(String word) {
        return Stream.of(Gateways.Condition.values())
                .filter(c -> c.word().equals(word))
                .findFirst()
                .orElseThrow(() -> new ApiFailure(
                        ProblemCode.MALFORMED,
                        "state is one of "
                                + Stream.of(Gateways.Condition.values())
                                        .map(Gateways.Condition::word)
                                        .collect(Collectors.joining(", ")),
                        "state"));
    }

    private Gateways.Gateway find(Call call) {
        return db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("gateway"));
    }

    private Answer answer(Call call, UUID id) {
        return view.answer(db, gateways, id, call.now());
    }

    private Answer add(Call call) {
        OfficeApi.AddGateway request = call.body(OfficeApi.AddGateway.class);
        if (request.identity().isPresent()) {
            call.needFresh(); // as for accepting it
        }
        UUID id = request.connector().filter(Gateways.MANUAL::equals).isPresent()
                ? manual.add(site(request), byHand(request), call.by())
                : adding.add(order(request), call.by());
        return Answer.created(db.inTransaction(tx -> view.of(
                        tx, call.now(), List.of(gateways.byId(tx, id).orElseThrow()))
                .get(0)));
    }

    private static ManualGateways.Order byHand(OfficeApi.AddGateway request) {
        return new ManualGateways.Order(
                Fields.name("name", request.name()),
                Office.kind(request.kind().orElse("router")),
                request.endpoint().map(GatewayRoutes::hosts).orElse(List.of()),
                List.of());
    }

    private static Optional<String> site(OfficeApi.AddGateway request) {
        return request.site().filter(s -> !s.isBlank()).map(String::strip);
    }

    private AddingGateways.Order order(OfficeApi.AddGateway request) {
        String name = Fields.name("name", request.name());
        String connector = request.connector().orElse("ssh");
        String description = request.description().orElse("plain-router");
        return new AddingGateways.Order(
                name,
                site(request),
                Office.kind(request.kind().orElse("router")),
                connector,
                target(request, name, connector, descriptions.description(description)),
                description,
                request.identity(),
                request.jump(),
                request.insideHost().map(t -> Fields.parse("insideHost", t, IpAddress::parse)),
                request.endpoint().map(GatewayRoutes::hosts).orElse(List.of()));
    }

    private Target target(OfficeApi.AddGateway request, String name, String connector, DeviceDescription description) {
        boolean files = connector.equals(AddingGateways.BY_FILES);
        return new Target(
                Fields.parse("address", files ? NOWHERE : request.address(), Host::parse),
                Fields.parse("port", Integer.toString(request.port().orElse(SSH_PORT)), Port::parse),
                files ? name : Fields.name("user", request.user()),
                files
                        ? new SignIn(SignIn.Method.KEY, Secret.of(""))
                        : signIn(connector, request.key(), request.passphrase(), request.password())
                                .orElseThrow(() -> new ApiFailure(
                                        ProblemCode.MALFORMED, "a key or a password to sign in with is needed", "key")),
                Optional.empty(),
                description,
                request.readOnly().orElse(false),
                request.jump().map(connections::jump));
    }

    /** What somebody gave to sign in with; empty where they gave nothing. */
    private static Optional<SignIn> signIn(
            String connector, Optional<Secret> key, Optional<Secret> passphrase, Optional<Secret> password) {
        boolean ssh = connector.equals("ssh");
        if (key.isPresent() && password.isPresent() || !ssh && (password.isPresent() || passphrase.isPresent())) {
            throw new ApiFailure(
                    ProblemCode.MALFORMED,
                    ssh ? "give a key or a password, not both" : "the gateway API takes a token alone",
                    "password");
        }
        if (password.isPresent()) {
            return password.map(p -> new SignIn(SignIn.Method.PASSWORD, p));
        }
        return key.map(k -> ssh
                ? new SignIn(SignIn.Method.KEY, SshKeys.unlocked(k, passphrase))
                : new SignIn(SignIn.Method.TOKEN, k));
    }

    private Answer accept(Call call) {
        Gateways.Gateway gateway = find(call);
        String identity = Fields.required(
                "identity", call.body(OfficeApi.AcceptIdentity.class).identity());
        String told = adding.showing(gateway, identity)
                .orElseThrow(() -> new ApiFailure(
                        ProblemCode.GATEWAY_IDENTITY_CHANGED,
                        gateway.name() + " has no host key with that fingerprint; it shows " + gateway.identity(),
                        "identity"));
        return GatewayReadingRoutes.job(db, adding.accept(gateway, told, call.by()));
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
        descriptions.description(description);
        Optional<UUID> other = request.joinedWith()
                .map(name -> db.inTransaction(tx -> gateways.byName(tx, name))
                        .orElseThrow(
                                () -> new ApiFailure(ProblemCode.NOT_FOUND, "there is no such gateway", "joinedWith"))
                        .id());
        String kind = Office.kind(request.kind().orElse(g.kind()));
        GatewaySignIn.Wish wish = wish(request, g);
        if (!wish.isNone()) {
            call.needFresh(); // what Tender signs in with would go to another device
        }
        Gateways.Management managed =
                signIns.changed(g, wish, description, request.readOnly().orElse(g.readOnly()));
        Gateways.Gateway changed = g.named(
                        request.name().map(n -> Fields.name("name", n)).orElse(g.name()))
                .with(kind, settings(request, g, factory), managed);
        db.run(tx -> {
            gateways.set(tx, changed, wish.signIn().map(SignIn::secret), version);
            if (!changed.name().equals(g.name())) {
                GatewayNames.follow(tx, gateways, changed, g.name());
            }
            other.ifPresent(id -> Gateways.join(tx, g.id(), id));
            Events.say(tx, "gateway", g.id());
            Journal.append(tx, call.by(), "gateway-set", "gateway", g.id(), did(wish, g.name(), changed.name()));
        });
        names.look(changed.name());
        reading.endpoints(g.id(), call.now());
        return answer(call, g.id());
    }

    /** A change of how Tender signs in is always in the journal, whatever else was changed with it. */
    private static String did(GatewaySignIn.Wish wish, String old, String name) {
        List<String> all = new ArrayList<>();
        if (!name.equals(old)) {
            all.add(old + " is called " + name + " now");
        }
        if (!wish.isNone()) {
            all.add("how it is signed in to");
        }
        return all.isEmpty() ? "recorded by hand" : String.join("; ", all);
    }

    private static GatewaySignIn.Wish wish(OfficeApi.SetGateway request, Gateways.Gateway g) {
        return new GatewaySignIn.Wish(
                request.address().map(a -> Fields.parse("address", a, Host::parse)),
                request.port().map(p -> Fields.parse("port", Integer.toString(p), Port::parse)),
                request.user().map(u -> Fields.name("user", u)),
                signIn(g.connector(), request.key(), request.passphrase(), request.password()),
                request.jump(),
                request.identity());
    }

    /** What operators say of a gateway now: what was given anew, else what it was. */
    private Gateways.OperatorSettings settings(OfficeApi.SetGateway request, Gateways.Gateway g, String factory) {
        return new Gateways.OperatorSettings(
                request.insideHost()
                        .map(t -> Fields.parse("insideHost", t, IpAddress::parse))
                        .or(g::insideHost),
                request.endpoint().map(GatewayRoutes::hosts).orElse(g.hosts()),
                factory,
                request.uplinks()
                        .map(list -> OfficeDocuments.UPLINKS.write(
                                list.stream().map(this::uplink).toList()))
                        .orElse(g.uplinks()),
                request.contact().map(GatewayRoutes::contact).orElse(g.contact()));
    }

    /** A mail address, or an empty text for nobody. */
    private static String contact(String text) {
        return text.isBlank() ? "" : Fields.mail("contact", text);
    }
}
