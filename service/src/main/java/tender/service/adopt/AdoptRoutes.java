package tender.service.adopt;

import java.util.Base64;
import java.util.List;
import java.util.Map;
import tender.api.AdoptApi;
import tender.api.InspectApi;
import tender.api.ProblemCode;
import tender.core.wire.Fields;
import tender.io.gateway.ManagementConnection;
import tender.service.device.Connections;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.OneByOne;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;

/** The route by which a gateway's own client files are taken in. */
public final class AdoptRoutes implements Routes {
    private final Db db;
    private final Gateways gateways;
    private final Connections connections;
    private final Adopting adopting;
    private final OneByOne oneByOne;

    public AdoptRoutes(Db db, Gateways gateways, Connections connections, Adopting adopting, OneByOne oneByOne) {
        this.oneByOne = oneByOne;
        this.db = db;
        this.gateways = gateways;
        this.connections = connections;
        this.adopting = adopting;
    }

    @Override
    public List<Route> routes() {
        return List.of(Route.post(
                "/gateways/{id}/adoptions",
                Role.WRITERS,
                "Take in client files that a gateway made itself: matched to devices, mended by rule, kept as they came",
                AdoptApi.Adopt.class,
                AdoptApi.Adopted.class,
                this::adopt));
    }

    /** Bounded by the connector's time limits. */
    private byte[] exported(Gateways.Gateway gateway) {
        try (ManagementConnection session = connections.open(gateway.id())) {
            return session.export();
        }
    }

    private Answer adopt(Call call) {
        Gateways.Gateway gateway =
                db.inTransaction(tx -> gateways.byId(tx, call.id())).orElseThrow(() -> ApiFailure.notFound("gateway"));
        AdoptApi.Adopt request = call.body(AdoptApi.Adopt.class);
        String name = Fields.title("name", request.name().orElse("export of " + gateway.name()));
        RefusedRepairs refused = RefusedRepairs.of(request.refuse().orElse(List.of()));
        byte[] content = request.content().map(AdoptRoutes::decoded).orElseGet(() -> exported(gateway));
        AdoptOrder order = new AdoptOrder(
                gateway,
                request.listener(),
                name,
                content,
                request.assign().orElse(Map.of()),
                refused,
                request.passphrase(),
                request.decision().filter(d -> !d.isBlank()));
        String actor = call.caller().reference();
        boolean dryRun = request.dryRun().orElse(false);
        return Answer.ok(render(oneByOne.run(
                call.caller(),
                () -> dryRun
                        ? adopting.rehearse(order, actor, call.now())
                        : adopting.adopt(order, actor, call.now()))));
    }

    private static byte[] decoded(String base64) {
        try {
            return Base64.getDecoder().decode(base64);
        } catch (IllegalArgumentException e) {
            throw new ApiFailure(ProblemCode.MALFORMED, "the content is not base64", "content");
        }
    }

    private static AdoptApi.Adopted render(List<Adoption> all) {
        return new AdoptApi.Adopted(
                all.stream().map(AdoptRoutes::render).toList(),
                (int) all.stream()
                        .filter(a -> a.outcome() instanceof Adoption.Adopted)
                        .count(),
                (int) all.stream()
                        .filter(a -> a.outcome() instanceof Adoption.Asked)
                        .count());
    }

    private static AdoptApi.File render(Adoption a) {
        return new AdoptApi.File(
                a.candidate().path(),
                a.outcome().word(),
                a.outcome().why(),
                a.owner().map(o -> o.person().handle()),
                a.owner().map(o -> o.device().name()),
                a.owner().map(Owners.Owner::matchedBy),
                a.label(),
                a.repaired().repairs().stream()
                        .map(r -> new AdoptApi.Repair(
                                r.rule().code(), r.rule().reason(), r.line(), r.before(), r.after()))
                        .toList(),
                a.notes().stream().map(InspectApi.Note::of).toList());
    }
}
