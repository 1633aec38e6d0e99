package tender.service.gateway;

import java.util.Optional;
import java.util.stream.Stream;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.io.gateway.SignIn;
import tender.io.gateway.Target;
import tender.service.device.Connections;
import tender.service.device.DeviceDescriptions;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.office.Gateways;
import tender.store.removal.Archive;

/** How a gateway is signed in to from now on: tried before it is kept. */
final class GatewaySignIn {
    private final Db db;
    private final DeviceDescriptions descriptions;
    private final Connections connections;
    private final AddingGateways adding;

    GatewaySignIn(Db db, DeviceDescriptions descriptions, Connections connections, AddingGateways adding) {
        this.db = db;
        this.descriptions = descriptions;
        this.connections = connections;
        this.adding = adding;
    }

    /**
     * What somebody wants otherwise; what is empty stays.
     *
     * @param jump a gateway's name, or empty text: reached directly
     * @param identity the fingerprint of one of its host keys, as read on the device
     */
    record Wish(
            Optional<Host> address,
            Optional<Port> port,
            Optional<String> user,
            Optional<SignIn> signIn,
            Optional<String> jump,
            Optional<String> identity) {
        boolean isNone() {
            return Stream.of(address, port, user, signIn, jump, identity).allMatch(Optional::isEmpty);
        }
    }

    /**
     * How it is managed with what was wished.
     *
     * @throws Refused where it cannot be signed in to at all, or not through that gateway
     * @throws tender.io.gateway.GatewayFailure where the device does not answer, shows another identity, or refuses
     */
    Gateways.Management changed(Gateways.Gateway g, Wish wish, String description, boolean readOnly) {
        Gateways.Management now = g.management();
        if (wish.isNone()) {
            return new Gateways.Management(
                    now.connector(),
                    now.address(),
                    now.port(),
                    now.user(),
                    now.identity(),
                    now.identityAccepted(),
                    description,
                    readOnly,
                    now.signIn(),
                    now.jump());
        }
        if (now.connector().equals(AddingGateways.BY_FILES)) {
            throw new Refused(Refused.Kind.MALFORMED, g.name() + " is managed by files; nobody signs in", "address");
        }
        Optional<String> jump = wish.jump().isPresent() ? wish.jump().filter(name -> !name.isEmpty()) : now.jump();
        jump.ifPresent(name -> mayBeReachedThrough(g, name));
        Target wanted = new Target(
                wish.address().orElse(now.address()),
                wish.port().orElse(now.port()),
                wish.user().orElse(now.user()),
                wish.signIn().orElseGet(() -> connections.signIn(g)),
                Optional.empty(),
                descriptions.description(description),
                readOnly,
                jump.map(connections::jump));
        String identity = wish.identity().isPresent()
                ? adding.identity(now.connector(), wanted, wish.identity())
                : now.identity();
        boolean accepted = now.identityAccepted() || wish.identity().isPresent();
        if (accepted || wanted.signIn().method() == SignIn.Method.KEY) {
            connections.tryOut(now.connector(), wanted.withIdentity(identity));
        }
        return new Gateways.Management(
                now.connector(),
                wanted.host(),
                wanted.port(),
                wanted.user(),
                identity,
                accepted,
                description,
                readOnly,
                wanted.signIn().method().word(),
                jump);
    }

    /** One gateway on the way and no more: none that is reached through another, and none that others are reached through. */
    private void mayBeReachedThrough(Gateways.Gateway g, String jump) {
        if (jump.equals(g.name())) {
            throw new Refused(Refused.Kind.MALFORMED, g.name() + " cannot be reached through itself", "jump");
        }
        if (!db.inTransaction(tx -> Archive.reachedThrough(tx, g.id())).isEmpty()) {
            throw new Refused(
                    Refused.Kind.CONFLICT, "other gateways are reached through " + g.name() + " itself", "jump");
        }
    }
}
