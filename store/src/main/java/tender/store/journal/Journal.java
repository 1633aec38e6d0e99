package tender.store.journal;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.KeyedDigest;
import tender.core.credential.Secret;
import tender.core.journal.Entry;
import tender.store.jdbc.Conditions;
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
    public static void append(Tx tx, By by, String action, String subjectKind, UUID subjectId, String detail) {
        append(tx, by, action, subjectKind, subjectId.toString(), detail);
    }

    /** @param detail what a reader needs to understand it; no secrets, no personal data */
    public static void append(Tx tx, By by, String action, String subjectKind, String subjectId, String detail) {
        Head end = tx.remembered(Head.class).orElseGet(() -> {
            lock(tx);
            return head(tx);
        });
        long number = end.number() + 1;
        Entry entry = new Entry(
                number, by.at().truncatedTo(ChronoUnit.MICROS), by.actor(), action, subjectKind, subjectId, detail);
        String hash = tx.journalKey().map(key -> entry.hash(end.hash(), key)).orElseGet(() -> entry.hash(end.hash()));
        tx.later(
                INSERT,
                p -> p.number(number)
                        .instant(entry.at())
                        .text(by.actor())
                        .text(action)
                        .text(subjectKind)
                        .text(subjectId)
                        .text(detail)
                        .text(hash));
        tx.remember(Head.class, new Head(number, hash));
    }

    /** Where the chain ends. */
    public record Head(long number, String hash) {}

    /** Nobody else adds to the chain until the transaction ends. */
    public static void lock(Tx tx) {
        tx.list(LOCK, p -> p, row -> row.text("locked"));
    }

    /** The last entry's number and hash; number 0 where there is none. */
    public static Head head(Tx tx) {
        return tx.first(LAST, p -> p, row -> new Head(row.number("number"), row.text("hash")))
                .orElse(new Head(0, Entry.START));
    }

    /** What binds the entries up to a head to a key. */
    public static String anchor(Secret key, Head head) {
        return KeyedDigest.of(
                key, ("journal keyed from " + head.number() + " " + head.hash()).getBytes(StandardCharsets.UTF_8));
    }

    private static final String KEYED =
            "select journal_keyed_from, journal_anchor from installation where journal_key is not null";

    private record Keyed(long from, String anchor) {}

    private static final String HASH_OF = "select hash from journal where number = ?";

    /** Whether an entry that somebody wrote down elsewhere stands here as it did then. */
    public static boolean holds(Tx tx, Head head) {
        return tx.first(HASH_OF, p -> p.number(head.number()), row -> row.text("hash"))
                .filter(head.hash()::equals)
                .isPresent();
    }

    private static final String COLUMNS = "number, at, actor, action, subject_kind, subject_id, detail, hash";
    private static final String FORWARD =
            "select " + COLUMNS + " from journal where number > ? order by number limit ?";

    /**
     * Which entries are listed; what is empty does not narrow.
     *
     * @param who an operator's name, or {@code tender} for what it does by itself
     * @param action such as {@code profile-issued}
     * @param subject the kind of thing, such as {@code gateway}
     */
    public record Filter(
            Optional<String> who, Optional<String> action, Optional<String> subject, Optional<Instant> since) {
        public static final Filter ALL =
                new Filter(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** Newest first, before one number. */
    public static List<Written> page(Tx tx, Filter filter, long before, int limit) {
        Conditions where = new Conditions().and("number < ?", p -> p.number(before));
        filter.who()
                .ifPresent(name -> where.and(
                        "actor = ? or actor in (select 'operator:' || id from operator where name = ?)",
                        p -> p.text(name).text(name)));
        filter.action().ifPresent(word -> where.and("action = ?", p -> p.text(word)));
        filter.subject().ifPresent(word -> where.and("subject_kind = ?", p -> p.text(word)));
        filter.since().ifPresent(at -> where.and("at >= ?", p -> p.instant(at)));
        return tx.listPlanned(
                "select " + COLUMNS + " from journal where " + where.sql() + " order by number desc limit ?",
                p -> where.fill(p).integer(limit),
                Journal::written);
    }

    private static final int BATCH = 5_000;

    /** The number of the first entry that does not fit the chain; empty when all do. */
    public static Optional<Long> firstBroken(Tx tx) {
        Optional<Keyed> keyed =
                tx.first(KEYED, p -> p, row -> new Keyed(row.number("journal_keyed_from"), row.text("journal_anchor")));
        if (tx.journalKey().isPresent() && keyed.isEmpty()) {
            return Optional.of(0L); // whoever took the key away wanted to write the chain anew
        }
        long plainUntil = tx.journalKey().isPresent() ? keyed.get().from() : Long.MAX_VALUE;
        String previous = Entry.START;
        long number = 0;
        while (true) {
            long from = number;
            List<Written> batch = tx.list(FORWARD, p -> p.number(from).integer(BATCH), Journal::written);
            for (Written written : batch) {
                Entry entry = written.entry();
                String expected = entry.number() <= plainUntil
                        ? entry.hash(previous)
                        : entry.hash(previous, tx.journalKey().orElseThrow());
                if (entry.number() != number + 1 || !expected.equals(written.hash())) {
                    return Optional.of(number + 1);
                }
                number = entry.number();
                previous = written.hash();
                if (number == plainUntil && !isAnchored(tx, keyed.get(), previous)) {
                    return Optional.of(number);
                }
            }
            if (batch.size() < BATCH) {
                return tx.journalKey().isPresent() && number < plainUntil ? Optional.of(number + 1) : Optional.empty();
            }
        }
    }

    private static boolean isAnchored(Tx tx, Keyed keyed, String hash) {
        return anchor(tx.journalKey().orElseThrow(), new Head(keyed.from(), hash))
                .equals(keyed.anchor());
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
