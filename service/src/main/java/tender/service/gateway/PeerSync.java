package tender.service.gateway;

import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.profile.WireGuardFile;
import tender.store.jdbc.Tx;
import tender.store.office.Listeners;
import tender.store.profile.TunnelKeys;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/**
 * Compares the peers that a gateway's files really hold with what the records say of each key, whatever was written when, and
 * orders what is missing or too much. Peers that no profile has ever had are somebody's own and stay.
 */
public final class PeerSync {
    private PeerSync() {}

    static Set<String> keys(WireGuardFile file) {
        return file.peers().stream()
                .flatMap(p -> p.publicKey().stream())
                .map(Object::toString)
                .collect(Collectors.toSet());
    }

    /**
     * @param present keys of the peers by the listener's name, as just read
     * @return how many peers are to be written or taken out
     */
    public static int order(Tx tx, UUID gatewayId, Map<String, Set<String>> present, Instant now) {
        Map<String, UUID> listeners = Listeners.of(tx, List.of(gatewayId)).stream()
                .collect(Collectors.toMap(Listeners.Listener::name, Listeners.Listener::id));
        List<TunnelKeys.Known> known = TunnelKeys.of(tx, gatewayId, now);
        Map<UUID, Set<String>> wanted = new HashMap<>();
        Set<String> admitted = new HashSet<>();
        known.stream().filter(TunnelKeys.Known::admitted).forEach(k -> {
            wanted.computeIfAbsent(k.listenerId(), id -> new HashSet<>()).add(k.publicKey());
            admitted.add(k.publicKey());
        });
        Set<DesiredResources.DuePeer> due = DesiredResources.duePeers(tx, gatewayId);
        int ordered = 0;
        for (TunnelKeys.Known k : known) {
            if (k.admitted()) {
                Set<String> there = present.get(k.listener());
                if (there != null && !there.contains(k.publicKey())) {
                    ordered += want(tx, due, gatewayId, k.listenerId(), k.profileId(), Presence.PRESENT);
                }
            } else if (!admitted.contains(k.publicKey())) {
                for (Map.Entry<String, Set<String>> file : present.entrySet()) {
                    if (file.getValue().contains(k.publicKey()) && listeners.containsKey(file.getKey())) {
                        ordered += want(
                                tx,
                                due,
                                gatewayId,
                                listeners.get(file.getKey()),
                                k.profileId(),
                                k.ended() ? Presence.SUSPENDED : Presence.ABSENT);
                    }
                }
            }
        }
        return ordered;
    }

    private static int want(
            Tx tx, Set<DesiredResources.DuePeer> due, UUID gateway, UUID listener, UUID profile, Presence presence) {
        if (due.add(new DesiredResources.DuePeer(listener, profile, presence))) {
            DesiredResources.peer(tx, gateway, listener, profile, presence);
            return 1;
        }
        return 0;
    }
}
