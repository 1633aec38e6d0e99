package tender.service.reconcile;

import java.time.Clock;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.backup.Snapshot;
import tender.core.office.Device;
import tender.io.gateway.Capability;
import tender.io.gateway.ManagementConnection;
import tender.service.gateway.GatewayReading;
import tender.service.gateway.PeerSync;
import tender.store.certificate.Certificates;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.profile.Accounts;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.DesiredResources.Presence;

/**
 * Computes from the records who is let in at a gateway, compares it with what the gateway really holds, and makes what differs
 * due: peers, accounts, revocation lists. Needed after anything that may have brought back an earlier state; harmless at any
 * other time.
 */
final class DesiredState {
    private final Db db;
    private final Clock clock;
    private final GatewayReading reading;

    DesiredState(Db db, Clock clock, GatewayReading reading) {
        this.db = db;
        this.clock = clock;
        this.reading = reading;
    }

    /** Makes due whatever of the gateway is not as the records say. */
    void compute(UUID gatewayId, ManagementConnection connection) {
        Snapshot snapshot = connection.readAll();
        Device device = connection.device(snapshot, clock.instant());
        Map<String, Set<String>> peers = new HashMap<>(reading.peerKeys(gatewayId, snapshot, device));
        db.run(tx -> {
            PeerSync.order(tx, gatewayId, peers, clock.instant());
            if (connection.capabilities().contains(Capability.ACCOUNTS)) {
                accounts(tx, gatewayId, device);
            }
            if (!Certificates.authoritiesAt(tx, gatewayId).isEmpty()) {
                DesiredResources.revocationLists(tx, gatewayId);
            }
        });
    }

    /** Accounts that are missing are to be set; those that are there and no living profile rests on are to go. */
    private static void accounts(Tx tx, UUID gatewayId, Device device) {
        Set<String> present = device.accounts().stream()
                .filter(Device.Account::vpn)
                .map(Device.Account::name)
                .collect(Collectors.toSet());
        List<Accounts.Known> known = Accounts.of(tx, gatewayId);
        Set<String> wanted = new HashSet<>();
        known.stream().filter(Accounts.Known::admitted).forEach(a -> wanted.add(a.name()));
        for (Accounts.Known a : known) {
            if (a.admitted() && !present.contains(a.name())) {
                DesiredResources.account(tx, gatewayId, a.profileId(), Presence.PRESENT);
            } else if (!a.admitted() && present.contains(a.name()) && !wanted.contains(a.name())) {
                DesiredResources.account(
                        tx, gatewayId, a.profileId(), a.ended() ? Presence.SUSPENDED : Presence.ABSENT);
            }
        }
    }
}
