package tender.service.session;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.wire.MalformedException;
import tender.core.wireguard.StatusDump;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;
import tender.store.office.Listeners;
import tender.store.profile.ListenerProfiles;
import tender.store.reconcile.DesiredResources;
import tender.store.session.Sessions;

/** Asks a gateway who is connected, and keeps sessions from the answers. One write per listener. */
public final class Watch {
    /** A WireGuard peer makes new keys every two minutes while it talks; older than this it is gone. */
    public static final Duration SILENCE = Duration.ofSeconds(180);

    /** Orders work on the gateway; kept apart so that the watch knows nothing of changes. */
    public interface Orders {
        void reconcile(Tx tx, UUID gatewayId);
    }

    /** Opens a session to a gateway. */
    public interface Opening {
        ManagementConnection open(UUID gatewayId);
    }

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final Opening connections;
    private final Orders orders;

    Watch(Db db, Clock clock, Gateways gateways, Opening connections, Orders orders) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.connections = connections;
        this.orders = orders;
    }

    /** Asks a gateway once. A gateway that does not answer is noted as a problem of that gateway, and is no failure. */
    void poll(UUID gatewayId) {
        Optional<String> before = db.inTransaction(tx -> gateways.byId(tx, gatewayId))
                .flatMap(g -> g.reading().problem());
        try (ManagementConnection session = connections.open(gatewayId)) {
            take(gatewayId, session.status(), session.connected());
            db.run(tx -> reached(tx, gatewayId, before));
        } catch (GatewayFailure | MalformedException e) {
            if (before.filter(e.getMessage()::equals).isEmpty()) {
                db.run(tx -> {
                    gateways.problem(tx, gatewayId, Optional.of(e.getMessage()));
                    Events.say(tx, "gateway", gatewayId);
                });
            }
        }
    }

    /** The gateway answers: an unreachable one is well again, and what waited for it is ordered. */
    private void reached(Tx tx, UUID gatewayId, Optional<String> before) {
        if (before.isPresent()) {
            gateways.problem(tx, gatewayId, Optional.empty());
            Events.say(tx, "gateway", gatewayId);
        }
        if (DesiredResources.isDue(tx, gatewayId)) {
            orders.reconcile(tx, gatewayId);
        }
    }

    private void take(UUID gatewayId, StatusDump status, List<ManagementConnection.Connected> connected) {
        Instant now = clock.instant();
        db.run(tx -> {
            Sessions.ensureMonth(tx, now);
            boolean changed = false;
            for (Listeners.Listener listener : Listeners.of(tx, List.of(gatewayId))) {
                List<Sessions.Live> writes =
                        compare(tx, listener.id(), heard(listener.name(), status, connected, now), now);
                if (!writes.isEmpty()) {
                    Sessions.put(tx, listener.id(), writes);
                    changed = true;
                }
            }
            if (changed) {
                Events.say(tx, "session", gatewayId);
            }
        });
    }

    /** Somebody that a gateway shows as talking: by key, or by the name in a certificate or of an account. */
    record Heard(String key, String endpoint, Instant at, Instant since, long received, long sent) {}

    private static List<Heard> heard(
            String listener, StatusDump status, List<ManagementConnection.Connected> connected, Instant now) {
        List<Heard> out = new ArrayList<>();
        status.named(listener).map(StatusDump.Interface::peers).orElse(List.of()).stream()
                .filter(p -> p.lastHandshake()
                        .filter(at -> at.isAfter(now.minus(SILENCE)))
                        .isPresent())
                .forEach(p -> out.add(new Heard(
                        p.publicKey().toString(),
                        p.endpoint().orElse(""),
                        p.lastHandshake().get(),
                        p.lastHandshake().get(),
                        p.received(),
                        p.sent())));
        connected.stream()
                .filter(c -> c.listener().equals(listener))
                .forEach(c -> out.add(new Heard(c.name(), c.endpoint(), now, c.since(), c.received(), c.sent())));
        return out;
    }

    private static List<Sessions.Live> compare(Tx tx, UUID listenerId, List<Heard> talking, Instant now) {
        Map<String, Sessions.Live> open = Sessions.open(tx, listenerId).stream()
                .collect(Collectors.toMap(Sessions.Live::publicKey, s -> s, (a, b) -> b));
        List<String> fresh = talking.stream()
                .map(Heard::key)
                .filter(k -> !open.containsKey(k))
                .toList();
        Map<String, UUID> users = new HashMap<>();
        if (!fresh.isEmpty()) {
            ListenerProfiles.users(tx, listenerId, fresh).forEach(h -> users.put(h.identity(), h.profileId()));
        }
        TrialTraffic traces = TrialTraffic.of(tx, users.values());
        List<Sessions.Live> writes = new ArrayList<>();
        for (Heard peer : talking) {
            UUID fresher = users.get(peer.key());
            if (fresher != null && traces.explain(fresher, peer.at(), peer.received())) {
                continue;
            }
            Sessions.Live known = open.remove(peer.key());
            Optional<UUID> holder = known == null ? Optional.ofNullable(users.get(peer.key())) : known.profileId();
            Sessions.Live next = next(peer, known, holder, now);
            if (!next.equals(known)) {
                writes.add(next);
            }
        }
        open.values()
                .forEach(gone -> writes.add(new Sessions.Live(
                        gone.id(),
                        gone.publicKey(),
                        gone.profileId(),
                        gone.endpoint(),
                        gone.since(),
                        gone.lastHeard(),
                        Optional.of(now),
                        gone.received(),
                        gone.sent())));
        return writes;
    }

    /** More bytes than last time means that the peer was heard just now; a counter that fell means the device restarted. */
    private static Sessions.Live next(Heard peer, Sessions.Live known, Optional<UUID> holder, Instant now) {
        boolean moved = known != null && peer.received() != known.received();
        Instant heard = known == null ? peer.at() : moved ? now : known.lastHeard();
        return new Sessions.Live(
                known == null ? Ids.next() : known.id(),
                peer.key(),
                holder,
                peer.endpoint(),
                known == null ? peer.since() : known.since(),
                heard,
                Optional.empty(),
                peer.received(),
                peer.sent());
    }
}
