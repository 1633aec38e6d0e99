package tender.service.gateway;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import tender.core.backup.Snapshot;
import tender.core.device.DeviceDescription;
import tender.core.device.DeviceFiles;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.Drift;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;
import tender.io.gateway.GatewayFailure;
import tender.io.gateway.ManagementConnection;
import tender.service.backup.BackupKeeping;
import tender.service.device.Connections;
import tender.service.device.DeviceDescriptions;
import tender.service.device.Recognising;
import tender.service.office.OfficeDocuments;
import tender.service.office.OfficeRecords;
import tender.service.refusal.Refused;
import tender.store.change.DeviceChanges;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;
import tender.store.office.Listeners;

/**
 * Reads a gateway: a backup first, then all that it says of itself, as written and as active. What differs from the last
 * reading and was not changed through Tender is kept as drift.
 */
public final class GatewayReading {
    private static final int MAX_DRIFT_KEPT = 200;

    private final Db db;
    private final Clock clock;
    private final Gateways gateways;
    private final Connections connections;
    private final DeviceDescriptions descriptions;
    private final BackupKeeping backups;
    private final OfficeRecords records;
    private final List<Conclusion> conclusions;
    private final Recognising recognising;

    GatewayReading(
            Db db,
            Clock clock,
            Gateways gateways,
            Connections connections,
            DeviceDescriptions descriptions,
            BackupKeeping backups,
            OfficeRecords records,
            Recognising recognising,
            List<Conclusion> conclusions) {
        this.db = db;
        this.clock = clock;
        this.gateways = gateways;
        this.connections = connections;
        this.descriptions = descriptions;
        this.backups = backups;
        this.records = records;
        this.conclusions = List.copyOf(conclusions);
        this.recognising = recognising;
    }

    /** Draws its own conclusions from what was read, in the same transaction. */
    @FunctionalInterface
    public interface Conclusion {
        void draw(Tx tx, Gateways.Gateway gateway, Snapshot snapshot, Device device, Instant now);
    }

    /** What a reading found. */
    public record Read(Snapshot snapshot, Device device, UUID backupId) {}

    /**
     * Backs a gateway up, reads it, and notes what it said.
     *
     * @param reason kept with the backup, such as {@code on demand}
     * @param actor who wants it, for the journal
     * @throws tender.io.gateway.GatewayFailure where it does not answer; that is noted as its problem
     */
    public void read(UUID gatewayId, String reason, String actor) {
        try (ManagementConnection session = connections.open(gatewayId)) {
            read(session, gatewayId, reason, actor, false);
        } catch (GatewayFailure | MalformedException e) {
            db.run(tx -> {
                gateways.problem(tx, gatewayId, Optional.of(e.getMessage()));
                Events.say(tx, "gateway", gatewayId);
            });
            throw e;
        }
    }

    /** @param ours whether what differs from the last reading is Tender's own doing */
    public Read read(ManagementConnection session, UUID gatewayId, String reason, String actor, boolean ours) {
        Gateways.Gateway before =
                db.inTransaction(tx -> gateways.byId(tx, gatewayId)).orElseThrow(() -> Refused.notFound("gateway"));
        Instant now = clock.instant();
        Snapshot snapshot;
        Device device;
        try {
            snapshot = session.readAll();
            device = session.device(snapshot, now);
        } catch (GatewayFailure e) {
            throw recognising.explained(e, session, before.name(), before.description());
        }
        UUID backupId = backups.keep(BackupKeeping.Taken.of(before, device, snapshot), reason, new By(actor, now));
        Instant asOf = session.asOf(now);
        db.run(tx -> {
            record(tx, gatewayId, snapshot, device, ours, asOf);
            // nobody sees a listener before what clients are told to call; others' rows are not locked here
            endpoints(tx, now, Gateways.along(tx, gatewayId), Listeners.of(tx, List.of(gatewayId)));
        });
        endpoints(gatewayId, now);
        return new Read(snapshot, device, backupId);
    }

    private void record(Tx tx, UUID gatewayId, Snapshot snapshot, Device device, boolean ours, Instant now) {
        Gateways.Gateway before = gateways.byId(tx, gatewayId).orElseThrow(() -> Refused.notFound("gateway"));
        if (!ours && before.device().isPresent()) {
            drift(tx, before, device, now);
        }
        gateways.facts(tx, new Gateways.Found(gatewayId, device, OfficeDocuments.DEVICE.write(device), now));
        DeviceDescription description = descriptions.description(before.description());
        for (Listener l : device.listeners()) {
            Optional<WireGuardFile> file = tunnel(description, snapshot, l);
            List<IpAddress> taken = file.map(DeviceFiles::taken).orElse(List.of());
            Listeners.put(tx, listener(gatewayId, l, taken));
            Listeners.peerKeys(tx, gatewayId, l.name(), file.map(PeerSync::keys).orElse(Set.of()));
        }
        Listeners.goneBut(
                tx, gatewayId, device.listeners().stream().map(Listener::name).toList());
        conclusions.forEach(c -> c.draw(tx, before, snapshot, device, now));
        Events.say(tx, "gateway", gatewayId);
    }

    private void drift(Tx tx, Gateways.Gateway before, Device device, Instant now) {
        List<DeviceChanges.Drift> found = Drift.between(records.device(before), device).stream()
                .limit(MAX_DRIFT_KEPT)
                .map(d -> new DeviceChanges.Drift(
                        Ids.next(),
                        before.id(),
                        now,
                        before.reading().at(),
                        d.field(),
                        d.was(),
                        d.is(),
                        Optional.empty(),
                        Optional.empty()))
                .toList();
        if (!found.isEmpty()) {
            DeviceChanges.addDrift(tx, found);
            Journal.append(
                    tx,
                    By.tender(now),
                    "changed-at-device",
                    "gateway",
                    before.id(),
                    found.size() + " differences, not through Tender");
        }
    }

    static Listeners.Listener listener(UUID gatewayId, Listener l, List<IpAddress> taken) {
        Port port = l.ports().stream()
                .findFirst()
                .map(d -> d.port())
                .orElseThrow(() -> new MalformedException("listener", l.name(), "its port is missing"));
        return new Listeners.Listener(
                Ids.next(),
                gatewayId,
                "",
                l.name(),
                l.protocol().word(),
                l.ports().get(0).transport(),
                port,
                l.get(Attribute.PUBLIC_KEY).orElse(""),
                l.tunnels(),
                l.get(Attribute.INSIDE_ADDRESS).map(IpAddress::parse),
                taken,
                !l.is(Attribute.ACTIVE, "no"),
                Optional.empty(),
                1,
                false);
    }

    /** The file of a WireGuard listener, where it is among what was read. */
    static Optional<WireGuardFile> tunnel(DeviceDescription description, Snapshot snapshot, Listener l) {
        if (l.get(Attribute.PUBLIC_KEY).isEmpty()
                || description.rule(DeviceDescription.Format.WIREGUARD).isEmpty()) {
            return Optional.empty();
        }
        return Optional.ofNullable(
                        snapshot.files().get(description.tunnelFile(l.name()).substring(1)))
                .map(content -> WireGuardFile.read(new String(content, StandardCharsets.UTF_8))
                        .file());
    }

    /** Keys of the peers in what was read, by the listener's name. */
    public Map<String, Set<String>> peerKeys(UUID gatewayId, Snapshot snapshot, Device device) {
        DeviceDescription description = descriptions.description(db.inTransaction(tx -> gateways.byId(tx, gatewayId))
                .orElseThrow()
                .description());
        Map<String, Set<String>> out = new HashMap<>();
        device.listeners()
                .forEach(l ->
                        tunnel(description, snapshot, l).ifPresent(file -> out.put(l.name(), PeerSync.keys(file))));
        return out;
    }

    /** Writes down what clients are told to call at a gateway and at those behind it, as the records now have it. */
    public void endpoints(UUID gatewayId, Instant now) {
        db.run(tx -> {
            List<UUID> along = Gateways.along(tx, gatewayId);
            endpoints(tx, now, along, Listeners.of(tx, along));
        });
    }

    void endpoints(Tx tx, Instant now, List<UUID> gatewayIds, List<Listeners.Listener> listeners) {
        Office office = records.of(tx, now, gatewayIds);
        for (Listeners.Listener l : listeners) {
            Optional<Office.Gateway> g = office.gateway(l.gateway());
            g.flatMap(x -> x.device().listener(l.name())).ifPresent(model -> {
                List<tender.core.network.Endpoint> called = new ArrayList<>(
                        tender.core.walk.Called.endpoints(tender.core.walk.Approach.chain(office, g.get()), model));
                if (!called.stream().findFirst().equals(l.endpoint())) {
                    Listeners.putEndpoints(tx, l.id(), called);
                }
            });
        }
    }
}
