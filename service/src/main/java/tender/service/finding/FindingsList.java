package tender.service.finding;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.api.WatchApi;
import tender.core.finding.Finding;
import tender.core.wire.Fields;
import tender.service.refusal.Refused;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;

/** Findings as they are shown: rows that the keeper has written; accepted ones are told apart. */
public final class FindingsList {
    private final Db db;
    private final FindingKeeper keeper;

    public FindingsList(Db db, FindingKeeper keeper) {
        this.db = db;
        this.keeper = keeper;
    }

    /** The finding of a key, as it is judged now. */
    public KeptFindings.Kept find(String key, Instant now) {
        String wanted = Fields.required("key", key);
        keeper.upToDate();
        return db.inTransaction(tx -> KeptFindings.byKey(tx, now, wanted))
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
    public record Worst(List<WatchApi.Finding> shown, long all) {}

    public Worst worst(Instant now, int limit) {
        keeper.upToDate();
        return db.inTransaction(tx -> worst(tx, now, limit));
    }

    private static Worst worst(Tx tx, Instant now, int limit) {
        return new Worst(
                KeptFindings.page(tx, now, KeptFindings.Filter.OPEN, 0, limit).stream()
                        .map(FindingsList::render)
                        .toList(),
                KeptFindings.open(tx, now));
    }

    /** Findings that a change would bring or fix. */
    public static List<WatchApi.Finding> render(List<Finding> all) {
        return all.stream()
                .map(f -> new WatchApi.Finding(
                        f.key(),
                        f.code(),
                        f.severity().word(),
                        f.subjectKind(),
                        f.subjectId(),
                        f.subject(),
                        f.evidence(),
                        f.breaks(),
                        f.remedy(),
                        f.fix().map(Finding.Fix::words),
                        Optional.empty(),
                        Optional.empty()))
                .toList();
    }

    static WatchApi.Finding render(KeptFindings.Kept f) {
        return new WatchApi.Finding(
                f.key(),
                f.code(),
                f.severity(),
                f.subjectKind(),
                f.subjectId(),
                f.subject(),
                f.evidence(),
                f.breaks(),
                f.remedy(),
                f.oneStep(),
                f.acceptedReason(),
                f.acceptedUntil());
    }
}
