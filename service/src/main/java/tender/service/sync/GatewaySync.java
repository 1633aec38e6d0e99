package tender.service.sync;

import java.time.Clock;
import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import tender.core.backup.Snapshot;
import tender.core.office.Device;
import tender.io.gateway.Capability;
import tender.io.gateway.Session;
import tender.service.certificate.ListDelivery;
import tender.service.device.Connections;
import tender.service.gateway.GatewayChanges;
import tender.service.gateway.GatewayJobs;
import tender.service.gateway.GatewayReading;
import tender.service.gateway.PeerSync;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.profile.AccountDelivery;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;

/**
 * Computes from the records who is let in at a gateway, compares it with what the gateway really holds, and writes what
 * differs: peers, accounts, revocation lists. Needed after anything that may have brought back an earlier state; harmless at
 * any other time.
 */
public final class GatewaySync implements JobKind {
    private final Db db;
    private final Clock clock;
    private final Connections connections;
    private final GatewayReading reading;
    private final GatewayChanges peers;
    private final AccountDelivery accounts;
    private final ListDelivery lists;

    public GatewaySync(
            Db db,
            Clock clock,
            Connections connections,
            GatewayReading reading,
            GatewayChanges peers,
            AccountDelivery accounts,
            ListDelivery lists) {
        this.db = db;
        this.clock = clock;
        this.connections = connections;
        this.reading = reading;
        this.peers = peers;
        this.accounts = accounts;
        this.lists = lists;
    }

    @Override
    public String name() {
        return GatewayJobs.SYNC;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        UUID gatewayId = UUID.fromString(job.payload());
        run(gatewayId, progress::at);
        reading.read(gatewayId, "after a sync", "tender");
    }

    /** Does it now. */
    public void run(UUID gatewayId, GatewayChanges.Steps progress) {
        Device device;
        Set<Capability> can;
        try (Session session = connections.open(gatewayId)) {
            progress.at(5, "comparing the gateway with the records");
            can = session.capabilities();
            Snapshot snapshot = session.readAll();
            device = session.device(snapshot, clock.instant());
            Map<String, Set<String>> present = new HashMap<>(reading.peerKeys(gatewayId, snapshot, device));
            db.run(tx -> PeerSync.order(tx, gatewayId, present, clock.instant()));
        }
        peers.run(gatewayId, progress);
        if (can.contains(Capability.ACCOUNTS)) {
            accounts.restore(
                    gatewayId,
                    device.accounts().stream()
                            .filter(Device.Account::vpn)
                            .map(Device.Account::name)
                            .collect(Collectors.toSet()),
                    progress::at);
        }
        lists.restore(gatewayId);
    }
}
