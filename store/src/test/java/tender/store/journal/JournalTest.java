package tender.store.journal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.core.journal.Entry;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.office.Installation;
import tender.store.secret.ColumnCipher;
import tender.store.secret.MasterKey;
import tender.store.testing.TestDatabase;

class JournalTest {
    private TestDatabase database;
    private Db db;

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).isZero();
        db.close();
        database.close();
    }

    private void append(int count) {
        for (int i = 0; i < count; i++) {
            db.run(tx -> Journal.append(tx, new By("operator:x", Instant.now()), "did", "thing", "1", "detail"));
        }
    }

    @Test
    void chainsEntriesFromManyThreadsWithoutAGap() throws Exception {
        ExecutorService threads = Executors.newFixedThreadPool(4);
        for (int i = 0; i < 4; i++) {
            threads.execute(() -> append(25));
        }
        threads.shutdown();
        assertThat(threads.awaitTermination(30, TimeUnit.SECONDS)).isTrue();

        assertThat(db.<Optional<Long>>inTransaction(Journal::firstBroken)).isEmpty();
        assertThat(db.<List<Journal.Written>>inTransaction(
                        tx -> Journal.page(tx, Journal.Filter.ALL, Long.MAX_VALUE, 200)))
                .hasSize(100);
    }

    @Test
    void cannotBeChangedAndShowsWhenItWasAllTheSame() {
        append(5);
        assertThatThrownBy(
                        () -> db.run(tx -> tx.update("update journal set detail = 'other' where number = 3", p -> p)))
                .isInstanceOf(StoreException.class);
        assertThatThrownBy(() -> db.run(tx -> tx.update("delete from journal where number = 5", p -> p)))
                .isInstanceOf(StoreException.class);

        assertThatThrownBy(() ->
                        db.run(tx -> tx.update("alter table journal disable trigger journal_append_only", p -> p)))
                .as("the tables are another role's")
                .isInstanceOf(StoreException.class);

        tamper("update journal set detail = 'other' where number = 3");

        assertThat(db.<Optional<Long>>inTransaction(Journal::firstBroken)).contains(3L);
    }

    private void tamper(String sql) {
        database.tamper("alter table journal disable trigger journal_append_only; " + sql);
    }

    private void key() {
        ColumnCipher cipher = new ColumnCipher(List.of(MasterKey.parse("k1:" + "7a".repeat(32))));
        UUID id = db.inTransaction(tx -> Installation.id(tx, Instant.now()));
        db.chainWith(db.inTransaction(tx -> Installation.journalKey(tx, id, cipher, new SecureRandom())));
    }

    @Test
    void aKeyedChainCannotBeWrittenAnewByWhoeverHoldsTheDatabase() {
        append(3);
        key();
        append(3);
        assertThat(db.<Optional<Long>>inTransaction(Journal::firstBroken)).isEmpty();
        Journal.Head kept = db.inTransaction(Journal::head);
        append(1);
        assertThat(db.<Boolean>inTransaction(tx -> Journal.holds(tx, kept))).isTrue();
        List<Journal.Written> all = db.inTransaction(tx -> Journal.page(tx, Journal.Filter.ALL, Long.MAX_VALUE, 10));

        // all entries after the second anew, with plain digests that fit each other
        String previous = all.get(5).hash();
        for (int number = 3; number <= 7; number++) {
            Entry was = all.get(7 - number).entry();
            Entry is = new Entry(number, was.at(), was.actor(), "did not", was.subjectKind(), was.subjectId(), "");
            previous = is.hash(previous);
            tamper("update journal set action = 'did not', detail = '', hash = '" + previous + "' where number = "
                    + number);
        }

        assertThat(db.<Optional<Long>>inTransaction(Journal::firstBroken))
                .as("what stood there before the key is bound to it")
                .contains(3L);
        assertThat(db.<Boolean>inTransaction(tx -> Journal.holds(tx, kept))).isFalse();
        database.tamper("update installation set journal_key = null, journal_keyed_from = null, journal_anchor = null");
        assertThat(db.<Optional<Long>>inTransaction(Journal::firstBroken)).isPresent();
    }

    @Test
    void aChainCutOffAtItsEndShowsAgainstAnEndWrittenDownElsewhere() {
        key();
        append(5);
        Journal.Head kept = db.inTransaction(Journal::head);
        tamper("delete from journal where number > 3");

        assertThat(db.<Optional<Long>>inTransaction(Journal::firstBroken)).isEmpty();
        assertThat(db.<Boolean>inTransaction(tx -> Journal.holds(tx, kept))).isFalse();
    }
}
