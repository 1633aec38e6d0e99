package tender.service.backup;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import tender.core.backup.Comparison;
import tender.core.backup.Snapshot;
import tender.core.office.Device;
import tender.core.office.Drift;
import tender.service.office.OfficeDocuments;
import tender.store.backup.Backups;
import tender.store.backup.FileDifference;
import tender.store.backup.SettingDifference;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Ids;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.office.Gateways;

/** Keeps snapshots, compared with their predecessors. */
public final class BackupKeeping {
    private final Db db;
    private final Backups backups;

    BackupKeeping(Db db, Backups backups) {
        this.db = db;
        this.backups = backups;
    }

    private static final int MOST_SETTINGS = 500;

    /** What was read from a gateway, and the settings that differ from the reading before. */
    public record Taken(UUID gatewayId, String release, Snapshot snapshot, List<SettingDifference> settings) {
        /** @param gateway as it was recorded before this reading */
        public static Taken of(Gateways.Gateway gateway, Device device, Snapshot snapshot) {
            List<SettingDifference> settings = gateway
                    .device()
                    .map(OfficeDocuments.DEVICE::read)
                    .map(before -> Drift.ofBackups(before, device))
                    .orElse(List.of())
                    .stream()
                    .limit(MOST_SETTINGS)
                    .map(d -> new SettingDifference(d.field(), d.was(), d.is()))
                    .toList();
            return new Taken(gateway.id(), device.release(), snapshot, settings);
        }
    }

    /** Stores a snapshot under the gateway's next number and gives its id. */
    public UUID keep(Taken taken, String reason, By by) {
        UUID gatewayId = taken.gatewayId();
        Snapshot snapshot = taken.snapshot();
        UUID id = Ids.next();
        Optional<Snapshot> earlier = db.inTransaction(tx ->
                Backups.newest(tx, gatewayId).map(b -> Snapshot.ofZip(backups.content(tx, b.id()))));
        List<FileDifference> differences = earlier.map(e -> Comparison.between(e, snapshot)).orElse(List.of()).stream()
                .map(d -> new FileDifference(
                        d.path(), d.kind().name().toLowerCase(Locale.ROOT), d.linesAdded(), d.linesRemoved()))
                .toList();
        Backups.Backup backup = new Backups.Backup(
                id,
                gatewayId,
                "",
                0,
                reason,
                by.at(),
                taken.release(),
                snapshot.files().size(),
                snapshot.size(),
                snapshot.digest(),
                differences,
                taken.settings());
        byte[] content = snapshot.toZip();
        db.run(tx -> {
            int number = backups.insert(tx, backup, content);
            Events.say(tx, "backup", id);
            Journal.append(tx, by, "backup-taken", "gateway", gatewayId, "number " + number + ", " + reason);
        });
        return id;
    }
}
