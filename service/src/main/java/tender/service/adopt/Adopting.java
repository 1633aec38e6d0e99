package tender.service.adopt;

import java.time.Instant;
import java.util.List;
import java.util.function.Function;
import tender.core.office.Office;
import tender.core.wire.Sha256;
import tender.service.office.OfficeRecords;
import tender.service.profile.AdoptedProfiles;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.journal.Journal;
import tender.store.profile.Archives;

/** Takes a gateway's own client files in: inspected, matched to devices, mended by rule, kept as they came. */
public final class Adopting {
    private final Db db;
    private final OfficeRecords records;
    private final Archives archives;
    private final AdoptedProfiles profiles;

    public Adopting(Db db, OfficeRecords records, Archives archives, AdoptedProfiles profiles) {
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
    public List<Adoption> adopt(AdoptOrder order, String actor, Instant now) {
        return db.inTransaction(work(order, actor, now));
    }

    /** What {@link #adopt} would do; nothing of it is kept. */
    List<Adoption> rehearse(AdoptOrder order, String actor, Instant now) {
        return db.rehearse(work(order, actor, now));
    }

    private Function<Tx, List<Adoption>> work(AdoptOrder order, String actor, Instant now) {
        List<Candidate> candidates = Candidate.read(order.name(), order.content(), order.passphrase(), now);
        if (candidates.isEmpty()) {
            throw new Refused(Refused.Kind.MALFORMED, "no client file is inside", "content");
        }
        Office office = records.withoutHoldings(now);
        return tx -> {
            AdoptionRun run = new AdoptionRun(tx, office, order, profiles, actor, now);
            List<Adoption> all = candidates.stream().map(run::of).toList();
            long adopted = all.stream().filter(a -> a.label().isPresent()).count();
            String gatewayId = order.gateway().id().toString();
            archives.put(
                    tx, order.gateway().id(), order.name(), Sha256.hex(order.content()), order.content(), actor, now);
            Journal.append(tx, now, actor, "files-adopted", "gateway", gatewayId, adopted + " of " + all.size());
            return all;
        };
    }
}
