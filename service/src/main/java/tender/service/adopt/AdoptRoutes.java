package tender.service.adopt;

import java.util.Base64;
import java.util.List;
import tender.api.AdoptApi;
import tender.api.ProblemCode;
import tender.io.gateway.ManagementConnection;
import tender.service.device.Connections;
import tender.service.http.Answer;
import tender.service.http.ApiFailure;
import tender.service.http.Call;
import tender.service.http.OneByOne;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;

/** The route by which a gateway's own client files are taken in. */
public final class AdoptRoutes {
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
        try {
            byte[] content = request.content().isPresent()
                    ? Base64.getDecoder().decode(request.content().get())
                    : exported(gateway);
            return Answer.ok(oneByOne.run(
                    call.caller(),
                    () -> adopting.adopt(
                            gateway, request, content, call.caller().reference(), call.now())));
        } catch (IllegalArgumentException e) {
            throw new ApiFailure(ProblemCode.MALFORMED, "the content is not base64", "content");
        }
    }
}
