package tender.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.PublicKey;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
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
import tender.standins.device.SshDevice;
import tender.standins.nas.Nas;
import tender.standins.nas.NasFolder;
import tender.standins.router.Router;
import tender.standins.router.RouterFolder;
import tender.store.testing.TestDatabase;

/**
 * A storage device behind a front router, both over SSH: an account is made at the device with its profile, what keeps the person
 * out is told and fixed one after the other, and at last the very file connects through both.
 */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class WorkshopTest {
    private static final String FRONT = "127.15.2.1";
    private static final String NAS = "127.15.2.5";
    private static final String LABEL = "bram-laptop-slip-nas";

    @TempDir
    static Path folder;

    private static TestDatabase database;
    private static RunningService tender;
    private static Nas nas;
    private static Router front;
    private static final Map<String, String> GATEWAYS = new HashMap<>();

    @BeforeAll
    static void open() throws Exception {
        database = TestDatabase.fresh();
        PublicKey admits = AdminKey.at(folder.resolve("keeper-key"));
        NasFolder.layOut(folder.resolve("nas"));
        nas = Nas.start(
                new SshDevice.Place(folder.resolve("nas"), folder.resolve("nas-key"), NAS, 0, "keeper", admits));
        RouterFolder.of("slip-front")
                .general("release = 3.2.1")
                .general("zone = Europe/Oslo")
                .general("network.workshop = 10.20.2.0/24")
                .general("uplink = fixed " + FRONT)
                .rule("inside any > device any : any any : open")
                .rule("outside any > network 10.20.2.5/32 : udp any : open")
                .forward("pass udp 1194 to 10.20.2.4 1194")
                .layOut(folder.resolve("front"));
        front = Router.start(new Router.Place(
                folder.resolve("front"),
                folder.resolve("front-key"),
                FRONT,
                0,
                "keeper",
                admits,
                Set.of(),
                Map.of(
                        IpAddress.parse("10.20.2.5"),
                        InetAddress.getByAddress(IpAddress.parse(NAS).toBytes()))));
        tender = RunningService.start(
                database, folder.resolve("data"), null, Map.of("TENDER_CALLABLE_LOCAL", "127.15.0.0/16"));
        tender.post("/sites", Map.of("name", "dunmar-slip", "networks", Map.of("workshop", "10.20.2.0/24")));
        gateway("slip-front", FRONT, front.sshPort(), Map.of());
        gateway("slip-nas", NAS, nas.sshPort(), Map.of("kind", "nas", "description", "office-nas"));
        assertThat(tender.patch(path("slip-nas"), Map.of("uplinks", List.of("behind:slip-front")))
                        .status())
                .isEqualTo(200);
        tender.addPerson("bram", "laptop", "phone");
    }

    @AfterAll
    static void close() throws Exception {
        tender.close();
        nas.close();
        front.close();
        database.close();
    }

    private static String path(String gateway) {
        return "/gateways/" + GATEWAYS.get(gateway);
    }

    private static void gateway(String name, String address, int port, Map<String, Object> more) throws Exception {
        Map<String, Object> request = new HashMap<>(Map.of(
                "name",
                name,
                "site",
                "dunmar-slip",
                "address",
                address,
                "port",
                port,
                "user",
                "keeper",
                "key",
                Files.readString(folder.resolve("keeper-key"))));
        request.putAll(more);
        Reply added = tender.post("/gateways", request);
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        GATEWAYS.put(name, added.field("id"));
        tender.post(
                path(name) + "/accept",
                Map.of("identity", tender.get(path(name)).field("identity")));
        tender.until(path(name), r -> !r.field("readAt").equals("null"));
    }

    private static void changed(String gateway, Map<String, Object> change) {
        Reply reply = tender.change(path(gateway) + "/changes", Map.of("changes", List.of(change)));
        assertThat(reply.field("state")).as(reply.text()).isIn("active", "kept");
    }

    private static String failure(String label) {
        JsonNode trial = tender.trial(label).json();
        for (JsonNode rung : trial.path("rungs")) {
            if (rung.path("verdict").asText().equals("fails")) {
                return rung.path("rung").asText() + ": "
                        + rung.path("causes").path(0).path("code").asText();
            }
        }
        return trial.path("proven").asBoolean() ? "proven" : trial.toString();
    }

    private static String issue(String device, Map<String, Object> more) {
        Map<String, Object> request =
                new HashMap<>(Map.of("person", "bram", "device", device, "gateway", "slip-nas", "listener", "openvpn"));
        request.putAll(more);
        Reply issued = tender.post("/profiles", request);
        assertThat(issued.status()).as(issued.text()).isEqualTo(202);
        String id = issued.json().path("profile").path("id").asText();
        Reply ready = tender.until("/profiles/" + id, r -> !r.field("state").equals("writing"));
        assertThat(ready.field("state")).as(ready.text()).isEqualTo("ready");
        return id;
    }

    @Test
    @Order(1)
    void anAccountIsMadeAtTheDeviceWithItsProfileAndNeverAdministersIt() throws Exception {
        issue("laptop", Map.of("makeAccount", true));

        assertThat(Files.readString(folder.resolve("nas/etc/device.conf")))
                .contains("user_" + LABEL + " = vpn\n")
                .contains("user_keeper = admin");
        Reply refused = tender.post(
                "/profiles",
                Map.of(
                        "person", "bram",
                        "device", "phone",
                        "gateway", "slip-nas",
                        "listener", "openvpn",
                        "account", "keeper",
                        "makeAccount", true));
        String id = refused.json().path("profile").path("id").asText();
        Reply failed = tender.until("/profiles/" + id, r -> !r.field("state").equals("writing"));
        assertThat(failed.text()).contains("administers the device");
        assertThat(Files.readString(folder.resolve("nas/etc/device.conf"))).contains("user_keeper = admin");
    }

    @Test
    @Order(2)
    void whatIsInTheWayIsToldOneAfterTheOtherAndTheMendedWayIsProven() {
        assertThat(failure(LABEL)).isEqualTo("port: path-blocked");
        changed(
                "slip-front",
                Map.of(
                        "change",
                        "put-forward",
                        "forward",
                        Map.of("transport", "udp", "port", "1194", "to", "10.20.2.5", "toPort", "1194")));
        assertThat(failure(LABEL)).as("the device's own list").isEqualTo("handshake: path-blocked");

        changed("slip-nas", Map.of("change", "drop-rule", "number", 2));

        assertThat(failure(LABEL)).isEqualTo("proven");
    }

    private static JsonNode probed() {
        Reply ordered = tender.post("/trials", Map.of("gateway", "slip-nas", "listener", "l2tp"));
        assertThat(ordered.status()).as(ordered.text()).isEqualTo(202);
        return tender.until(
                        "/trials/" + ordered.field("id"),
                        r -> !r.json().path("proven").isNull())
                .json();
    }

    /** It is told where to probe and what should come, gets nobody's file, and what it tells stands as an answer. */
    private static void standingVantageProbes() {
        String owner = tender.token();
        tender.post("/operators", Map.of("name", "outpost", "role", "vantage", "password", "a-first-password-1"));
        tender.signIn("outpost", "a-first-password-1");
        tender.post("/me/password", Map.of("old", "a-first-password-1", "fresh", "another-password-2"));
        tender.signIn("outpost", "another-password-2");
        String outpost = tender.token();
        CompletableFuture<JsonNode> waiting = CompletableFuture.supplyAsync(() -> tender.send(
                        "POST", tender.url("/vantage/next"), null, Map.of("Authorization", "Bearer " + outpost))
                .json()
                .path("task"));
        tender.use(owner);
        tender.until("/vantages", r -> r.text().contains("standing"));
        Reply ordered = tender.post("/trials", Map.of("gateway", "slip-nas", "listener", "l2tp", "from", "outpost"));
        assertThat(ordered.status()).as(ordered.text()).isEqualTo(202);

        JsonNode task = waiting.join();
        assertThat(task.path("content").isNull()).as(task.toString()).isTrue();
        assertThat(task.path("probe").path("kind").asText()).isEqualTo("l2tp");
        assertThat(task.path("probe").path("port").asInt()).isEqualTo(500);
        Map<String, Object> rung = Map.of(
                "rung",
                "handshake",
                "meaning",
                "",
                "verdict",
                "ok",
                "millis",
                9,
                "detail",
                "it answers",
                "causes",
                List.of());
        tender.use(outpost);
        tender.post("/vantage/trials/" + ordered.field("id"), Map.of("rungs", List.of(rung)));
        tender.use(owner);

        Reply ended = tender.get("/trials/" + ordered.field("id"));
        assertThat(ended.json().path("proven").asBoolean()).as(ended.text()).isTrue();
        assertThat(ended.field("verdict")).isEqualTo("answers");
        assertThat(ended.field("vantage")).isEqualTo("outpost");
        assertThat(tender.get("/trials").text())
                .as("the service tries the same beside it")
                .contains("slip-nas l2tp, beside outpost");
    }

    private static boolean mayBindLowPorts() {
        try (DatagramSocket low = new DatagramSocket(new InetSocketAddress(NAS, 501))) {
            return low.isBound();
        } catch (IOException e) {
            System.out.println("SKIPPED: this account may not bind ports under 1024, which L2TP needs");
            return false;
        }
    }

    @Test
    @Order(3)
    void anL2tpListenerIsProbedAtAndSaysWhatItTakes() {
        assumeTrue(mayBindLowPorts());
        JsonNode blocked = probed();
        assertThat(blocked.path("proven").asBoolean()).as(blocked.toString()).isFalse();
        assertThat(blocked.findValuesAsText("code")).containsExactly("path-blocked");
        for (String port : List.of("500", "4500")) {
            changed(
                    "slip-front",
                    Map.of(
                            "change",
                            "put-forward",
                            "forward",
                            Map.of("transport", "udp", "port", port, "to", "10.20.2.5", "toPort", port)));
        }

        JsonNode answered = probed();

        assertThat(answered.path("proven").asBoolean()).as(answered.toString()).isTrue();
        assertThat(answered.path("verdict").asText()).isEqualTo("answers");
        assertThat(answered.path("subject").asText()).isEqualTo("slip-nas l2tp");
        assertThat(answered.path("restsOn").asText()).contains("nobody's account was used");
        assertThat(answered.findValuesAsText("detail"))
                .anySatisfy(d -> assertThat(d).contains("group 14, shared secret", "udp 4500 answers too"));
        standingVantageProbes();
        JsonNode listener = tender.get("/monitors").json().path("items").findParents("listener").stream()
                .filter(r -> r.path("listener").asText().equals("l2tp"))
                .findFirst()
                .orElseThrow();
        tender.post("/monitors/" + listener.path("id").asText(), Map.of("everySeconds", 600));
        Reply monitor = tender.until(
                "/monitors",
                r -> r.json().path("items").findParents("listener").stream()
                        .anyMatch(x -> x.path("listener").asText().equals("l2tp")
                                && x.path("proven").asBoolean(false)));
        assertThat(monitor.json().path("items").findParents("listener"))
                .filteredOn(x -> x.path("listener").asText().equals("l2tp"))
                .allSatisfy(x -> {
                    assertThat(x.path("verdict").asText()).isEqualTo("answers");
                    assertThat(x.path("latest").path(0).path("verdict").asText())
                            .isEqualTo("answers");
                });
    }

    @Test
    @Order(3)
    void aForwardThatLacksAPartOrWouldWriteALineOfItsOwnIsRefusedAtOnce() {
        for (Map<String, Object> forward : List.<Map<String, Object>>of(
                Map.of("transport", "udp", "port", "1194", "to", "10.20.2.5"),
                Map.of(
                        "transport", "udp",
                        "port", "1194",
                        "to", "10.20.2.5",
                        "toPort", "1194",
                        "label", "x\npass tcp 22 to 10.20.2.5 22"))) {
            Reply refused = tender.post(
                    path("slip-front") + "/changes",
                    Map.of("changes", List.of(Map.of("change", "put-forward", "forward", forward))));
            assertThat(refused.status()).as(refused.text()).isEqualTo(400);
            assertThat(refused.text()).containsAnyOf("toPort", "label");
        }
    }

    @Test
    @Order(4)
    void theAccountGoesWithItsProfile() throws Exception {
        String id = tender.get("/profiles").json().path("items").findValues("id").stream()
                .map(JsonNode::asText)
                .filter(p -> tender.get("/profiles/" + p).field("label").equals(LABEL))
                .findFirst()
                .orElseThrow();

        tender.post("/profiles/" + id + "/withdraw", Map.of());
        tender.until("/profiles/" + id, r -> r.field("state").equals("withdrawn"));

        assertThat(Files.readString(folder.resolve("nas/etc/device.conf"))).doesNotContain(LABEL);
        assertThat(Files.readString(folder.resolve("nas/var/lib/callers"))).doesNotContain(LABEL);
    }
}
