package tender.store.office;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** VPN servers on gateways, as last read, with the endpoint clients are told to call. */
public final class Listeners {
    /** A listener; {@code taken} are tunnel addresses that peers in the device's file use. */
    public record Listener(
            UUID id,
            UUID gatewayId,
            String gateway,
            String name,
            String protocol,
            Transport transport,
            Port port,
            String publicKey,
            List<Cidr> tunnels,
            Optional<IpAddress> insideAddress,
            List<IpAddress> taken,
            boolean active,
            Optional<Endpoint> endpoint,
            int version,
            boolean gone) {
        public Listener {
            tunnels = List.copyOf(tunnels);
            taken = List.copyOf(taken);
        }
    }

    private Listeners() {}

    private static final String UPSERT = """
            insert into listener as l (id, gateway_id, name, protocol, transport, port, public_key, tunnel_networks, inside_address,
                                       taken, active)
            values (?, ?, ?, ?, ?, ?, ?, ?::text[]::cidr[], ?::inet, ?::text[]::inet[], ?)
            on conflict (gateway_id, name) do update
            set protocol = excluded.protocol, transport = excluded.transport, gone = false,
                port = excluded.port, public_key = excluded.public_key, tunnel_networks = excluded.tunnel_networks,
                inside_address = excluded.inside_address, taken = excluded.taken, active = excluded.active,
                version = l.version + 1
            returning id""";
    private static final String PUT_ENDPOINT = """
            insert into endpoint (listener_id, position, host, port, transport)
            values (?, ?, ?, ?, ?)
            on conflict (listener_id, position) do update
            set host = excluded.host, port = excluded.port, transport = excluded.transport""";

    /** Adds or refreshes a listener by gateway and name, and gives its id. */
    public static UUID put(Tx tx, Listener l) {
        UUID id = tx.first(
                        UPSERT,
                        p -> p.id(l.id())
                                .id(l.gatewayId())
                                .text(l.name())
                                .text(l.protocol())
                                .text(l.transport().word())
                                .integer(l.port().number())
                                .text(l.publicKey())
                                .texts(l.tunnels())
                                .text(l.insideAddress().map(Object::toString))
                                .texts(l.taken())
                                .flag(l.active()),
                        row -> row.id("id"))
                .orElseThrow();
        l.endpoint().ifPresent(e -> putEndpoint(tx, id, 0, e));
        return id;
    }

    private static void putEndpoint(Tx tx, UUID listenerId, int position, Endpoint e) {
        tx.updateOne(
                PUT_ENDPOINT,
                p -> p.id(listenerId)
                        .integer(position)
                        .text(e.host().toString())
                        .integer(e.port().number())
                        .text(e.transport().word()));
    }

    private static final String TAKEN =
            "update listener set taken = ?::text[]::inet[], version = version + 1 where id = ?";

    /** The tunnel addresses that the device's file uses, as just read back. */
    public static void taken(Tx tx, UUID listenerId, Collection<IpAddress> addresses) {
        tx.updateOne(TAKEN, p -> p.texts(addresses).id(listenerId));
    }

    private static final String MISSING = "update listener set missing_serials = ? where id = ?";

    /** Revoked serials that the list at the gateway does not name. */
    public static void missingSerials(Tx tx, UUID listenerId, Collection<String> serials) {
        tx.update(MISSING, p -> p.texts(serials).id(listenerId));
    }

    private static final String PEER_KEYS = "update listener set peer_keys = ? where gateway_id = ? and name = ?";

    /** Keys of the peers in the device's file, as just read. */
    public static void peerKeys(Tx tx, UUID gatewayId, String listener, Collection<String> keys) {
        tx.update(PEER_KEYS, p -> p.texts(keys).id(gatewayId).text(listener));
    }

    private static final String PEER_KEYS_AT =
            "select distinct unnest(peer_keys) as key from listener where gateway_id = ? and not gone";

    /** Keys of all peers in a gateway's files when they were last read. */
    public static List<String> peerKeysAt(Tx tx, UUID gatewayId) {
        return tx.list(PEER_KEYS_AT, p -> p.id(gatewayId), row -> row.text("key"));
    }

    private static final String LACKING = """
            select g.id as gateway_id, g.name as gateway, l.name as listener, l.missing_serials
            from listener l join gateway g on g.id = l.gateway_id
            where cardinality(l.missing_serials) > 0 and not l.gone
            order by g.name, l.name""";

    /** A listener whose revocation list did not name all that its authority revoked. */
    public record Lacking(UUID gatewayId, String gateway, String listener, List<String> serials) {}

    public static List<Lacking> lacking(Tx tx) {
        return tx.list(
                LACKING,
                p -> p,
                row -> new Lacking(
                        row.id("gateway_id"), row.text("gateway"), row.text("listener"), row.texts("missing_serials")));
    }

    private static final String SELECT = """
            select l.id, l.gateway_id, g.name as gateway, l.name, l.protocol, l.transport, l.port, l.public_key,
                   l.tunnel_networks::text[] as tunnel_networks, host(l.inside_address) as inside_address,
                   array(select host(a) from unnest(l.taken) as a) as taken, l.active, l.version, l.gone,
                   e.host as endpoint_host, e.port as endpoint_port
            from listener l
            join gateway g on g.id = l.gateway_id
            left join endpoint e on e.listener_id = l.id and e.position = 0
            """;
    private static final String OF_GATEWAYS = SELECT + "where l.gateway_id = any(?) order by g.name, l.name";
    private static final String BY_ID = SELECT + "where l.id = ?";
    private static final String LOCKED = SELECT + "where l.id = ? for update of l";

    public static List<Listener> of(Tx tx, Collection<UUID> gatewayIds) {
        return tx.list(OF_GATEWAYS, p -> p.ids(gatewayIds), Listeners::listener);
    }

    /** Also one that its gateway no longer has. */
    public static Optional<Listener> byId(Tx tx, UUID id) {
        return tx.first(BY_ID, p -> p.id(id), Listeners::listener);
    }

    /** The listener, held against others who choose an address on it. */
    public static Optional<Listener> locked(Tx tx, UUID id) {
        return tx.first(LOCKED, p -> p.id(id), Listeners::listener);
    }

    private static Listener listener(Row row) {
        Transport transport = row.text("transport").equals("udp") ? Transport.UDP : Transport.TCP;
        Optional<Endpoint> endpoint = row.optionalText("endpoint_host")
                .map(h -> new Endpoint(Host.parse(h), new Port(row.integer("endpoint_port")), transport));
        return new Listener(
                row.id("id"),
                row.id("gateway_id"),
                row.text("gateway"),
                row.text("name"),
                row.text("protocol"),
                transport,
                new Port(row.integer("port")),
                row.text("public_key"),
                row.texts("tunnel_networks").stream().map(Cidr::parse).toList(),
                row.optionalText("inside_address").map(IpAddress::parse),
                row.texts("taken").stream().map(IpAddress::parse).toList(),
                row.flag("active"),
                endpoint,
                row.integer("version"),
                row.flag("gone"));
    }

    private static final String GONE = """
            update listener
            set gone = true, active = false, version = version + 1
            where gateway_id = ? and not gone and not (name = any(?::text[]))""";

    /** Listeners that the device no longer has. */
    public static void goneBut(Tx tx, UUID gatewayId, Collection<String> present) {
        tx.update(GONE, p -> p.id(gatewayId).texts(present));
    }

    private static final String ENDPOINTS_GONE = "delete from endpoint where listener_id = ? and position > 0";

    /** What clients are told to call, in order of priority. */
    public static void putEndpoints(Tx tx, UUID listenerId, List<Endpoint> endpoints) {
        tx.update(ENDPOINTS_GONE, p -> p.id(listenerId));
        for (int i = 0; i < endpoints.size(); i++) {
            putEndpoint(tx, listenerId, i, endpoints.get(i));
        }
    }
}
