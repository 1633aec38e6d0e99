package tender.service.reconcile;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.io.gateway.GatewayPlan;
import tender.io.gateway.ManagementConnection;
import tender.service.certificate.RevocationListWrites;
import tender.store.reconcile.DesiredResources.Due;
import tender.store.reconcile.DesiredResources.Kind;
import tender.store.reconcile.DesiredResources.Presence;

/**
 * What is due at a gateway as a plan for it. Where one profile's key or account is to be there and another's the same is to be
 * gone, it is to be there.
 *
 * @param peers the due rows of each listener with peers, by the listener's name
 * @param accounts the due rows of accounts that the plan covers
 */
record DuePlan(
        GatewayPlan plan, Map<String, List<Due>> peers, List<Due> accounts, List<RevocationListWrites.Needed> lists) {
    /**
     * Makes the plan.
     *
     * @param secrets preshared keys and passwords by id; an account whose password is no longer kept is not set
     */
    static DuePlan of(List<Due> due, Map<UUID, Secret> secrets, Optional<RevocationListWrites.Writes> lists) {
        Map<String, List<Due>> peers = due.stream()
                .filter(r -> r.kind() == Kind.PEER)
                .collect(Collectors.groupingBy(
                        r -> r.listener().orElseThrow(), LinkedHashMap::new, Collectors.toList()));
        List<GatewayPlan.ListenerPeers> written = new ArrayList<>();
        peers.forEach((listener, rows) -> written.add(new GatewayPlan.ListenerPeers(listener, peers(rows, secrets))));
        List<Due> accounts = due.stream().filter(r -> r.kind() == Kind.ACCOUNT).toList();
        List<ManagementConnection.Account> put = new ArrayList<>();
        Set<String> wanted = new HashSet<>();
        for (Due row : accounts) {
            if (row.presence() == Presence.PRESENT) {
                wanted.add(row.publicPart());
                secret(row, secrets)
                        .ifPresent(password -> put.add(new ManagementConnection.Account(row.publicPart(), password)));
            }
        }
        List<String> drop = accounts.stream()
                .filter(r -> r.presence() != Presence.PRESENT && !wanted.contains(r.publicPart()))
                .map(Due::publicPart)
                .distinct()
                .toList();
        return new DuePlan(
                new GatewayPlan(
                        lists.flatMap(RevocationListWrites.Writes::settings),
                        written,
                        lists.map(RevocationListWrites.Writes::files).orElse(List.of()),
                        put,
                        drop),
                peers,
                accounts,
                lists.map(RevocationListWrites.Writes::needed).orElse(List.of()));
    }

    private static Optional<Secret> secret(Due row, Map<UUID, Secret> secrets) {
        return row.secretId().map(secrets::get);
    }

    private static List<GatewayPlan.Peer> peers(List<Due> rows, Map<UUID, Secret> secrets) {
        Set<String> wanted = rows.stream()
                .filter(r -> r.presence() == Presence.PRESENT)
                .map(Due::publicPart)
                .collect(Collectors.toSet());
        return rows.stream()
                .filter(r -> r.presence() == Presence.PRESENT || !wanted.contains(r.publicPart()))
                .map(r -> new GatewayPlan.Peer(
                        TunnelKey.parse(r.publicPart()),
                        r.presence() == Presence.PRESENT,
                        r.label(),
                        secret(r, secrets),
                        r.addresses()))
                .toList();
    }

    /** Whether nothing would be written. */
    boolean writesNothing() {
        return plan.settings().isEmpty()
                && plan.peers().isEmpty()
                && plan.lists().isEmpty()
                && plan.put().isEmpty()
                && plan.drop().isEmpty();
    }
}
