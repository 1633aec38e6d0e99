package tender.store.journal;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import tender.core.journal.Entry;
import tender.store.jdbc.Row;
import tender.store.jdbc.Tx;

/** Appends under one lock, so that each entry follows the one before; append last in a transaction. */
public final class Journal {
    /** An entry with its hash. */
    public record Written(Entry entry, String hash) {}

    private Journal() {}

    private static final String LOCK = "select pg_advisory_xact_lock(7305004)::text as locked";
    private static final String LAST = "select number, hash from journal order by number desc limit 1";
    private static final String INSERT = """
            insert into journal (number, at, actor, action, subject_kind, subject_id, detail, hash)
            values (?, ?, ?, ?, ?, ?, ?, ?)""";

    /** @param detail what a reader needs to understand it; no secrets, no personal data */
    public static void append(
            Tx tx, Instant now, String actor, String action, String subjectKind, String subjectId, String detail) {
        End end = tx.remembered(End.class).orElseGet(() -> {
            tx.list(LOCK, p -> p, row -> row.text("locked"));
            return tx.first(LAST, p -> p, row -> new End(row.number("number"), row.text("hash")))
                    .orElse(new End(0, Entry.START));
        });
        long number = end.number() + 1;
        Entry entry =
                new Entry(number, now.truncatedTo(ChronoUnit.MICROS), actor, action, subjectKind, subjectId, detail);
        String hash = entry.hash(end.hash());
        tx.later(
                INSERT,
                p -> p.number(number)
                        .instant(entry.at())
                        .text(actor)
                        .text(action)
                        .text(subjectKind)
                        .text(subjectId)
                        .text(detail)
                        .text(hash));
        tx.remember(End.class, new End(number, hash));
    }

    /** Where the chain ends; nobody else adds to it until the transaction that looked ends. */
    private record End(long number, String hash) {}

    private static final String COLUMNS = "number, at, actor, action, subject_kind, subject_id, detail, hash";
    private static final String PAGE =
            "select " + COLUMNS + " from journal where number < ? order by number desc limit ?";
    private static final String FORWARD =
            "select " + COLUMNS + " from journal where number > ? order by number limit ?";

    public static List<Written> page(Tx tx, long before, int limit) {
        return tx.list(PAGE, p -> p.number(before).integer(limit), Journal::written);
    }

    private static final int BATCH = 5_000;

    /** The number of the first entry that does not fit the chain; empty when all do. */
    public static Optional<Long> firstBroken(Tx tx) {
        String previous = Entry.START;
        long number = 0;
        while (true) {
            long from = number;
            List<Written> batch = tx.list(FORWARD, p -> p.number(from).integer(BATCH), Journal::written);
            for (Written written : batch) {
                Entry entry = written.entry();
                if (entry.number() != number + 1 || !entry.hash(previous).equals(written.hash())) {
                    return Optional.of(number + 1);
                }
                number = entry.number();
                previous = written.hash();
            }
            if (batch.size() < BATCH) {
                return Optional.empty();
            }
        }
    }

    private static Written written(Row row) {
        return new Written(
                new Entry(
                        row.number("number"),
                        row.instant("at"),
                        row.text("actor"),
                        row.text("action"),
                        row.text("subject_kind"),
                        row.text("subject_id"),
                        row.text("detail")),
                row.text("hash"));
    }
}
