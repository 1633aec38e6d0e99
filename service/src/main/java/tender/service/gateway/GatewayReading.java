package tender.service.gateway;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.backup.Snapshot;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Endpoint;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.GatewayFacts;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;
import tender.core.wireguard.StatusDump;
import tender.io.gateway.DeviceDescription;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.Session;
import tender.service.backup.BackupKeeping;
import tender.service.http.ApiFailure;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.office.Gateways;
import tender.store.office.Listeners;

/** Reads a gateway: a backup first, then its facts and its listeners, as written and as in force. */
public final class GatewayReading {
    private static final String TUNNELS = "tunnels/";
    private static final String ENDING = ".conf";

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final Connections connections;
    private final BackupKeeping backups;
    private final DeviceDescription description;

    public GatewayReading(
            Db db,
            Clock clock,
            Gateways gateways,
            Connections connections,
            BackupKeeping backups,
            DeviceDescription description) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.connections = connections;
        this.backups = backups;
        this.description = description;
    }

    public void read(UUID gatewayId, String reason, String actor) {
        try (Session session = connections.open(gatewayId)) {
            Snapshot snapshot = session.readAll();
            StatusDump status = session.status();
            Instant now = clock.instant();
            GatewayFacts facts =
                    GatewayFacts.parse(text(snapshot, description.settingsFile().substring(1)));
            backups.keep(gatewayId, facts.release(), snapshot, reason, actor, now);
            List<Listeners.Listener> listeners = listeners(gatewayId, snapshot, status);
            db.run(tx -> {
                gateways.facts(
                        tx,
                        gatewayId,
                        facts.make(),
                        facts.model(),
                        facts.release(),
                        facts.insideHost(),
                        facts.uplink(),
                        now);
                Gateways.Gateway gateway =
                        gateways.byId(tx, gatewayId).orElseThrow(() -> ApiFailure.notFound("gateway"));
                for (Listeners.Listener l : listeners) {
                    Optional<Endpoint> endpoint =
                            gateway.endpointHost().map(host -> new Endpoint(host, l.port(), Transport.UDP));
                    Listeners.put(tx, with(l, endpoint));
                }
                Events.say(tx, "gateway", gatewayId.toString());
            });
        } catch (GatewayFailure | MalformedException e) {
            db.run(tx -> {
                gateways.problem(tx, gatewayId, Optional.of(e.getMessage()));
                Events.say(tx, "gateway", gatewayId.toString());
            });
            throw e;
        }
    }

    private static Listeners.Listener with(Listeners.Listener l, Optional<Endpoint> endpoint) {
        return new Listeners.Listener(
                l.id(),
                l.gatewayId(),
                l.gateway(),
                l.name(),
                l.protocol(),
                l.transport(),
                l.port(),
                l.publicKey(),
                l.tunnels(),
                l.insideAddress(),
                l.taken(),
                l.inForce(),
                endpoint,
                l.version());
    }

    private static String text(Snapshot snapshot, String path) {
        byte[] content = snapshot.files().get(path);
        if (content == null) {
            throw new GatewayFailure(GatewayFailure.Kind.UNREADABLE, "the gateway has no file " + path, null);
        }
        return new String(content, StandardCharsets.UTF_8);
    }

    private static List<Listeners.Listener> listeners(UUID gatewayId, Snapshot snapshot, StatusDump status) {
        List<Listeners.Listener> out = new ArrayList<>();
        for (String path : snapshot.files().keySet()) {
            if (path.startsWith(TUNNELS) && path.endsWith(ENDING)) {
                String name = path.substring(TUNNELS.length(), path.length() - ENDING.length());
                out.add(listener(gatewayId, name, WireGuardFile.read(text(snapshot, path)), status.named(name)));
            }
        }
        return out;
    }

    private static Listeners.Listener listener(
            UUID gatewayId, String name, WireGuardFile.Reading reading, Optional<StatusDump.Interface> live) {
        WireGuardFile.Interface own = reading.file()
                .own()
                .filter(o -> o.privateKey().isPresent() && o.listenPort().isPresent())
                .orElseThrow(() -> new MalformedException(
                        "listener",
                        "tunnels/" + name + ENDING,
                        "has no complete [Interface]: "
                                + (reading.problems().isEmpty()
                                        ? "key or port is missing"
                                        : reading.problems().get(0))));
        String publicKey =
                TunnelKeyPair.ofPrivate(own.privateKey().get()).publicKey().toString();
        Port port = own.listenPort().get();
        boolean inForce = live.filter(i -> i.listenPort() == port.number()
                        && i.publicKey()
                                .filter(k -> k.toString().equals(publicKey))
                                .isPresent())
                .isPresent();
        return new Listeners.Listener(
                Ids.next(),
                gatewayId,
                "",
                name,
                "wireguard",
                Transport.UDP,
                port,
                publicKey,
                own.addresses().stream().map(InterfaceAddress::network).toList(),
                own.addresses().stream().map(InterfaceAddress::address).findFirst(),
                taken(reading.file()),
                inForce,
                Optional.empty(),
                1);
    }

    /** Tunnel addresses that the file gives to its own end and to peers. */
    static List<IpAddress> taken(WireGuardFile file) {
        List<IpAddress> out = new ArrayList<>();
        file.own().ifPresent(own -> own.addresses().forEach(a -> out.add(a.address())));
        file.peers()
                .forEach(peer -> peer.allowed().stream()
                        .filter(n -> n.prefix() == n.address().family().bits())
                        .forEach(n -> out.add(n.address())));
        return out;
    }
}
