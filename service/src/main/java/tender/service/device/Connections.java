package tender.service.device;

import java.time.Duration;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.io.gateway.Target;
import tender.service.metrics.Metrics;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;

/** Opens sessions to gateways whose identity was accepted; the only place that opens their keys. */
public final class Connections {
    private final Db db;
    private final Gateways gateways;
    private final Boxes boxes;
    private final Metrics metrics;

    Connections(Db db, Gateways gateways, Boxes boxes, Metrics metrics) {
        this.metrics = metrics;
        this.db = db;
        this.gateways = gateways;
        this.boxes = boxes;
    }

    /**
     * Opens one, to be closed by whoever asked; one that is kept open is used again.
     *
     * @throws tender.service.refusal.Refused where nobody accepted the gateway's identity yet
     * @throws tender.io.gateway.GatewayFailure where it does not answer, shows another identity, or refuses the key
     */
    public ManagementConnection open(UUID gatewayId) {
        Gateways.Gateway g =
                db.inTransaction(tx -> gateways.byId(tx, gatewayId)).orElseThrow(() -> Refused.notFound("gateway"));
        if (!g.identityAccepted()) {
            throw new Refused(Refused.Kind.IDENTITY_NOT_ACCEPTED, g.name() + "'s identity has not been accepted yet");
        }
        long began = System.nanoTime();
        String outcome = "failed";
        try {
            ManagementConnection connection = boxes.connector(g.connector()).open(target(g));
            outcome = "opened";
            return connection;
        } catch (GatewayFailure e) {
            outcome = e.kind().name().toLowerCase(Locale.ROOT).replace('_', ' ');
            throw e;
        } finally {
            metrics.connection(g.connector(), outcome, Duration.ofNanos(System.nanoTime() - began));
        }
    }

    /** Closes what is kept open, so that the next session is over a fresh connection. */
    public void drop(UUID gatewayId) {
        Gateways.Gateway g =
                db.inTransaction(tx -> gateways.byId(tx, gatewayId)).orElseThrow(() -> Refused.notFound("gateway"));
        boxes.connector(g.connector()).drop(target(g));
    }

    private Target target(Gateways.Gateway g) {
        return new Target(
                g.address(),
                g.port(),
                g.user(),
                db.inTransaction(tx -> gateways.signInKey(tx, g.id())),
                Optional.of(g.identity()),
                boxes.description(g.description()),
                g.readOnly());
    }
}
