package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.store.testing.TestDatabase;

/** What is known of gateways managed by hand is not lost where several say something at once. */
class ManualGatewaysTest {
    private static final int TIMES = 20;

    @TempDir
    Path folder;

    @Test
    void whatTwoPeopleEnterAtOnceIsBothKept() throws Exception {
        try (TestDatabase database = TestDatabase.fresh();
                RunningService tender = RunningService.start(database, folder.resolve("data"), null, Map.of())) {
            RunningService.Reply added = tender.post(
                    "/gateways",
                    Map.of(
                            "name",
                            "pier8",
                            "address",
                            "",
                            "user",
                            "api",
                            "connector",
                            "manual",
                            "endpoint",
                            "192.0.2.8"));
            assertThat(added.status()).as(added.text()).isEqualTo(201);
            String id = added.field("id");
            List<CompletableFuture<Void>> all = new ArrayList<>();
            for (int i = 0; i < TIMES; i++) {
                String name = "l" + i;
                String port = Integer.toString(5000 + i);
                all.add(CompletableFuture.runAsync(() -> assertThat(tender.post(
                                        "/gateways/" + id + "/listeners/" + name,
                                        Map.of("settings", Map.of("protocol", "tls", "port", port)))
                                .status())
                        .isEqualTo(200)));
            }
            all.forEach(CompletableFuture::join);

            assertThat(tender.get("/gateways/" + id + "/facts").json().path("listeners"))
                    .hasSize(TIMES);
        }
    }
}
