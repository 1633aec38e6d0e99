package tender.service.finding;

import java.time.Instant;
import java.util.List;
import java.util.function.Supplier;
import tender.service.refusal.Refused;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;

/** Findings as they are shown: rows that the keeper has written; accepted ones are told apart. */
public final class FindingsList {
    private final Db db;
    private final FindingKeeper keeper;

    FindingsList(Db db, FindingKeeper keeper) {
        this.db = db;
        this.keeper = keeper;
    }

    /** The finding of a key, as it is judged now. */
    public KeptFindings.Kept find(String key, Instant now) {
        keeper.upToDate();
        return db.inTransaction(tx -> KeptFindings.byKey(tx, now, key))
                .orElseThrow(() -> Refused.notFound("finding of this key"));
    }

    /** A page, the worst first; those that somebody accepted come last. */
    public List<KeptFindings.Kept> page(KeptFindings.Filter filter, long after, int limit, Instant now) {
        if (after == 0) {
            keeper.upToDate();
        }
        return db.inTransaction(tx -> KeptFindings.page(tx, now, filter, after, limit));
    }

    /** The worst that nobody accepted, and how many there are. */
    public record Worst(List<KeptFindings.Kept> shown, long all) {}

    /** The worst first, at most {@code limit}. They are brought up to date while the caller does something else, then given. */
    public Supplier<Worst> worst(Instant now, int limit) {
        FindingKeeper.Asked asked = keeper.ask();
        return () -> {
            keeper.await(asked);
            return db.inTransaction(tx -> worst(tx, now, limit));
        };
    }

    private static Worst worst(Tx tx, Instant now, int limit) {
        return new Worst(KeptFindings.worst(tx, now, limit), KeptFindings.open(tx, now));
    }
}
