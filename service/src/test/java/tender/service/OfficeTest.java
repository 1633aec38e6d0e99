package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
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

/** The demo company's six devices: all faults found, each fixed through Tender, and changes with their rollback. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class OfficeTest {
    @TempDir
    static Path folder;

    private static DemoOffice office;

    @BeforeAll
    static void open() throws Exception {
        office = new DemoOffice(folder);
    }

    @AfterAll
    static void close() throws Exception {
        office.close();
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
        assertThat(office.found()).containsExactlyElementsOf(new TreeSet<>(expected));
    }

    @Test
    @Order(2)
    void aPreviewNamesTheVeryPeopleAndAfterTheChangeTheDeviceAgrees() {
        Map<String, Object> order = Map.of("changes", List.of(DemoOffice.listener("wg0", "port", "40404")));
        Reply preview = office.tender.post(office.changes("pier2") + "/preview", order);
        assertThat(preview.json().path("affected").findValuesAsText("person"))
                .containsExactlyInAnyOrder("Person mara", "Person ebba");
        assertThat(preview.field("restart")).isEqualTo("listener");

        Reply changed = office.tender.change(
                office.changes("orrin-fw"),
                Map.of("changes", List.of(DemoOffice.listener("visitors", "port", "1200"))));

        assertThat(changed.field("state")).as(changed.text()).isEqualTo("kept");
        Reply gateway = office.tender.get("/gateways/" + office.id("orrin-fw"));
        assertThat(gateway.json().path("listeners").findValuesAsText("port")).contains("1200");
        assertThat(office.tender
                        .get("/gateways/" + office.id("orrin-fw") + "/drift")
                        .json()
                        .path("items"))
                .as("Tender's own change is no drift")
                .isEmpty();
        office.tender.change(
                office.changes("orrin-fw"),
                Map.of("changes", List.of(DemoOffice.listener("visitors", "port", "1199"))));
    }

    @Test
    @Order(3)
    void whatTheDeviceRefusesComesBackAndIsSaid() throws Exception {
        byte[] before = Files.readAllBytes(office.standin("orrin-fw/configuration.json"));
        AtomicInteger applied = new AtomicInteger();
        office.world.firewall().faults().beforeOperation = operation -> {
            if (operation.equals("POST apply")) {
                office.world.firewall().faults().reloadFails = applied.getAndIncrement() == 0;
            }
        };
        Reply ordered = office.tender.post(
                office.changes("orrin-fw"),
                Map.of("changes", List.of(DemoOffice.listener("visitors", "port", "1201"))));
        String path = "/changes/" + ordered.json().path("change").path("id").asText();

        Reply failed = office.tender.until(path, r -> r.field("state").equals("failed"));

        office.world.firewall().faults().beforeOperation = operation -> {};
        assertThat(failed.field("note")).contains("apply failed").contains("rolled back");
        assertThat(new com.fasterxml.jackson.databind.ObjectMapper()
                        .readTree(office.standin("orrin-fw/configuration.json").toFile()))
                .isEqualTo(new com.fasterxml.jackson.databind.ObjectMapper().readTree(before));
    }

    @Test
    @Order(4)
    void oldAndNewPortBothProvenSideBySideThenTheOldOneGoes() {
        Reply beside = office.tender.change(
                office.changes("pier2"),
                Map.of(
                        "changes",
                        List.of(
                                Map.of(
                                        "change",
                                        "add-listener",
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
                        "removeWhenUnused",
                        "wg0"));
        assertThat(beside.field("state")).as(beside.text()).isEqualTo("kept");
        assertThat(office.tender.trial("mara-phone-pier2").json().path("proven").asBoolean())
                .isTrue();

        String profile = office.tender.get("/profiles").json().path("items").findParents("label").stream()
                .filter(p -> p.path("label").asText().equals("ebba-phone-pier2"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asText();
        Reply moved = office.tender.post("/profiles/" + profile + "/renew", Map.of("to", "wg0-new"));
        assertThat(moved.status()).as(moved.text()).isEqualTo(200);
        Reply trial = office.tender.trial("ebba-phone-pier2");
        assertThat(trial.json().path("proven").asBoolean()).as(trial.text()).isTrue();
        Reply waiting =
                office.tender.get(beside.json().path("id").isMissingNode() ? "" : "/changes/" + beside.field("id"));
        assertThat(waiting.json().path("usersLeft").toString())
                .contains("Person mara")
                .doesNotContain("ebba");

        String mara = office.tender.get("/profiles").json().path("items").findParents("label").stream()
                .filter(p -> p.path("label").asText().equals("mara-phone-pier2"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asText();
        office.tender.post("/profiles/" + mara + "/renew", Map.of("to", "wg0-new"));
        office.tender.until("/gateways/" + office.id("pier2"), r -> {
            for (JsonNode l : r.json().path("listeners")) {
                if (l.path("name").asText().equals("wg0")) {
                    return l.path("gone").asBoolean();
                }
            }
            return false;
        });
        Reply after = office.tender.trial("mara-phone-pier2");
        assertThat(after.json().path("proven").asBoolean()).as(after.text()).isTrue();
    }

    @Test
    @Order(5)
    void aTemporaryChangeComesBackByItself() {
        Reply ordered = office.tender.change(
                office.changes("slip-front"),
                Map.of(
                        "changes",
                        List.of(Map.of("change", "drop-forward", "port", Map.of("transport", "tcp", "port", "8080"))),
                        "temporarySeconds",
                        10));
        assertThat(ordered.field("state")).as(ordered.text()).isEqualTo("active");
        assertThat(ordered.json().path("armedOnDevice").asBoolean()).isTrue();
        assertThat(office.found())
                .contains("temporary-change slip-front")
                .doesNotContain("port-open-unused slip-front forward tcp 8080");

        Reply returned = office.tender.until(
                "/changes/" + ordered.field("id"), r -> r.field("state").equals("rolled-back"));

        assertThat(returned.field("note")).contains("rolled back");
        assertThat(office.found()).doesNotContain("temporary-change slip-front");
        assertThat(office.tender
                        .get("/gateways/" + office.id("slip-front") + "/facts")
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
        Reply ordered = office.tender.post(office.changes("pier1"), Map.of("changes", List.of(closed)));
        String path = "/changes/" + ordered.json().path("change").path("id").asText();

        Reply lost = office.tender.until(path, r -> r.field("note").contains("contact was lost"));
        assertThat(lost.field("state")).isEqualTo("active");

        office.tender.until(path, r -> r.field("state").equals("rolled-back"));
        office.tender.until(
                "/gateways/" + office.id("pier1"),
                r -> r.json().path("readProblem").isNull());
        assertThat(office.tender
                        .get("/gateways/" + office.id("pier1") + "/facts")
                        .json()
                        .path("rules")
                        .toString())
                .doesNotContain("closed");
    }

    @Test
    @Order(7)
    void whatIsChangedAtTheDeviceIsDriftUntilNoted() throws Exception {
        Path forwards = office.standin("slip-front/forwards");
        Files.writeString(forwards, Files.readString(forwards) + "pass udp 7777 to 10.20.2.5 7777  # by hand\n");

        office.tender.post("/gateways/" + office.id("slip-front") + "/read", null);
        Reply drift = office.tender.until(
                "/gateways/" + office.id("slip-front") + "/drift",
                r -> r.json().path("items").size() > 0);

        assertThat(drift.json().path("items").get(0).path("becomes").asText())
                .isEqualTo("udp 7777 to 10.20.2.5 port 7777");
        assertThat(office.found()).contains("changed-at-device slip-front");
        office.tender.post("/gateways/" + office.id("slip-front") + "/drift/note", null);
        assertThat(office.found()).doesNotContain("changed-at-device slip-front");
    }

    @Test
    @Order(8)
    void anAcceptedFindingComesLastUntilItIsReopened() {
        JsonNode first =
                office.tender.get("/findings?limit=200").json().path("items").get(0);
        Map<String, Object> accept = Map.of(
                "key",
                first.path("key").asText(),
                "reason",
                "replaced next month",
                "until",
                java.time.Instant.now().plusSeconds(3600).toString());

        assertThat(office.tender.post("/findings/accept", accept).status()).isEqualTo(204);

        JsonNode items = office.tender.get("/findings?limit=200").json().path("items");
        assertThat(items.get(items.size() - 1).path("acceptedReason").asText()).isEqualTo("replaced next month");
        office.tender.post("/findings/reopen", Map.of("key", first.path("key").asText()));
        assertThat(office.tender
                        .get("/findings?limit=200")
                        .json()
                        .path("items")
                        .get(0)
                        .path("key"))
                .isEqualTo(first.path("key"));
    }

    @Test
    @Order(9)
    void everyFindingWithOneStepIsMendedByIt() {
        String temporary = office.tender
                .get("/changes/temporary")
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asText();
        Reply refused = office.tender.post(
                office.changes("slip-nas"),
                Map.of("changes", List.of(DemoOffice.listener("l2tp", "limit-total", "9"))));
        assertThat(refused.status()).as("its return would undo it").isEqualTo(409);
        assertThat(office.tender
                        .post("/changes/" + temporary + "/rollback", null)
                        .status())
                .isEqualTo(200);

        assertThat(fixAll()).isGreaterThan(30);
    }

    /** Fixes all that one step fixes, worst first, and gives how many that were. */
    private static int fixAll() {
        Set<String> tried = new TreeSet<>();
        List<JsonNode> left = office.mendable();
        while (!left.isEmpty()) {
            JsonNode f = left.get(0);
            assertThat(tried.add(f.path("key").asText() + f.path("evidence").asText()))
                    .as("%s came again", f)
                    .isTrue();
            Reply fixed = office.tender.change(
                    "/findings/fix", Map.of("key", f.path("key").asText()));
            assertThat(fixed.field("state")).as(f + " " + fixed.text()).isEqualTo("kept");
            assertThat(office.keys())
                    .doesNotContain(f.path("key").asText() + f.path("evidence").asText());
            left = office.mendable();
        }
        return tried.size();
    }

    private static void change(String gateway, Map<?, ?>... changes) {
        Reply changed = office.tender.change(office.changes(gateway), Map.of("changes", List.of(changes)));
        assertThat(changed.field("state")).as(changed.text()).isEqualTo("kept");
    }

    @Test
    @Order(10)
    void whatIsADecisionIsMendedByAChangeOfSettings() {
        change("orrin-fw", DemoOffice.listener("staff", "second-factor", "yes"));
        change("orrin-fw", DemoOffice.listener("strict", "control-channel-key", "crypt"));
        change("orrin-fw", Map.of("change", "drop-forward", "port", Map.of("transport", "tcp", "port", "443")));
        change(
                "orrin-fw",
                Map.of(
                        "change",
                        "put-network",
                        "network",
                        Map.of("name", "guests", "network", "10.97.0.0/24", "reserved", Map.of())));
        change("slip-nas", DemoOffice.listener("openvpn", "control-channel-key", "crypt"));
        change("slip-nas", DemoOffice.listener("openvpn", "accounts", "none"));
        change("slip-nas", Map.of("change", "remove-listener", "listener", "l2tp"));
        assertThat(office.found())
                .noneMatch(f -> f.matches("(second|control-channel|port-claimed|site-like|protocol).*"));
    }

    @Test
    @Order(11)
    void whatIsNotASettingOfADeviceIsMendedInTheRecordsOrWhereItIs() throws Exception {
        Instant today = Instant.now().truncatedTo(ChronoUnit.DAYS);
        office.set("slip-nas", Map.of("factory", "changed"));
        office.set("pier1", Map.of("factory", "changed"));
        office.set(
                "pier3",
                Map.of(
                        "endpoint",
                        "pier3.skerrivane.example",
                        "uplinks",
                        List.of("fixed:" + DemoOffice.RANGE + ".5.1")));
        office.set("hut-north", Map.of("uplinks", List.of("fixed:198.51.100.21")));
        office.set("hut-east", Map.of("endpoint", "198.51.100.22"));
        office.set("hut-mid", Map.of("endpoint", "198.51.100.25"));
        office.set("hut-south", Map.of("endpoint", "hut-south.skerrivane.example"));
        office.drop("hut-south", DemoOffice.files(office.standin("carried/hut-south")), today);
        office.drop("hut-late", DemoOffice.files(office.standin("carried/hut-late")), today);
        office.drop("hut-far", DemoOffice.files(office.standin("carried/hut-far")), today);
        office.set("hut-far", Map.of("uplinks", List.of("fixed:198.51.100.28")));
        office.world.names().put("pier3.skerrivane.example", IpAddress.parse(DemoOffice.RANGE + ".5.1"));
        office.world.names().put("hut-west.skerrivane.example", IpAddress.parse("198.51.100.24"));
        office.world.names().put("hut-south.skerrivane.example", IpAddress.parse("198.51.100.23"));
        office.world.nameLearns();
        office.renumber("winter-store", "store", "10.20.8.0/25");
        office.renumber("quay-office", "quay", "10.20.9.0/26");
        office.accept("slip-spare");
        office.set("slip-spare", Map.of("factory", "changed"));
        office.tender.post("/gateways/" + office.id("pier1") + "/drift/note", null);
        release("pier1/general.conf", "release = 3.1.4", "release = 3.2.1");
        release("slip-nas/etc/device.conf", "version = 2.8", "version = 3.0");
        office.read("pier1");
        office.read("slip-nas");
        for (String updated : List.of("pier1", "slip-nas")) {
            office.tender.post("/gateways/" + office.id(updated) + "/drift/note", null);
        }

        fixAll(); // what removed listeners left open
        for (String profile : List.of("mara-phone-pier2", "ebba-phone-pier2", "wen-tablet-pier1")) {
            office.handOutAgain(profile, Map.of());
        }
        String nextYear = Instant.now().plus(java.time.Duration.ofDays(365)).toString();
        office.handOutAgain("tavin-phone-pier3", Map.of("until", nextYear));
        assertThat(Files.readString(office.standin("pier3/tunnels/wg0.conf")))
                .as("an ended credential's peer has left")
                .doesNotContain("tavin-laptop-pier3")
                .contains("tavin-phone-pier3");
        office.handOutAgain("tavin-laptop-pier3", Map.of("until", nextYear));
        waitFor(() -> Files.readString(office.standin("pier3/tunnels/wg0.conf")).contains("tavin-laptop-pier3"));
        Set<String> left = new TreeSet<>();
        office.tender.until("/findings?limit=200", r -> {
            left.clear();
            left.addAll(DemoOffice.codes(r));
            return left.stream().noneMatch(f -> f.startsWith("endpoint-name"));
        });
        assertThat(left).isEmpty();
    }

    /** A device's software is updated at the device. */
    private static void release(String file, String was, String is) throws Exception {
        Path path = office.standin(file);
        Files.writeString(path, Files.readString(path).replace(was, is));
    }

    @Test
    @Order(12)
    void aRouteWalkNamesTheHopAndTheSheetHoldsEverything() {
        Reply path = office.tender.post(
                "/walks",
                Map.of("profile", "mara-phone-pier2", "place", "hotel", "lan", "10.20.4.0/24", "to", "10.20.4.20"));
        assertThat(path.field("failsAt"))
                .as("the new file is sound, but the hotel has the office's own network: " + path.text())
                .isEqualTo("overlap");
        Reply sheet = office.tender.get("/network-sheet");
        assertThat(sheet.json().path("sites")).hasSize(8);
        assertThat(sheet.json().path("links").toString()).contains("slip-front");
        Reply words = office.tender.post(
                "/explain/network", Map.of("network", "10.20.4.0/24", "pool", "10.20.4.100-10.20.4.199"));
        assertThat(words.field("usable")).isEqualTo("254");
        assertThat(office.tender.get("/explain/settings").json().path("items").size())
                .isGreaterThan(25);
    }

    @Test
    @Order(13)
    void aChangeThatCutsTenderOffComesBackWithTheServiceStopped() throws Exception {
        Path rules = office.standin("pier1/filter.rules");
        Map<String, Object> closed = Map.of(
                "change",
                "put-rule",
                "number",
                1,
                "rule",
                Map.of("allow", false, "toDevice", true, "via", "inside", "ports", "any", "label", "nobody"));
        Reply ordered = office.tender.post(office.changes("pier1"), Map.of("changes", List.of(closed)));
        waitFor(() -> Files.readString(rules).contains("# nobody"));
        office.tender.close();

        waitFor(() -> !Files.readString(rules).contains("# nobody"));

        office.start();
        Reply ended = office.tender.until(
                "/changes/" + ordered.json().path("change").path("id").asText(),
                r -> !r.field("endedAt").equals("null"));
        assertThat(ended.field("state")).as(ended.text()).isIn("failed", "rolled-back");
        assertThat(ended.field("note")).contains("rolled back");
    }

    @Test
    @Order(14)
    void whatTheDeviceGivesOutItselfIsMatchedRepairedAskedForOrHeldBack() {
        for (String person : List.of("bram", "corin", "petra")) {
            office.tender.addPerson(person, "laptop");
        }

        Map<String, JsonNode> files = imported("slip-nas");

        assertThat(files.keySet())
                .containsExactly("bram-laptop.ovpn", "corin-laptop.ovpn", "petra-laptop.ovpn", "scanner-room-2.ovpn");
        JsonNode bram = files.get("bram-laptop.ovpn");
        assertThat(bram.path("state").asText()).as(bram.toString()).isEqualTo("imported");
        assertThat(bram.path("matchedBy").asText()).isEqualTo("certificate");
        assertThat(bram.path("repairs").findValuesAsText("rule")).contains("endpoint", "server-check", "ciphers");
        assertThat(bram.path("repairs").findValuesAsText("after").toString())
                .contains("slip.skerrivane.example 1194 udp");
        assertThat(files.get("corin-laptop.ovpn").path("notes").findValuesAsText("code"))
                .contains("certificate-expired");
        assertThat(files.get("petra-laptop.ovpn").path("state").asText()).isEqualTo("held-back");
        assertThat(files.get("scanner-room-2.ovpn").path("state").asText()).isEqualTo("asked");
    }

    @Test
    @Order(15)
    void theFirewallGivesOneArchiveAndTheRouterAFileForEachClient() {
        for (String[] who : new String[][] {{"ebba", "phone"}, {"wen", "tablet"}, {"mara", "phone"}}) {
            office.tender.addPerson(who[0], who[1]);
        }

        Reply looked = office.tender.post(
                "/gateways/" + office.id("orrin-fw") + "/imports",
                Map.of("dryRun", true, "refuse", List.of("phones/mara-phone.conf=server-check")));
        assertThat(looked.json().path("files").get(3).path("repairs").findValuesAsText("rule"))
                .as(looked.text())
                .containsExactly("endpoint");
        Map<String, JsonNode> firewall = imported("orrin-fw");
        Map<String, JsonNode> router = imported("pier1");

        JsonNode ebba = firewall.get("ebba-phone.ovpn");
        assertThat(ebba.path("state").asText()).as(ebba.toString()).isEqualTo("imported");
        assertThat(ebba.path("notes").findValuesAsText("code")).contains("endpoint-placeholder");
        assertThat(ebba.path("repairs").findValuesAsText("after").toString())
                .contains("remote orrin.skerrivane.example 1195 udp");
        assertThat(firewall.get("wen-tablet.ovpn").path("notes").findValuesAsText("code"))
                .contains("certificate-expired");
        assertThat(firewall.get("supplier-2021.ovpn").path("state").asText()).isEqualTo("asked");
        JsonNode mara = firewall.get("mara-phone.conf");
        assertThat(mara.path("state").asText()).as(mara.toString()).isEqualTo("imported");
        assertThat(mara.path("matchedBy").asText()).isEqualTo("certificate");
        assertThat(mara.path("repairs").findValuesAsText("after"))
                .contains("remote_addrs = orrin.skerrivane.example")
                .anyMatch(l -> l.startsWith("id = "));
        assertThat(router.keySet()).containsExactly("ebba-phone.conf", "night-watch.conf");
        assertThat(router.get("ebba-phone.conf").path("state").asText())
                .as(router.toString())
                .isEqualTo("imported");
        assertThat(router.get("ebba-phone.conf").path("notes").findValuesAsText("code"))
                .contains("endpoint-private");
        assertThat(router.get("night-watch.conf").path("state").asText()).isEqualTo("asked");
    }

    @Test
    @Order(16)
    void changesOfTwoGatewaysAreKeptTogether() {
        Reply preview = office.tender.post("/change-sets/preview", moved("1701", "1206"));
        assertThat(preview.json().path("members"))
                .extracting(m -> m.path("gateway").asText())
                .containsExactly("slip-front", "slip-nas");

        office.database.tamper(
                "insert into gateway_writer as w (gateway_id, fence, holder, until) values ('"
                        + office.id("slip-nas") + "', 1, 'another', now() + interval '3 seconds')"
                        + " on conflict (gateway_id) do update set fence = w.fence + 1, holder = 'another', until = excluded.until");

        Reply kept = together(moved("1701", "1206"));

        assertThat(kept.field("state")).as(kept.text()).isEqualTo("kept");
        assertThat(kept.json().path("changes").findValuesAsText("state")).containsExactly("kept", "kept");
        assertThat(facts("slip-front")).contains("udp 1701 to 10.20.2.5");
        assertThat(openVpnPort()).isEqualTo("1206");
        assertThat(office.tender.post("/change-sets", twice()).field("detail")).contains("named twice");
    }

    @Test
    @Order(17)
    void whereOneOfThemFailsNoneIsKept() {
        AtomicInteger applied = new AtomicInteger();
        office.world.firewall().faults().beforeOperation = operation -> {
            if (operation.equals("POST apply")) {
                office.world.firewall().faults().reloadFails = applied.getAndIncrement() == 0;
            }
        };

        Reply failed = together(Map.of(
                "members",
                List.of(
                        member("slip-front", forward("1702")),
                        member("orrin-fw", DemoOffice.listener("visitors", "port", "1202")))));

        office.world.firewall().faults().beforeOperation = operation -> {};
        assertThat(failed.field("state")).as(failed.text()).isEqualTo("failed");
        assertThat(failed.field("note")).contains("orrin-fw: ").contains("none of the changes was kept");
        assertThat(failed.json().path("changes").findValuesAsText("state")).containsExactly("failed", "failed");
        assertThat(facts("slip-front")).doesNotContain("1702").contains("udp 1701");
    }

    /** The rows are put as a service leaves them that is killed at that moment; the next one starts from them. */
    @Test
    @Order(18)
    void killedAnywhereAllOrNoneStays() throws Exception {
        Reply kept = together(moved("1703", "1207"));
        assertThat(kept.field("state")).as(kept.text()).isEqualTo("kept");
        killed(kept.field("id"), "keeping");
        Reply still = ended(kept.field("id"));
        assertThat(still.field("state")).as("all were right").isEqualTo("kept");

        Path forwards = office.standin("slip-front/forwards");
        String written = Files.readString(forwards);
        killed(kept.field("id"), "writing");
        Reply back = ended(kept.field("id"));
        assertThat(back.field("state")).as("nobody had judged them").isEqualTo("failed");
        assertThat(back.field("note")).contains("interrupted while writing");
        assertThat(facts("slip-front")).doesNotContain("1703");
        assertThat(openVpnPort()).isEqualTo("1206");

        Reply again = together(moved("1703", "1207"));
        assertThat(again.field("state")).as(again.text()).isEqualTo("kept");
        Files.writeString(forwards, written.replaceAll("(?m)^.*1703.*\n", "")); // as the device itself does
        killed(again.field("id"), "keeping");
        Reply alone = ended(again.field("id"));
        assertThat(alone.field("state")).as(alone.text()).isEqualTo("failed");
        assertThat(alone.field("note")).contains("slip-front has rolled back by itself");
        assertThat(openVpnPort()).as("the other comes back with it").isEqualTo("1206");
    }

    private static void killed(String setId, String state) throws Exception {
        office.tender.service.close();
        office.database.tamper("update change_set set state = '" + state + "', ended_at = null where id = '" + setId
                + "'; update device_change set state = 'writing', ended_at = null where set_id = '" + setId + "'");
        office.start();
    }

    private static Reply together(Object members) {
        Reply ordered = office.tender.post("/change-sets", members);
        assertThat(ordered.status()).as(ordered.text()).isEqualTo(202);
        return ended(ordered.json().path("set").path("id").asText());
    }

    private static Reply ended(String setId) {
        return office.tender.until(
                "/change-sets/" + setId, r -> !r.json().path("endedAt").isNull());
    }

    private static Map<String, Object> moved(String port, String openVpnPort) {
        return Map.of(
                "members",
                List.of(
                        member("slip-front", forward(port)),
                        member("slip-nas", DemoOffice.listener("openvpn", "port", openVpnPort))));
    }

    private static Map<String, Object> twice() {
        return Map.of("members", List.of(member("slip-front", forward("1")), member("slip-front", forward("2"))));
    }

    private static Map<String, Object> member(String gateway, Map<String, Object> change) {
        return Map.of("gateway", gateway, "changes", List.of(change));
    }

    private static Map<String, Object> forward(String port) {
        return Map.of(
                "change",
                "put-forward",
                "forward",
                Map.of("transport", "udp", "port", port, "to", "10.20.2.5", "toPort", port, "label", "together"));
    }

    private static String facts(String gateway) {
        return office.tender
                .get("/gateways/" + office.id(gateway) + "/facts")
                .json()
                .path("forwards")
                .toString();
    }

    private static String openVpnPort() {
        for (JsonNode s : office.tender
                .get("/gateways/" + office.id("slip-nas") + "/facts")
                .json()
                .path("listeners")
                .get(0)
                .path("settings")) {
            if (s.path("setting").asText().equals("port")) {
                return s.path("value").asText();
            }
        }
        return "";
    }

    private static Map<String, JsonNode> imported(String gateway) {
        Reply exported = office.tender.post("/gateways/" + office.id(gateway) + "/imports", Map.of());
        assertThat(exported.status()).as(exported.text()).isEqualTo(200);
        Map<String, JsonNode> files = new java.util.TreeMap<>();
        exported.json()
                .path("files")
                .forEach(f -> files.put(f.path("path").asText().replaceAll(".*/", ""), f));
        return files;
    }

    private static void waitFor(java.util.concurrent.Callable<Boolean> condition) {
        org.junit.jupiter.api.Assertions.assertTimeoutPreemptively(java.time.Duration.ofSeconds(30), () -> {
            while (!condition.call()) {
                java.util.concurrent.TimeUnit.MILLISECONDS.sleep(20);
            }
        });
    }
}
