package tender.service.importing;

import java.util.List;
import java.util.Map;
import java.util.function.Function;
import tender.core.office.Office;
import tender.core.proposal.ClientFile;
import tender.service.office.OfficeRecords;
import tender.service.profile.ImportedProfiles;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.By;
import tender.store.journal.Journal;
import tender.store.profile.Archives;

/** Imports a gateway's own client files: inspected, matched to devices, repaired by rule, kept as they came. */
public final class Importing {
    private final Db db;
    private final OfficeRecords records;
    private final Archives archives;
    private final ImportedProfiles profiles;

    public Importing(Db db, OfficeRecords records, Archives archives, ImportedProfiles profiles) {
        this.db = db;
        this.records = records;
        this.archives = archives;
        this.profiles = profiles;
    }

    /**
     * Takes a file or archive in and says what became of each client file in it.
     *
     * @throws Refused where no client file is in it, or no one listener is meant
     */
    public List<FileImport> importFiles(ImportOrder order, By by) {
        return db.inTransaction(work(order, by));
    }

    /** What {@link #importFiles} would do; nothing of it is kept. */
    List<FileImport> rehearse(ImportOrder order, By by) {
        return db.rehearse(work(order, by));
    }

    private Function<Tx, List<FileImport>> work(ImportOrder order, By by) {
        List<ClientFile> candidates = ClientFile.read(
                        Map.of(order.name(), order.content()), order.unlocking().map(Unlocking::passphrase), by.at())
                .clients();
        if (candidates.isEmpty()) {
            throw new Refused(Refused.Kind.MALFORMED, "no client file is inside", "content");
        }
        Office office = records.withoutProfiles(by.at());
        return tx -> {
            ImportRun run = new ImportRun(tx, office, order, profiles, by);
            List<FileImport> all = candidates.stream().map(run::of).toList();
            long imported = all.stream()
                    .filter(a -> a.outcome() instanceof FileImport.Imported)
                    .count();
            String gatewayId = order.gateway().id().toString();
            archives.put(tx, new Archives.Archive(order.gateway().id(), order.name(), order.content()), by);
            Journal.append(tx, by, "files-imported", "gateway", gatewayId, imported + " of " + all.size());
            return all;
        };
    }
}
