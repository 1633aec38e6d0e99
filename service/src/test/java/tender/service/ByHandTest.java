package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.demo.AdminKey;
import tender.standins.device.SshDevice;
import tender.standins.nas.Nas;
import tender.standins.nas.NasFolder;
import tender.standins.router.RouterFolder;
import tender.store.testing.TestDatabase;

/** What Tender cannot write at a gateway is asked of a person, and believed only when it is shown. */
class ByHandTest {
    private static final String NAS = "127.16.2.5";

    @TempDir
    Path folder;

    private TestDatabase database;
    private RunningService tender;

    @BeforeEach
    void open() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(
                database, folder.resolve("data"), null, Map.of("TENDER_CALLABLE_LOCAL", "127.16.0.0/16"));
        tender.post("/sites", Map.of("name", "dunmar-slip", "networks", Map.of("workshop", "10.20.2.0/24")));
        tender.addPerson("tavin", "laptop", "phone");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
    }

    private String instructions() {
        StringBuilder out = new StringBuilder();
        tender.get("/overview")
                .json()
                .path("instructions")
                .forEach(i -> out.append(i.path("subject").asText())
                        .append(": ")
                        .append(i.path("words").asText())
                        .append('\n'));
        return out.toString();
    }

    private void read(String gateway) {
        Reply job = tender.post(gateway + "/read", null);
        tender.until("/jobs/" + job.field("id"), r -> !r.field("endedAt").equals("null"));
    }

    @Test
    void anAccountThatTenderDoesNotOwnStaysToBeClosedUntilAReadingShowsItClosed() throws Exception {
        NasFolder.layOut(folder.resolve("nas"));
        try (Nas nas = Nas.start(new SshDevice.Place(
                folder.resolve("nas"),
                folder.resolve("nas-key"),
                NAS,
                0,
                "keeper",
                AdminKey.at(folder.resolve("keeper-key"))))) {
            String gateway = nas(nas);
            Reply issued = tender.post(
                    "/profiles",
                    Map.of(
                            "person", "tavin",
                            "device", "laptop",
                            "gateway", "slip-nas",
                            "listener", "l2tp",
                            "account", "tove"));
            assertThat(issued.status()).as(issued.text()).isEqualTo(202);
            String profile =
                    "/profiles/" + issued.json().path("profile").path("id").asText();

            tender.post(profile + "/withdraw", null);

            assertThat(tender.get(profile).field("state")).isEqualTo("closing");
            assertThat(tender.get(profile).field("instruction"))
                    .isEqualTo("to be closed at slip-nas: close the account tove");
            assertThat(instructions()).contains("tavin-laptop-slip-nas: to be closed at slip-nas");
            read(gateway);
            assertThat(tender.get(profile).field("state"))
                    .as("the account is still there")
                    .isEqualTo("closing");

            Path accounts = folder.resolve("nas/etc/device.conf");
            Files.writeString(accounts, Files.readString(accounts).replace("user_tove = vpn\n", ""));
            read(gateway);

            assertThat(tender.get(profile).field("state")).isEqualTo("withdrawn");
            assertThat(instructions()).isEmpty();

            Files.writeString(accounts, Files.readString(accounts) + "user_tove = vpn\n");
            read(gateway);
            JsonNode back = tender.get("/findings?limit=200").json().path("items").findParents("code").stream()
                    .filter(f -> f.path("code").asText().equals("withdrawn-still-active"))
                    .findFirst()
                    .orElseThrow();
            assertThat(back.path("evidence").asText()).isEqualTo("account tove at slip-nas");
        }
    }

    private String nas(Nas nas) throws Exception {
        Map<String, Object> request = new HashMap<>(Map.of(
                "name", "slip-nas",
                "site", "dunmar-slip",
                "kind", "nas",
                "description", "office-nas",
                "address", NAS,
                "port", nas.sshPort(),
                "user", "keeper",
                "key", Files.readString(folder.resolve("keeper-key"))));
        Reply added = tender.post("/gateways", request);
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        String gateway = "/gateways/" + added.field("id");
        tender.post(gateway + "/accept", Map.of("identity", added.field("identity")));
        tender.until(gateway, r -> !r.field("readAt").equals("null"));
        assertThat(tender.patch(gateway, Map.of("endpoint", NAS)).status()).isEqualTo(200);
        return gateway;
    }

    @Test
    void aPeerOfAGatewayThatNobodyCanReachIsAskedForAndBelievedWhenItsFilesShowIt() throws Exception {
        RouterFolder.sound("hut-west", "10.20.6.0/24", "10.20.6.20", "fixed 198.51.100.24", "10.99.6.1/24", 51820)
                .layOut(folder.resolve("hut"));
        Reply added = tender.post(
                "/gateways", Map.of("name", "hut-west", "site", "dunmar-slip", "kind", "router", "connector", "file"));
        String gateway = "/gateways/" + added.field("id");
        load(gateway);
        tender.patch(gateway, Map.of("endpoint", "hut-west.skerrivane.example"));

        Reply issued = tender.post("/profiles", Map.of("person", "tavin", "device", "phone", "gateway", "hut-west"));
        String profile = "/profiles/" + issued.json().path("profile").path("id").asText();

        assertThat(issued.json().path("jobId").isNull()).as("nobody is called").isTrue();
        assertThat(tender.get(profile).field("state")).isEqualTo("waiting");
        assertThat(tender.get(gateway).json().path("readProblem").isNull()).isTrue();
        assertThat(tender.get("/overview").text()).doesNotContain("does not answer");
        Reply instruction = tender.post(profile.replace("profiles", "instructions") + "/show", null);
        String peer = instruction.json().at("/texts/0/text").asText();
        assertThat(peer)
                .contains(
                        "[Peer]",
                        "PresharedKey = ",
                        tender.get(profile).json().at("/identity/value").asText());
        assertThat(tender.get(profile).text() + instructions())
                .as("no secret in what lists show")
                .doesNotContain(peer.replaceAll("(?s).*PresharedKey = (\\S+).*", "$1"));

        Path file = folder.resolve("hut/tunnels/wg0.conf");
        String before = Files.readString(file);
        Files.writeString(file, before + "\n" + peer);
        load(gateway);
        tender.until(profile, r -> r.field("state").equals("ready"));

        tender.post(profile + "/withdraw", null);
        assertThat(tender.get(profile).field("state")).isEqualTo("closing");
        assertThat(instructions())
                .contains("remove the peer "
                        + tender.get(profile).json().at("/identity/value").asText());
        load(gateway);
        assertThat(tender.get(profile).field("state")).isEqualTo("closing");
        Files.writeString(file, before);
        load(gateway);
        tender.until(profile, r -> r.field("state").equals("withdrawn"));
    }

    @Test
    void aWaitingProfileCanBeWithdrawn() throws Exception {
        RouterFolder.sound("hut-west", "10.20.6.0/24", "10.20.6.20", "fixed 198.51.100.24", "10.99.6.1/24", 51820)
                .layOut(folder.resolve("hut"));
        String gateway = "/gateways/"
                + tender.post(
                                "/gateways",
                                Map.of(
                                        "name",
                                        "hut-west",
                                        "site",
                                        "dunmar-slip",
                                        "kind",
                                        "router",
                                        "connector",
                                        "file"))
                        .field("id");
        load(gateway);
        tender.patch(gateway, Map.of("endpoint", "hut-west.skerrivane.example"));
        String profile = "/profiles/"
                + tender.post("/profiles", Map.of("person", "tavin", "device", "phone", "gateway", "hut-west"))
                        .json()
                        .path("profile")
                        .path("id")
                        .asText();

        assertThat(tender.post(profile + "/withdraw", null).status()).isEqualTo(202);
        load(gateway);

        tender.until(profile, r -> r.field("state").equals("withdrawn"));
    }

    private void load(String gateway) {
        Reply job = tender.post(
                gateway + "/dropped",
                Map.of(
                        "files",
                        DemoOffice.files(folder.resolve("hut")),
                        "taken",
                        Instant.now().toString()));
        assertThat(job.status()).as(job.text()).isEqualTo(202);
        Reply ended = tender.until(
                "/jobs/" + job.field("id"), r -> !r.field("endedAt").equals("null"));
        assertThat(ended.field("state")).as(ended.text()).isEqualTo("done");
    }
}
