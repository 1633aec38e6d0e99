package tender.store.office;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import tender.store.jdbc.Db;
import tender.store.secret.ColumnCipher;
import tender.store.secret.MasterKey;
import tender.store.testing.OneRouter;
import tender.store.testing.TestDatabase;

class GivenFilesTest {
    private static final Instant EARLIER = Instant.parse("2026-11-01T08:00:00Z");
    private static final Instant LATER = Instant.parse("2026-11-02T08:00:00Z");
    private final ColumnCipher cipher = new ColumnCipher(List.of(MasterKey.parse("k1:" + "05".repeat(32))));

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void filesAreKeptEncryptedByPathAndTakenTogether() {
        try (TestDatabase database = TestDatabase.fresh();
                Db db = database.open()) {
            OneRouter router = new OneRouter(db, Instant.now());
            GivenFiles files = new GivenFiles(cipher);
            db.run(tx -> files.put(
                    tx,
                    router.gateway,
                    Map.of("/etc/a.conf", bytes("PrivateKey = a"), "/etc/b.conf", bytes("b")),
                    EARLIER));
            db.run(tx -> files.put(tx, router.gateway, Map.of("/etc/a.conf", bytes("PrivateKey = new")), LATER));

            GivenFiles.Given given =
                    db.inTransaction(tx -> files.of(tx, "pier2")).orElseThrow();

            assertThat(given.taken()).isEqualTo(LATER);
            assertThat(given.files()).containsOnlyKeys("/etc/a.conf", "/etc/b.conf");
            assertThat(given.files().get("/etc/a.conf")).isEqualTo(bytes("PrivateKey = new"));
            assertThat(db.<Boolean>inTransaction(tx -> files.of(tx, "other").isPresent()))
                    .isFalse();
            assertThat(db.<List<String>>inTransaction(tx -> tx.list(
                            "select encode(content, 'escape') as t from given_file", p -> p, row -> row.text("t"))))
                    .noneMatch(text -> text.contains("PrivateKey"));
        }
    }
}
