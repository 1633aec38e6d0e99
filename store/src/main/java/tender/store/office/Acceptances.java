package tender.store.office;

import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import tender.store.jdbc.Tx;

/** Findings that somebody took upon themselves, each with a reason and an end. */
public final class Acceptances {
    /** An acceptance of the finding of this key. */
    public record Acceptance(String key, String reason, Instant until, String by, Instant at) {}

    private Acceptances() {}

    private static final String PUT = """
            insert into accepted_finding (key, reason, until, accepted_by, accepted_at)
            values (?, ?, ?, ?, ?)
            on conflict (key) do update
            set reason = excluded.reason, until = excluded.until, accepted_by = excluded.accepted_by,
                accepted_at = excluded.accepted_at""";
    private static final String VALID =
            "select key, reason, until, accepted_by, accepted_at from accepted_finding where until > ?";
    private static final String DROP = "delete from accepted_finding where key = ?";

    public static void put(Tx tx, Acceptance a) {
        tx.updateOne(
                PUT,
                p -> p.text(a.key())
                        .text(a.reason())
                        .instant(a.until())
                        .text(a.by())
                        .instant(a.at()));
    }

    public static boolean drop(Tx tx, String key) {
        return tx.update(DROP, p -> p.text(key)) > 0;
    }

    /** Those that still count, by key. */
    public static Map<String, Acceptance> valid(Tx tx, Instant now) {
        Map<String, Acceptance> out = new HashMap<>();
        tx.list(VALID, p -> p.instant(now), row -> {
            Acceptance a = new Acceptance(
                    row.text("key"),
                    row.text("reason"),
                    row.instant("until"),
                    row.text("accepted_by"),
                    row.instant("accepted_at"));
            return out.put(a.key(), a);
        });
        return out;
    }
}
