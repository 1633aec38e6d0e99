package tender.service.gateway;

import java.util.Optional;
import java.util.UUID;
import tender.api.ProblemCode;
import tender.io.gateway.Connector;
import tender.io.gateway.Session;
import tender.io.gateway.Target;
import tender.service.http.ApiFailure;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;

/** Opens sessions to gateways whose identity was accepted; the only place that opens their keys. */
public final class Connections {
    private final Db db;
    private final Gateways gateways;
    private final Connector connector;

    public Connections(Db db, Gateways gateways, Connector connector) {
        this.db = db;
        this.gateways = gateways;
        this.connector = connector;
    }

    public Session open(UUID gatewayId) {
        Target target = db.inTransaction(tx -> {
            Gateways.Gateway g = gateways.byId(tx, gatewayId).orElseThrow(() -> ApiFailure.notFound("gateway"));
            if (!g.identityAccepted()) {
                throw new ApiFailure(
                        ProblemCode.IDENTITY_NOT_ACCEPTED, g.name() + "'s identity has not been accepted yet");
            }
            return new Target(
                    g.address(), g.port(), g.user(), gateways.signInKey(tx, gatewayId), Optional.of(g.identity()));
        });
        return connector.open(target);
    }
}
