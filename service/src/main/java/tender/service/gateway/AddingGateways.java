package tender.service.gateway;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.Secret;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.SignIn;
import tender.io.gateway.Target;
import tender.service.device.Connections;
import tender.service.device.DeviceDescriptions;
import tender.service.refusal.Refused;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.job.Jobs;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Sites;

/** Adds gateways, and accepts their identities. */
final class AddingGateways {
    /** How gateways are managed that nobody can reach: files are carried to and fro. */
    static final String BY_FILES = "file";

    private final Db db;
    private final Gateways gateways;
    private final DeviceDescriptions descriptions;
    private final Connections connections;

    AddingGateways(Db db, Gateways gateways, DeviceDescriptions descriptions, Connections connections) {
        this.db = db;
        this.gateways = gateways;
        this.descriptions = descriptions;
        this.connections = connections;
    }

    /**
     * A gateway that somebody wants managed.
     *
     * @param connector by which it is reached
     * @param description of its kind of device, by name
     * @param identity the fingerprint of one of its host keys, as somebody read it on the device
     * @param jump the gateway through which it is reached, by name
     */
    record Order(
            String name,
            Optional<String> site,
            String kind,
            String connector,
            Target target,
            String description,
            Optional<String> identity,
            Optional<String> jump,
            Optional<IpAddress> insideHost,
            List<Host> hosts) {}

    /**
     * Keeps a gateway with the identity that it shows. One that was given is accepted where the device has it; another is to be
     * compared and accepted. The sign-in is tried before anything is kept: with a key at once, which tells a stranger
     * nothing; with a password or token only at a device whose identity was given.
     *
     * @throws Refused where there is no such site, or one of that name
     * @throws GatewayFailure where it does not answer, has no such identity, or refuses the sign-in
     */
    UUID add(Order order, By by) {
        db.rehearse(tx -> SiteOfGateway.of(tx, order.site(), by)); // before anything is asked of the device
        if (db.inTransaction(tx -> gateways.byName(tx, order.name())).isPresent()) {
            throw new Refused(Refused.Kind.CONFLICT, "there is a gateway of this name already", "name");
        }
        String identity = identity(order.connector(), order.target(), order.identity());
        boolean byFiles = order.connector().equals(BY_FILES);
        boolean accepted = byFiles || order.identity().isPresent(); // of files there is nobody's key to compare
        if (!byFiles && (accepted || order.target().signIn().method() == SignIn.Method.KEY)) {
            connections.tryOut(order.connector(), order.target().withIdentity(identity));
        }
        return db.inTransaction(tx -> {
            Gateways.Gateway gateway = gateway(order, SiteOfGateway.of(tx, order.site(), by), identity, by.at());
            gateways.insert(tx, gateway, order.target().signIn().secret());
            if (accepted) {
                gateways.acceptIdentity(tx, gateway.id(), identity, gateway.version());
            }
            if (accepted && !byFiles) {
                Jobs.add(tx, GatewayJobs.read(gateway.id()));
            }
            Events.say(tx, "gateway", gateway.id());
            Journal.append(tx, by, "gateway-added", "gateway", gateway.id(), order.name() + ", shows " + identity);
            return gateway.id();
        });
    }

    /**
     * The identity of a device as it is kept.
     *
     * @param given the fingerprint that somebody read on it
     */
    String identity(String connector, Target target, Optional<String> given) {
        if (given.isEmpty()) {
            return descriptions.connector(connector).identity(target);
        }
        return descriptions
                .connector(connector)
                .showing(target, given.get())
                .orElseThrow(() -> new GatewayFailure(
                        GatewayFailure.Kind.IDENTITY_CHANGED,
                        target.host() + " has no host key with that fingerprint; it shows "
                                + descriptions.connector(connector).identity(target),
                        null));
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
                        target.readOnly(),
                        target.signIn().method().word(),
                        order.jump()),
                Gateways.OperatorSettings.of(order.insideHost(), order.hosts()),
                Gateways.LastReading.NEVER,
                now,
                1);
    }

    /** The identity with that fingerprint as the device tells it; empty where it has none such. */
    Optional<String> showing(Gateways.Gateway gateway, String fingerprint) {
        Target target = new Target(
                gateway.address(),
                gateway.port(),
                gateway.user(),
                new SignIn(SignIn.Method.parse(gateway.signIn()), Secret.of("")),
                Optional.empty(),
                descriptions.description(gateway.description()),
                true,
                gateway.jump().map(connections::jump));
        return descriptions.connector(gateway.connector()).showing(target, fingerprint);
    }

    /** Accepts the identity that was compared; gives the job that reads the gateway. */
    UUID accept(Gateways.Gateway gateway, String identity, By by) {
        return db.inTransaction(tx -> {
            gateways.acceptIdentity(tx, gateway.id(), identity, gateway.version());
            Journal.append(tx, by, "identity-accepted", "gateway", gateway.id(), identity);
            return Jobs.add(tx, GatewayJobs.read(gateway.id()));
        });
    }
}
