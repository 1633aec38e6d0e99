package tender.store.journal;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;
import tender.store.testing.TestDatabase;

class JournalTest {
    private TestDatabase database;
    private Db db;

    @BeforeEach
    void open() {
        database = new TestDatabase();
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
            db.run(tx -> Journal.append(tx, Instant.now(), "operator:x", "did", "thing", "1", "detail"));
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
        assertThat(db.<List<Journal.Written>>inTransaction(tx -> Journal.page(tx, Long.MAX_VALUE, 200)))
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

        db.run(tx -> {
            tx.update("alter table journal disable trigger journal_append_only", p -> p);
            tx.update("update journal set detail = 'other' where number = 3", p -> p);
        });

        assertThat(db.<Optional<Long>>inTransaction(Journal::firstBroken)).contains(3L);
    }
}
