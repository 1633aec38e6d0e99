package tender.service.device;

import java.time.Duration;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.io.gateway.SignIn;
import tender.io.gateway.Target;
import tender.service.metrics.Metrics;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;

/** Opens sessions to gateways whose identity was accepted; the only place that opens their keys. */
public final class Connections {
    private final Db db;
    private final Gateways gateways;
    private final DeviceDescriptions descriptions;
    private final Metrics metrics;

    Connections(Db db, Gateways gateways, DeviceDescriptions descriptions, Metrics metrics) {
        this.metrics = metrics;
        this.db = db;
        this.gateways = gateways;
        this.descriptions = descriptions;
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
            ManagementConnection connection =
                    descriptions.connector(g.connector()).open(target(g));
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
        descriptions.connector(g.connector()).drop(target(g));
    }

    /**
     * Signs in once and leaves again.
     *
     * @throws tender.io.gateway.GatewayFailure where the device does not answer, shows another identity, or refuses
     */
    public void tryOut(String connector, Target target) {
        descriptions.connector(connector).tryOut(target);
    }

    /**
     * The gateway that another is reached through.
     *
     * @throws Refused where there is none of that name, or it is none that Tender signs in to over SSH
     */
    public Target jump(String name) {
        Gateways.Gateway g = db.inTransaction(tx -> gateways.byName(tx, name))
                .orElseThrow(() -> new Refused(
                        Refused.Kind.NOT_FOUND, "there is no gateway " + name + " to reach it through", "jump"));
        if (!g.connector().equals("ssh") || !g.identityAccepted() || g.jump().isPresent()) {
            throw new Refused(
                    Refused.Kind.MALFORMED,
                    name + " is not managed directly over SSH, or its identity is not accepted yet",
                    "jump");
        }
        return target(g);
    }

    /** What a gateway is signed in to with now. */
    public SignIn signIn(Gateways.Gateway g) {
        return new SignIn(SignIn.Method.parse(g.signIn()), db.inTransaction(tx -> gateways.signInKey(tx, g.id())));
    }

    /** A gateway as it is managed now. */
    public Target target(Gateways.Gateway g) {
        return new Target(
                g.address(),
                g.port(),
                g.user(),
                signIn(g),
                Optional.of(g.identity()),
                descriptions.description(g.description()),
                g.readOnly(),
                g.jump().map(this::jump));
    }
}
