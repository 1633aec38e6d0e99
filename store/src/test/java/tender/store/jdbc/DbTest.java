package tender.store.jdbc;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.UUID;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.store.testing.TestDatabase;

class DbTest {
    private static final String INSERT = "insert into team (id, name) values (?, ?)";
    private TestDatabase database;
    private Db db;

    @BeforeEach
    void open() {
        database = TestDatabase.fresh();
        db = database.open();
    }

    @AfterEach
    void close() {
        assertThat(db.busy()).as("every connection was given back").isZero();
        db.close();
        database.close();
    }

    private List<String> teams() {
        return db.inTransaction(tx -> tx.list("select name from team order by name", p -> p, row -> row.text("name")));
    }

    @Test
    void aRehearsalGivesWhatTheRealRunWouldAndKeepsNothing() {
        String seen = db.rehearse(tx -> {
            tx.later(INSERT, p -> p.id(Ids.next()).text("masters"));
            return tx.first("select name from team", p -> p, row -> row.text("name"))
                    .orElseThrow();
        });

        assertThat(seen).isEqualTo("masters");
        assertThat(teams()).isEmpty();
    }

    @Test
    void aRehearsalChecksWhatIsCheckedAtTheCommit() {
        UUID nobody = Ids.next();
        assertThatThrownBy(() -> db.rehearse(tx -> {
                    tx.later(
                            "insert into device (id, person_id, name, kind, system) values (?, ?, 'phone', 'phone', '')",
                            p -> p.id(Ids.next()).id(nobody));
                    return "";
                }))
                .isInstanceOf(StoreException.class);
        assertThatThrownBy(() -> db.rehearse(tx -> {
                    tx.later(INSERT, p -> p.id(Ids.next()).text("masters"));
                    tx.later(INSERT, p -> p.id(Ids.next()).text("masters"));
                    return "";
                }))
                .isInstanceOf(ConflictException.class);
    }

    @Test
    void aQuestionPlannedForItsValuesAnswersAsAnyOther() {
        db.run(tx -> List.of("masters", "crew", "50%")
                .forEach(n -> tx.later(INSERT, p -> p.id(Ids.next()).text(n))));
        for (int i = 0; i < 12; i++) {
            assertThat(db.<List<String>>inTransaction(tx -> tx.listPlanned(
                            "select name from team where name ilike ?",
                            p -> p.text(Like.containing("%")),
                            row -> row.text("name"))))
                    .containsExactly("50%");
        }
    }

    @Test
    void aWriteThatChangesRowsFindsThoseThatWereGivenBeforeIt() {
        db.run(tx -> {
            for (String name : List.of("a", "b", "c", "d")) {
                tx.later(INSERT, p -> p.id(Ids.next()).text(name));
                tx.later("update team set name = name || '!' where name = ?", p -> p.text(name));
                tx.later("delete from team where name = ?", p -> p.text(name.equals("b") ? "b!" : ""));
            }
            tx.later("delete from team where name = ?", p -> p.text("d!"));
            tx.later(INSERT, p -> p.id(Ids.next()).text("d!"));
        });
        assertThat(teams()).containsExactly("a!", "c!", "d!");
    }
}
