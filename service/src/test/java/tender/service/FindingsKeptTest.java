package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Findings are rows that one node keeps; whoever reads them sees what was committed before, on any node. */
class FindingsKeptTest {
    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.96.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        gateway = tender.addRouter(office);
        tender.addPerson("mara", "phone");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private static List<JsonNode> all(RunningService node, String query) {
        List<JsonNode> out = new ArrayList<>();
        String after = "";
        do {
            JsonNode page = node.get("/findings?" + query + after).json();
            page.path("items").forEach(out::add);
            after = page.path("next").isNull()
                    ? ""
                    : "&after=" + page.path("next").asText();
        } while (!after.isEmpty());
        return out;
    }

    private static List<String> codes(RunningService node) {
        return all(node, "limit=200").stream().map(f -> f.path("code").asText()).toList();
    }

    private void endpoint(String host) {
        Reply before = tender.get("/gateways/" + gateway);
        Reply set = tender.patch("/gateways/" + gateway, Map.of("endpoint", host));
        assertThat(set.status()).as(before.text() + set.text()).isEqualTo(200);
    }

    @Test
    void aChangeMadeAtOneNodeIsJudgedBeforeAnyNodeIsAsked() throws Exception {
        try (RunningService other = RunningService.start(
                database,
                folder.resolve("second"),
                office,
                Map.of(
                        "TENDER_MASTER_KEY_FILE",
                        folder.resolve("data/master-key").toString()))) {
            for (int i = 0; i < 5; i++) {
                endpoint("your-server");
                assertThat(codes(other)).contains("endpoint-placeholder");
                assertThat(codes(tender)).contains("endpoint-placeholder");
                endpoint(SmallOffice.NAME);
                assertThat(codes(other)).doesNotContain("endpoint-placeholder");
            }
            tender.close();
            other.patch("/gateways/" + gateway, Map.of("endpoint", "your-server"));
            assertThat(other.until("/findings?limit=200", r -> r.text().contains("endpoint-placeholder"))
                            .status())
                    .as("the duty goes over to the node that is left")
                    .isEqualTo(200);
        }
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
    }

    @Test
    void pagesHoldEveryFindingOnceWorstFirstAndAcceptedOnesLast() {
        endpoint("your-server");
        List<String> keys = all(tender, "limit=200").stream()
                .map(f -> f.path("key").asText() + f.path("evidence").asText())
                .toList();
        assertThat(keys).hasSizeGreaterThan(1).doesNotHaveDuplicates();
        assertThat(all(tender, "limit=1").stream()
                        .map(f -> f.path("key").asText() + f.path("evidence").asText())
                        .toList())
                .isEqualTo(keys);
        assertThat(all(tender, "limit=200").stream()
                        .map(f -> List.of("error", "warning", "notice")
                                .indexOf(f.path("severity").asText()))
                        .toList())
                .isSorted();

        JsonNode first = all(tender, "limit=1").get(0);
        tender.post(
                "/findings/accept",
                Map.of(
                        "key",
                        first.path("key").asText(),
                        "reason",
                        "known",
                        "until",
                        java.time.Instant.now()
                                .plus(java.time.Duration.ofDays(3))
                                .toString()));
        List<JsonNode> after = all(tender, "limit=2");
        assertThat(after.get(after.size() - 1).path("key")).isEqualTo(first.path("key"));
        assertThat(all(tender, "limit=200&open=yes"))
                .noneMatch(f -> f.path("key").equals(first.path("key")));
        assertThat(tender.get("/overview").json().path("findings"))
                .noneMatch(f -> f.path("key").equals(first.path("key")));
    }

    @Test
    void aGatewaysPageAsksForItsOwnAlone() {
        endpoint("your-server");
        assertThat(all(tender, "gateway=pier2"))
                .isNotEmpty()
                .allMatch(f -> f.path("subjectId").asText().startsWith(gateway))
                .isEqualTo(all(tender, "gateway=" + gateway));
        assertThat(all(tender, "gateway=nobody")).isEmpty();
    }

    @Test
    void browsersHearThatFindingsChangedAndNothingWhenTheyDidNot() throws Exception {
        codes(tender);
        try (EventReader events = EventReader.open(tender)) {
            endpoint("your-server");
            assertThat(events.await("finding")).isNotEmpty();
        }
        long rows = database.number("select max(id) from finding");
        tender.post("/gateways/" + gateway + "/backups", Map.of("reason", "nothing changed"));
        codes(tender);
        assertThat(database.number("select max(id) from finding"))
                .as("what is as it was is not written again")
                .isEqualTo(rows);
    }
}
