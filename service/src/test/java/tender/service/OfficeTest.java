package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.io.TempDir;
import tender.core.network.IpAddress;
import tender.service.RunningService.Reply;
import tender.standins.demo.AdminKey;
import tender.standins.demo.DemoWorld;
import tender.store.testing.TestDatabase;

/** The demo company's six devices: all faults found, each mended through Tender, and changes with their way back. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class OfficeTest {
    private static final int TUNNEL_PORT = 41820;

    @TempDir
    static Path folder;

    private static DemoWorld world;
    private static TestDatabase database;
    private static RunningService tender;
    private static final Map<String, String> IDS = new HashMap<>();

    @BeforeAll
    static void open() throws Exception {
        world = DemoWorld.start(
                new DemoWorld.Place(
                        folder.resolve("standins"),
                        "127.10",
                        0,
                        0,
                        TUNNEL_PORT,
                        new InetSocketAddress(InetAddress.getLoopbackAddress(), 0),
                        Optional.empty()),
                AdminKey.at(folder.resolve("keeper-key")));
        database = new TestDatabase();
        tender = RunningService.start(
                database,
                folder.resolve("data"),
                null,
                Map.of(
                        "TENDER_RESOLVER_ADDRESS", "127.0.0.1:" + world.names().port(),
                        "TENDER_GUARD_SECONDS", "8",
                        "TENDER_NAMES_SECONDS", "1"));
        site("port-orrin", "office", "10.20.0.0/24");
        Reply orrin = tender.get("/sites/named/port-orrin");
        Map<String, String> headers = new HashMap<>(tender.bearer());
        headers.put("If-Match", orrin.raw().headers().firstValue("ETag").orElseThrow());
        Reply servers = tender.send(
                "PATCH",
                tender.url("/sites/" + orrin.field("id")),
                Map.of("networks", Map.of("servers", "10.20.1.0/24")),
                headers);
        assertThat(servers.status()).as(servers.text()).isEqualTo(200);
        site("dunmar-slip", "workshop", "10.20.2.0/24");
        site("pier-one", "office", "10.20.3.0/24");
        site("pier-two", "office", "10.20.4.0/24");
        site("pier-three", "office", "10.20.5.0/24");
        gateway("pier2", "pier-two", Map.of());
        gateway("slip-front", "dunmar-slip", Map.of());
        gateway("slip-nas", "dunmar-slip", Map.of("kind", "nas", "description", "office-nas"));
        gateway("pier1", "pier-one", Map.of());
        gateway("pier3", "pier-three", Map.of());
        gateway(
                "orrin-fw",
                "port-orrin",
                Map.of("kind", "firewall", "connector", "https", "key", DemoWorld.FIREWALL_TOKEN));
        set("pier2", Map.of("factory", "changed"));
        set("slip-nas", Map.of("uplinks", List.of("behind:slip-front"), "factory", "still-work"));
        set("slip-front", Map.of("factory", "changed"));
        set("orrin-fw", Map.of("factory", "changed"));
        set("pier3", Map.of("factory", "changed", "endpoint", "your-server"));
        tender.addPerson("mara", "phone", "laptop");
        tender.addPerson("ebba", "phone");
        tender.issue("mara", "phone");
        tender.issue("ebba", "phone");
        tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        tender.post("/handouts", Map.of("profile", "ebba-phone-pier2"));
        tender.until("/findings", r -> codes(r).contains("endpoint-name-elsewhere pier1 wg0"));
    }

    @AfterAll
    static void close() throws Exception {
        tender.close();
        database.close();
        world.close();
    }

    private static void site(String name, String network, String cidr) {
        tender.post("/sites", Map.of("name", name, "timeZone", "Europe/Oslo", "networks", Map.of(network, cidr)));
    }

    private static void gateway(String name, String site, Map<String, Object> more) throws Exception {
        Map<String, Object> request = new HashMap<>(Map.of(
                "name",
                name,
                "site",
                site,
                "address",
                world.addresses().get(name),
                "user",
                "keeper",
                "key",
                Files.readString(folder.resolve("keeper-key"))));
        request.put("port", world.sshPorts().getOrDefault(name, world.firewall().port()));
        request.putAll(more);
        Reply added = tender.post("/gateways", request);
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        IDS.put(name, added.field("id"));
        tender.post("/gateways/" + added.field("id") + "/accept", Map.of("identity", added.field("identity")));
        tender.until("/gateways/" + added.field("id"), r -> !r.field("readAt").equals("null"));
    }

    private static void set(String gateway, Map<String, Object> values) {
        Reply reply = tender.patch("/gateways/" + IDS.get(gateway), values);
        assertThat(reply.status()).as(reply.text()).isEqualTo(200);
    }

    private static Set<String> codes(Reply findings) {
        Set<String> out = new TreeSet<>();
        findings.json()
                .path("items")
                .forEach(f -> out.add(
                        f.path("code").asText() + " " + f.path("subject").asText()));
        return out;
    }

    private static Set<String> found() {
        return codes(tender.get("/findings"));
    }

    private static List<JsonNode> mendable() {
        List<JsonNode> out = new ArrayList<>();
        tender.get("/findings").json().path("items").forEach(f -> {
            if (!f.path("oneStep").isNull()) {
                out.add(f);
            }
        });
        return out;
    }

    private static List<String> keys() {
        List<String> out = new ArrayList<>();
        tender.get("/findings")
                .json()
                .path("items")
                .forEach(
                        f -> out.add(f.path("key").asText() + f.path("evidence").asText()));
        return out;
    }

    private static Map<String, Object> listener(String name, String setting, String value) {
        return Map.of("change", "set-listener", "listener", name, "values", Map.of(setting, value));
    }

    private static String changes(String gateway) {
        return "/gateways/" + IDS.get(gateway) + "/changes";
    }

    @Test
    @Order(1)
    void exactlyTheFaultsThatWereMadeAreFound() throws Exception {
        List<String> expected = new ArrayList<>();
        for (String line : Files.readAllLines(Path.of("src/test/resources/demo-findings.txt"))) {
            if (!line.isBlank() && !line.startsWith("#")) {
                expected.add(line.strip());
            }
        }
        assertThat(found()).containsExactlyElementsOf(new TreeSet<>(expected));
    }

    @Test
    @Order(2)
    void aPreviewNamesTheVeryPeopleAndAfterTheChangeTheDeviceAgrees() {
        Map<String, Object> order = Map.of("changes", List.of(listener("wg0", "port", "40404")));
        Reply preview = tender.post(changes("pier2") + "/preview", order);
        assertThat(preview.json().path("affected").findValuesAsText("person"))
                .containsExactlyInAnyOrder("Person mara", "Person ebba");
        assertThat(preview.field("restart")).isEqualTo("listener");

        Reply changed =
                tender.change(changes("orrin-fw"), Map.of("changes", List.of(listener("visitors", "port", "1200"))));

        assertThat(changed.field("state")).as(changed.text()).isEqualTo("kept");
        Reply gateway = tender.get("/gateways/" + IDS.get("orrin-fw"));
        assertThat(gateway.json().path("listeners").findValuesAsText("port")).contains("1200");
        assertThat(tender.get("/gateways/" + IDS.get("orrin-fw") + "/drift")
                        .json()
                        .path("items"))
                .as("Tender's own change is no drift")
                .isEmpty();
        tender.change(changes("orrin-fw"), Map.of("changes", List.of(listener("visitors", "port", "1199"))));
    }

    @Test
    @Order(3)
    void whatTheDeviceRefusesComesBackAndIsSaid() throws Exception {
        byte[] before = Files.readAllBytes(folder.resolve("standins/orrin-fw/configuration.json"));
        AtomicInteger applied = new AtomicInteger();
        world.firewall().faults().beforeOperation = operation -> {
            if (operation.equals("POST apply")) {
                world.firewall().faults().reloadFails = applied.getAndIncrement() == 0;
            }
        };
        Reply ordered =
                tender.post(changes("orrin-fw"), Map.of("changes", List.of(listener("visitors", "port", "1201"))));
        String path = "/changes/" + ordered.json().path("change").path("id").asText();

        Reply failed = tender.until(path, r -> r.field("state").equals("failed"));

        world.firewall().faults().beforeOperation = operation -> {};
        assertThat(failed.field("note")).contains("apply failed").contains("came back");
        assertThat(new com.fasterxml.jackson.databind.ObjectMapper()
                        .readTree(folder.resolve("standins/orrin-fw/configuration.json")
                                .toFile()))
                .isEqualTo(new com.fasterxml.jackson.databind.ObjectMapper().readTree(before));
    }

    @Test
    @Order(4)
    void oldAndNewPortBothProvenSideBySideThenTheOldOneGoes() {
        Reply beside = tender.change(
                changes("pier2"),
                Map.of(
                        "changes",
                        List.of(
                                Map.of(
                                        "change",
                                        "add-beside",
                                        "listener",
                                        "wg0",
                                        "name",
                                        "wg0-new",
                                        "values",
                                        Map.of("port", "40443")),
                                Map.of(
                                        "change",
                                        "put-rule",
                                        "number",
                                        1,
                                        "rule",
                                        Map.of(
                                                "allow",
                                                true,
                                                "toDevice",
                                                true,
                                                "via",
                                                "outside",
                                                "transport",
                                                "udp",
                                                "ports",
                                                "40443",
                                                "label",
                                                "new tunnel"))),
                        "retires",
                        "wg0"));
        assertThat(beside.field("state")).as(beside.text()).isEqualTo("kept");
        assertThat(tender.trial("mara-phone-pier2").json().path("proven").asBoolean())
                .isTrue();

        String profile = tender.get("/profiles").json().path("items").findParents("label").stream()
                .filter(p -> p.path("label").asText().equals("ebba-phone-pier2"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asText();
        Reply moved = tender.post("/profiles/" + profile + "/renew", Map.of("to", "wg0-new"));
        assertThat(moved.status()).as(moved.text()).isEqualTo(200);
        Reply trial = tender.trial("ebba-phone-pier2");
        assertThat(trial.json().path("proven").asBoolean()).as(trial.text()).isTrue();
        Reply waiting = tender.get(beside.json().path("id").isMissingNode() ? "" : "/changes/" + beside.field("id"));
        assertThat(waiting.json().path("holdersLeft").toString())
                .contains("Person mara")
                .doesNotContain("ebba");

        String mara = tender.get("/profiles").json().path("items").findParents("label").stream()
                .filter(p -> p.path("label").asText().equals("mara-phone-pier2"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asText();
        tender.post("/profiles/" + mara + "/renew", Map.of("to", "wg0-new"));
        tender.until("/gateways/" + IDS.get("pier2"), r -> {
            for (JsonNode l : r.json().path("listeners")) {
                if (l.path("name").asText().equals("wg0")) {
                    return l.path("gone").asBoolean();
                }
            }
            return false;
        });
        Reply after = tender.trial("mara-phone-pier2");
        assertThat(after.json().path("proven").asBoolean()).as(after.text()).isTrue();
    }

    @Test
    @Order(5)
    void aTemporaryChangeComesBackByItself() {
        Reply ordered = tender.change(
                changes("slip-front"),
                Map.of(
                        "changes",
                        List.of(Map.of("change", "drop-forward", "door", Map.of("transport", "tcp", "port", "8080"))),
                        "temporarySeconds",
                        10));
        assertThat(ordered.field("state")).as(ordered.text()).isEqualTo("in-force");
        assertThat(ordered.json().path("armedOnDevice").asBoolean()).isTrue();
        assertThat(found())
                .contains("temporary-change slip-front")
                .doesNotContain("door-open-unused slip-front forward tcp 8080");

        Reply returned = tender.until(
                "/changes/" + ordered.field("id"), r -> r.field("state").equals("returned"));

        assertThat(returned.field("note")).contains("came back");
        assertThat(found()).doesNotContain("temporary-change slip-front");
        assertThat(tender.get("/gateways/" + IDS.get("slip-front") + "/facts")
                        .json()
                        .path("forwards")
                        .toString())
                .contains("8080");
    }

    @Test
    @Order(6)
    void aChangeThatCutsTenderOffIsBroughtBackByTheDevice() {
        Map<String, Object> closed = Map.of(
                "change",
                "put-rule",
                "number",
                1,
                "rule",
                Map.of("allow", false, "toDevice", true, "via", "inside", "ports", "any", "label", "closed"));
        Reply ordered = tender.post(changes("pier1"), Map.of("changes", List.of(closed)));
        String path = "/changes/" + ordered.json().path("change").path("id").asText();

        Reply lost = tender.until(path, r -> r.field("note").contains("contact was lost"));
        assertThat(lost.field("state")).isEqualTo("in-force");

        tender.until(path, r -> r.field("state").equals("returned"));
        tender.until(
                "/gateways/" + IDS.get("pier1"),
                r -> r.json().path("readProblem").isNull());
        assertThat(tender.get("/gateways/" + IDS.get("pier1") + "/facts")
                        .json()
                        .path("rules")
                        .toString())
                .doesNotContain("closed");
    }

    @Test
    @Order(7)
    void whatIsChangedAtTheDeviceIsDriftUntilNoted() throws Exception {
        Path forwards = folder.resolve("standins/slip-front/forwards");
        Files.writeString(forwards, Files.readString(forwards) + "pass udp 7777 to 10.20.2.5 7777  # by hand\n");

        tender.post("/gateways/" + IDS.get("slip-front") + "/read", null);
        Reply drift = tender.until(
                "/gateways/" + IDS.get("slip-front") + "/drift",
                r -> r.json().path("items").size() > 0);

        assertThat(drift.json().path("items").get(0).path("becomes").asText())
                .isEqualTo("udp 7777 to 10.20.2.5 port 7777");
        assertThat(found()).contains("changed-at-device slip-front");
        tender.post("/gateways/" + IDS.get("slip-front") + "/drift/note", null);
        assertThat(found()).doesNotContain("changed-at-device slip-front");
    }

    @Test
    @Order(8)
    void anAcceptedFindingComesLastUntilItIsReopened() {
        JsonNode first = tender.get("/findings").json().path("items").get(0);
        Map<String, Object> accept = Map.of(
                "key",
                first.path("key").asText(),
                "reason",
                "replaced next month",
                "until",
                java.time.Instant.now().plusSeconds(3600).toString());

        assertThat(tender.post("/findings/accept", accept).status()).isEqualTo(204);

        JsonNode items = tender.get("/findings").json().path("items");
        assertThat(items.get(items.size() - 1).path("acceptedReason").asText()).isEqualTo("replaced next month");
        tender.post("/findings/reopen", Map.of("key", first.path("key").asText()));
        assertThat(tender.get("/findings").json().path("items").get(0).path("key"))
                .isEqualTo(first.path("key"));
    }

    @Test
    @Order(9)
    void everyFindingWithOneStepIsMendedByIt() {
        Set<String> tried = new TreeSet<>();
        List<JsonNode> left = mendable();
        while (!left.isEmpty()) {
            JsonNode f = left.get(0);
            assertThat(tried.add(f.path("key").asText() + f.path("evidence").asText()))
                    .as("%s came again", f)
                    .isTrue();
            Reply mended =
                    tender.change("/findings/mend", Map.of("key", f.path("key").asText()));
            assertThat(mended.field("state")).as(f + " " + mended.text()).isEqualTo("kept");
            assertThat(keys())
                    .doesNotContain(f.path("key").asText() + f.path("evidence").asText());
            left = mendable();
        }
        assertThat(tried).hasSizeGreaterThan(15);
    }

    @Test
    @Order(10)
    void whatIsNotASettingOfADeviceIsMendedInTheRecordsOrAtTheProvider() {
        set("slip-nas", Map.of("factory", "changed"));
        set("pier1", Map.of("factory", "changed"));
        set("pier3", Map.of("endpoint", "pier3.skerrivane.example", "uplinks", List.of("fixed:127.10.5.1")));
        world.names().put("pier3.skerrivane.example", IpAddress.parse("127.10.5.1"));
        world.nameLearns();

        tender.until("/findings", r -> {
            Set<String> codes = codes(r);
            return codes.stream()
                    .noneMatch(c -> c.startsWith("endpoint-") || c.startsWith("factory-") || c.startsWith("uplink-"));
        });
    }

    @Test
    @Order(11)
    void aRouteWalkNamesTheHopAndTheSheetHoldsEverything() {
        Reply path = tender.post(
                "/walks",
                Map.of("profile", "mara-phone-pier2", "place", "hotel", "lan", "10.20.4.0/24", "to", "10.20.4.20"));
        assertThat(path.field("failsAt"))
                .as("the old file calls the old port, which is shut by now: " + path.text())
                .isEqualTo("filter");
        Reply sheet = tender.get("/office/sheet");
        assertThat(sheet.json().path("sites")).hasSize(5);
        assertThat(sheet.json().path("links").toString()).contains("slip-front");
        Reply words =
                tender.post("/explain/network", Map.of("network", "10.20.4.0/24", "pool", "10.20.4.100-10.20.4.199"));
        assertThat(words.field("usable")).isEqualTo("254");
        assertThat(tender.get("/explain/settings").json().path("items").size()).isGreaterThan(25);
    }

    @Test
    @Order(12)
    void aChangeThatCutsTenderOffComesBackWithTheServiceStopped() throws Exception {
        Path rules = folder.resolve("standins/pier1/filter.rules");
        Map<String, Object> closed = Map.of(
                "change",
                "put-rule",
                "number",
                1,
                "rule",
                Map.of("allow", false, "toDevice", true, "via", "inside", "ports", "any", "label", "shut"));
        Reply ordered = tender.post(changes("pier1"), Map.of("changes", List.of(closed)));
        waitFor(() -> Files.readString(rules).contains("shut"));
        tender.close();

        waitFor(() -> !Files.readString(rules).contains("shut"));
        Files.delete(folder.resolve("data/first-password"));

        tender = RunningService.start(
                database,
                folder.resolve("data"),
                null,
                Map.of("TENDER_RESOLVER_ADDRESS", "127.0.0.1:" + world.names().port(), "TENDER_GUARD_SECONDS", "8"));
        Reply ended = tender.until(
                "/changes/" + ordered.json().path("change").path("id").asText(),
                r -> !r.field("endedAt").equals("null"));
        assertThat(ended.field("state")).as(ended.text()).isIn("failed", "returned");
        assertThat(ended.field("note")).contains("came back");
    }

    private static void waitFor(java.util.concurrent.Callable<Boolean> condition) {
        org.junit.jupiter.api.Assertions.assertTimeoutPreemptively(java.time.Duration.ofSeconds(30), () -> {
            while (!condition.call()) {
                java.util.concurrent.TimeUnit.MILLISECONDS.sleep(20);
            }
        });
    }
}
