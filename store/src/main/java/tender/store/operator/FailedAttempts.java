package tender.store.operator;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.store.jdbc.Ids;
import tender.store.jdbc.Tx;

/**
 * FailedAttempts at something secret by subject (an account and a source, a link), counted over all nodes. An attempt is counted
 * before the work that it asks for and under a lock, so that attempts at the same moment do not slip past; it is forgotten
 * when it was right.
 */
public final class FailedAttempts {
    /** At most so many attempts at a subject within a time. */
    public record Limit(String subject, int most, Duration within) {}

    /** @param exceeded the limit that refuses it */
    public record Claimed(UUID claim, Optional<Limit> exceeded) {}

    private FailedAttempts() {}

    private static final String LOCK = "select pg_advisory_xact_lock(hashtextextended(?, 7305005))::text as locked";
    private static final String ADD = "insert into failed_attempt (id, subject, at) values (?, ?, ?)";
    private static final String COUNT = "select count(*) as n from failed_attempt where subject = ? and at > ?";
    private static final String FORGET = "delete from failed_attempt where id = ?";

    /** Counts one attempt at all subjects; one that is refused is not counted, so that waiting helps. */
    public static Claimed claim(Tx tx, List<Limit> limits, Instant now) {
        UUID claim = Ids.next();
        List<Limit> ordered =
                limits.stream().sorted(Comparator.comparing(Limit::subject)).toList();
        ordered.forEach(l -> tx.list(LOCK, p -> p.text(l.subject()), row -> row.text("locked")));
        for (Limit l : ordered) {
            if (since(tx, l.subject(), now.minus(l.within())) >= l.most()) {
                return new Claimed(claim, Optional.of(l));
            }
        }
        ordered.forEach(
                l -> tx.updateOne(ADD, p -> p.id(claim).text(l.subject()).instant(now)));
        return new Claimed(claim, Optional.empty());
    }

    /** Whether the limit refuses for the first time within its time: said once, however often somebody goes on. */
    public static boolean isFirstRefusal(Tx tx, Limit limit, Instant now) {
        return claim(tx, List.of(new Limit("stopped:" + limit.subject(), 1, limit.within())), now)
                .exceeded()
                .isEmpty();
    }

    /** It was right: it does not count. */
    public static void right(Tx tx, UUID claim) {
        tx.update(FORGET, p -> p.id(claim));
    }

    /** How many attempts of a subject count since a time. */
    public static long since(Tx tx, String subject, Instant since) {
        return tx.first(COUNT, p -> p.text(subject).instant(since), row -> row.number("n"))
                .orElse(0L);
    }

    private static final String PURGE = "delete from failed_attempt where at < ?";

    /** Forgets attempts from before a time; no limit may reach further back. */
    public static void purge(Tx tx, Instant before) {
        tx.update(PURGE, p -> p.instant(before));
    }
}
