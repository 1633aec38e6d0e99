package tender.store.profile;

import java.time.Instant;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.network.IpAddress;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;

/** What is wanted on gateways and not yet confirmed there. Written before the device is touched, so that nothing is lost. */
public final class Changes {
    /** A peer to be added or removed. */
    public record Change(
            UUID id,
            UUID listenerId,
            String listener,
            UUID profileId,
            String kind,
            String label,
            String publicKey,
            Optional<UUID> presharedId,
            List<IpAddress> addresses) {}

    private Changes() {}

    private static final String INSERT = """
            insert into gateway_change (id, gateway_id, listener_id, profile_id, kind, state, created_at)
            values (?, ?, ?, ?, ?, 'wanted', ?)""";

    public static void want(Tx tx, UUID gatewayId, UUID listenerId, UUID profileId, String kind, Instant now) {
        tx.later(
                INSERT,
                p -> p.id(Ids.next())
                        .id(gatewayId)
                        .id(listenerId)
                        .id(profileId)
                        .text(kind)
                        .instant(now));
    }

    private static final String WANTED = """
            select c.id, c.listener_id, l.name as listener, c.profile_id, c.kind, p.label, k.public_part, pl.preshared_id,
                   array(select host(address) from tunnel_address a where a.profile_id = p.id order by address) as addresses
            from gateway_change c
            join listener l on l.id = c.listener_id
            join profile p on p.id = c.profile_id
            join profile_listener pl on pl.profile_id = p.id and pl.position = 0
            join credential k on k.id = pl.key_id
            where c.gateway_id = ? and c.state = 'wanted'
            order by c.id""";

    public static List<Change> wanted(Tx tx, UUID gatewayId) {
        return tx.list(
                WANTED,
                p -> p.id(gatewayId),
                row -> new Change(
                        row.id("id"),
                        row.id("listener_id"),
                        row.text("listener"),
                        row.id("profile_id"),
                        row.text("kind"),
                        row.text("label"),
                        row.text("public_part"),
                        row.optionalId("preshared_id"),
                        row.texts("addresses").stream().map(IpAddress::parse).toList()));
    }

    /** What is ordered and not yet carried out. */
    public record Ordered(UUID listenerId, UUID profileId, String kind) {}

    private static final String OPEN =
            "select listener_id, profile_id, kind from gateway_change where gateway_id = ? and state = 'wanted'";

    public static Set<Ordered> open(Tx tx, UUID gatewayId) {
        return new HashSet<>(tx.list(
                OPEN,
                p -> p.id(gatewayId),
                row -> new Ordered(row.id("listener_id"), row.id("profile_id"), row.text("kind"))));
    }

    private static final String FORGET = "delete from gateway_change where profile_id = ? and state = 'wanted'";

    /** Nobody carries out what is open for a profile: somebody does it by hand. */
    public static void forget(Tx tx, UUID profileId) {
        tx.update(FORGET, p -> p.id(profileId));
    }

    private static final String END =
            "update gateway_change set state = ?, ended_at = ? where id = any(?) and state = 'wanted'";

    public static void end(Tx tx, Collection<UUID> ids, String state, Instant now) {
        tx.update(END, p -> p.text(state).instant(now).ids(ids));
    }

    private static final String GATEWAYS = "select distinct gateway_id from gateway_change where state = 'wanted'";

    public static List<UUID> gatewaysWanting(Tx tx) {
        return tx.list(GATEWAYS, p -> p, row -> row.id("gateway_id"));
    }
}
