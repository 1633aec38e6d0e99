package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Trials made elsewhere: a standing vantage gets canaries and nothing else; a file that was tried is known by its digest. */
class VantageTest {
    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String owner;
    private String outpost;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.79.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        tender.addRouter(office);
        tender.addPerson("mara", "phone");
        tender.issue("mara", "phone");
        owner = tender.token();
        Reply added = tender.post(
                "/operators", Map.of("name", "outpost", "role", "vantage", "password", "a-first-password-1"));
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        tender.signIn("outpost", "a-first-password-1");
        tender.post("/me/password", Map.of("old", "a-first-password-1", "fresh", "another-password-2"));
        tender.signIn("outpost", "another-password-2");
        outpost = tender.token();
        tender.use(owner);
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    /** Outpost asks what there is to do, and waits. */
    private CompletableFuture<JsonNode> standing() {
        CompletableFuture<JsonNode> waiting = CompletableFuture.supplyAsync(() -> {
            Map<String, String> bearer = Map.of("Authorization", "Bearer " + outpost);
            return tender.send("POST", tender.url("/vantage/next"), null, bearer)
                    .json()
                    .path("task");
        });
        tender.until("/vantages", r -> r.text().contains("standing"));
        return waiting;
    }

    private static Map<String, Object> report(boolean proven) {
        return Map.of(
                "rungs",
                List.of(
                        Map.of(
                                "rung",
                                "port",
                                "meaning",
                                "",
                                "verdict",
                                proven ? "ok" : "fails",
                                "millis",
                                3,
                                "detail",
                                "udp 51820\nand more",
                                "causes",
                                List.of()),
                        Map.of(
                                "rung",
                                "inside host",
                                "meaning",
                                "",
                                "verdict",
                                proven ? "ok" : "not tried",
                                "millis",
                                3,
                                "detail",
                                "",
                                "causes",
                                List.of())));
    }

    private Reply told(String id, Map<String, Object> report) {
        tender.use(outpost);
        try {
            return tender.post("/vantage/trials/" + id, report);
        } finally {
            tender.use(owner);
        }
    }

    private static Map<String, Object> rung(String name, String verdict) {
        return Map.of("rung", name, "meaning", "", "verdict", verdict, "millis", 3, "detail", "", "causes", List.of());
    }

    @Test
    void aVantageTellsOfItsOwnTrialsAloneAndARungThatFailsIsNoProof() {
        tender.post("/operators", Map.of("name", "lookout", "role", "vantage", "password", "a-first-password-3"));
        tender.signIn("lookout", "a-first-password-3");
        tender.post("/me/password", Map.of("old", "a-first-password-3", "fresh", "another-password-4"));
        String lookout = tender.token();
        tender.use(owner);
        CompletableFuture<JsonNode> waiting = standing();
        Reply ordered = tender.post("/trials", Map.of("profile", "mara-phone-pier2", "from", "outpost"));
        assertThat(ordered.status()).as(ordered.text()).isEqualTo(202);
        assertThat(waiting.join().path("trialId").asText()).isEqualTo(ordered.field("id"));

        tender.use(lookout);
        Reply foreign = tender.post("/vantage/trials/" + ordered.field("id"), report(true));
        tender.use(owner);
        assertThat(foreign.status()).isEqualTo(404);
        assertThat(tender.get("/trials/" + ordered.field("id")).field("state")).isEqualTo("running");

        Map<String, Object> odd = Map.of("rungs", List.of(rung("port", "fails"), rung("inside host", "ok")));
        assertThat(told(ordered.field("id"), odd).status()).isEqualTo(204);
        assertThat(tender.get("/trials/" + ordered.field("id"))
                        .json()
                        .path("proven")
                        .asBoolean())
                .isFalse();
    }

    @Test
    void aStandingVantageGetsACanaryAndInsideAndOutsideStandSideBySide() {
        Reply nobody = tender.post("/trials", Map.of("profile", "mara-phone-pier2", "from", "outpost"));
        assertThat(nobody.text()).contains("no vantage of that name ever stood");
        CompletableFuture<JsonNode> waiting = standing();
        assertThat(tender.trial("mara-phone-pier2").json().path("proven").asBoolean())
                .isTrue();

        Reply ordered = tender.post("/trials", Map.of("profile", "mara-phone-pier2", "from", "outpost"));
        assertThat(ordered.status()).as(ordered.text()).isEqualTo(202);

        JsonNode task = waiting.join();
        assertThat(task.path("trialId").asText()).isEqualTo(ordered.field("id"));
        assertThat(task.path("content").asText()).contains("[Interface]");
        assertThat(task.path("insideHost").asText()).isEqualTo("10.20.4.20");
        assertThat(told(ordered.field("id"), report(false)).status()).isEqualTo(204);
        Reply ended = tender.get("/trials/" + ordered.field("id"));
        assertThat(ended.field("vantage")).isEqualTo("outpost");
        assertThat(ended.json().path("proven").asBoolean()).isFalse();
        assertThat(ended.field("note")).contains("works from the service and not from outpost");
        assertThat(ended.field("restsOn")).isEqualTo("a canary, canary-pier2-wg0");
        assertThat(told(ordered.field("id"), report(true)).status())
                .as("told once")
                .isEqualTo(404);
    }

    @Test
    void aVantageThatIsUsedNoMoreIsRemovedOnceItCannotComeBack() {
        standing().cancel(true);
        assertThat(tender.get("/vantages/outpost/removal").text()).contains("tender operator disable outpost");
        assertThat(tender.delete("/vantages/outpost").status()).isEqualTo(409);
        assertThat(tender.delete("/vantages/service").status())
                .as("the service itself")
                .isEqualTo(404);

        tender.post("/operators/outpost/disable", null);
        assertThat(tender.get("/vantages/outpost/removal").json().path("obstacles"))
                .isEmpty();
        assertThat(tender.delete("/vantages/outpost").status()).isEqualTo(204);
        assertThat(tender.get("/vantages").text()).doesNotContain("outpost");
        assertThat(tender.get("/journal?action=vantage-removed").json().path("items"))
                .hasSize(1);
    }

    @Test
    void aVantageMayDoNothingElse() {
        assertThat(tender.post("/vantage/next", null).status())
                .as("nobody else takes its work")
                .isEqualTo(403);
        tender.use(outpost);
        for (String path : List.of("/profiles", "/gateways", "/people", "/trials", "/journal", "/monitors")) {
            assertThat(tender.get(path).status()).as(path).isEqualTo(403);
        }
        tender.use(owner);
    }

    @Test
    void aFileThatWasTriedElsewhereIsKnownByItsDigest() throws Exception {
        Reply prepared = tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        String link = prepared.field("link");
        String file = tender.send(
                        "POST",
                        java.net.URI.create(tender.service.staffUrl() + "/collect"),
                        Map.of(
                                "token", link.substring(link.indexOf("/#") + 2),
                                "passphrase", prepared.field("passphrase")),
                        Map.of())
                .field("file");
        Map<String, Object> report = new java.util.HashMap<>(report(true));
        report.put(
                "digest",
                HexFormat.of()
                        .formatHex(MessageDigest.getInstance("SHA-256").digest(file.getBytes(StandardCharsets.UTF_8))));

        Reply told = tender.post("/trials/reported", report);

        Reply trial = tender.get("/trials/" + told.field("trialId"));
        assertThat(trial.field("profile")).isEqualTo("mara-phone-pier2");
        assertThat(trial.json().path("proven").asBoolean()).isTrue();
        assertThat(trial.text()).contains("udp 51820 and more");
        assertThat(told.json().path("note").isNull()).isTrue();
        String id = tender.get("/profiles").json().path("items").findParents("label").stream()
                .filter(p -> p.path("label").asText().equals("mara-phone-pier2"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asText();
        tender.post("/profiles/" + id + "/renew", Map.of());
        assertThat(tender.post("/trials/reported", report).field("note"))
                .contains("revision 1 of mara-phone-pier2, the newest is 2");
        report.put("digest", "0".repeat(64));
        assertThat(tender.post("/trials/reported", report)
                        .json()
                        .path("trialId")
                        .isNull())
                .isTrue();
        report.put("digest", "x");
        assertThat(tender.post("/trials/reported", report).status()).isEqualTo(400);
    }
}
