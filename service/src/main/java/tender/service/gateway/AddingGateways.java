package tender.service.gateway;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.Target;
import tender.service.device.Boxes;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.job.Jobs;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Sites;

/** Adds gateways, and accepts their identities. */
final class AddingGateways {
    /** How gateways are managed that nobody can reach: files are carried to and fro. */
    static final String BY_FILES = "file";

    private final Db db;
    private final Gateways gateways;
    private final Boxes boxes;

    AddingGateways(Db db, Gateways gateways, Boxes boxes) {
        this.db = db;
        this.gateways = gateways;
        this.boxes = boxes;
    }

    /**
     * A gateway that somebody wants managed.
     *
     * @param connector by which it is reached
     * @param description of its kind of device, by name
     */
    record Order(
            String name,
            String site,
            String kind,
            String connector,
            Target target,
            String description,
            Optional<IpAddress> insideHost,
            List<Host> hosts) {}

    /**
     * Keeps a gateway with the identity that it shows, which is to be compared and accepted.
     *
     * @throws Refused where there is no such site, or one of that name
     * @throws GatewayFailure where it does not answer
     */
    UUID add(Order order, String actor, Instant now) {
        Sites.Site site = db.inTransaction(tx -> Sites.byName(tx, order.site()))
                .orElseThrow(() -> new Refused(Refused.Kind.NOT_FOUND, "there is no such site; add it first", "site"));
        if (db.inTransaction(tx -> gateways.byName(tx, order.name())).isPresent()) {
            throw new Refused(Refused.Kind.CONFLICT, "there is a gateway of this name already", "name");
        }
        String identity = boxes.connector(order.connector()).identity(order.target());
        Gateways.Gateway gateway = gateway(order, site, identity, now);
        db.run(tx -> {
            gateways.insert(tx, gateway, order.target().secret());
            if (order.connector().equals(BY_FILES)) {
                gateways.acceptIdentity(tx, gateway.id(), identity, gateway.version()); // nobody's key to compare
            }
            Events.say(tx, "gateway", gateway.id());
            Journal.append(
                    tx, now, actor, "gateway-added", "gateway", gateway.id(), order.name() + ", shows " + identity);
        });
        return gateway.id();
    }

    private static Gateways.Gateway gateway(Order order, Sites.Site site, String identity, Instant now) {
        Target target = order.target();
        return new Gateways.Gateway(
                Ids.next(),
                site.id(),
                site.name(),
                order.name(),
                order.kind(),
                new Gateways.Management(
                        order.connector(),
                        target.host(),
                        target.port(),
                        target.user(),
                        identity,
                        false,
                        order.description(),
                        target.readOnly()),
                Gateways.OperatorSettings.of(order.insideHost(), order.hosts()),
                Gateways.LastReading.NEVER,
                now,
                1);
    }

    /** Whether the gateway shows that identity now. */
    boolean shows(Gateways.Gateway gateway, String identity) {
        Target target = new Target(
                gateway.address(),
                gateway.port(),
                gateway.user(),
                Secret.of(""),
                Optional.empty(),
                boxes.description(gateway.description()),
                true);
        return boxes.connector(gateway.connector()).identity(target).equals(identity);
    }

    /** Accepts the identity that was compared; gives the job that reads the gateway. */
    UUID accept(Gateways.Gateway gateway, String identity, String actor, Instant now) {
        return db.inTransaction(tx -> {
            gateways.acceptIdentity(tx, gateway.id(), identity, gateway.version());
            Journal.append(tx, now, actor, "identity-accepted", "gateway", gateway.id(), identity);
            return Jobs.add(tx, GatewayJobs.read(gateway.id()));
        });
    }
}
