package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Whatever has a name can be given another one, and everything that went by the old one goes on. */
class RenamingTest {
    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.102.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        gateway = "/gateways/" + tender.addRouter(office);
        tender.addPerson("mara", "phone", "laptop");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    @Test
    void aGatewayKeepsWhatWasIssuedWhoStandsBehindItAndItsFindings() {
        tender.issue("mara", "phone");
        String inner = tender.post(
                        "/gateways", Map.of("name", "barge", "site", "pier-two", "kind", "router", "connector", "file"))
                .field("id");
        tender.patch("/gateways/" + inner, Map.of("uplinks", List.of("behind:pier2")));
        Reply taken = tender.patch(gateway, Map.of("name", "barge"));
        assertThat(taken.status()).as(taken.text()).isEqualTo(409);
        assertThat(tender.get(gateway).field("name")).isEqualTo("pier2");

        String user = tender.get(gateway).field("user");
        Reply renamed = tender.patch(gateway, Map.of("name", "pier9", "user", user));

        assertThat(renamed.field("name")).as(renamed.text()).isEqualTo("pier9");
        assertThat(tender.get("/gateways/named/pier2").status()).isEqualTo(404);
        assertThat(tender.get("/gateways/" + inner).json().path("uplinks").toString())
                .contains("behind pier9");
        assertThat(tender.get(gateway + "/removal").text())
                .contains("barge", "mara-phone-pier2")
                .doesNotContain("\"pier2\"");
        tender.until(
                "/findings?gateway=pier9",
                r -> !r.json().path("items").isEmpty() && !r.text().contains("\"subject\":\"pier2\""));
        Reply laptop = tender.post("/profiles", Map.of("person", "mara", "device", "laptop", "gateway", "pier9"));
        assertThat(laptop.text()).contains("mara-laptop-pier9");
        assertThat(tender.get("/profiles?gateway=pier9").text()).contains("mara-phone-pier2", "mara-laptop-pier9");
        assertThat(tender.get("/journal").text()).contains("pier2 is called pier9 now", "how it is signed in to");
    }

    @Test
    void peopleDevicesTeamsAndSitesAreRenamed() {
        tender.patch("/people/mara", Map.of("team", "masters"));
        Reply grant = tender.post("/grants", Map.of("gateway", "pier2", "team", "masters", "validDays", 30));
        assertThat(grant.status()).as(grant.text()).isBetween(200, 201);
        tender.issue("mara", "phone");

        assertThat(tender.patch("/people/mara", Map.of("handle", "mara-q")).field("handle"))
                .isEqualTo("mara-q");
        assertThat(tender.post("/people/mara-q/devices/phone", Map.of("name", "old-phone"))
                        .field("name"))
                .isEqualTo("old-phone");
        assertThat(tender.post("/people/mara-q/devices/laptop", Map.of("name", "old-phone"))
                        .status())
                .as("a name that another device has")
                .isEqualTo(409);
        assertThat(tender.post("/teams/masters", Map.of("name", "skippers")).field("people"))
                .isEqualTo("1");
        assertThat(tender.post("/teams/masters", Map.of("name", "others")).status())
                .isEqualTo(404);
        String site = "/sites/" + tender.get("/sites/named/pier-two").field("id");
        Reply moved = tender.send(
                "PATCH",
                tender.url(site),
                Map.of("name", "pier-nine"),
                with("If-Match", "\"" + tender.get("/sites/named/pier-two").field("version") + "\""));
        assertThat(moved.field("name")).as(moved.text()).isEqualTo("pier-nine");

        assertThat(tender.get("/people/mara").status()).isEqualTo(404);
        assertThat(tender.get("/people/mara-q").text()).contains("old-phone", "mara-phone-pier2", "skippers");
        assertThat(tender.get("/grants").text()).contains("skippers").doesNotContain("masters");
        assertThat(tender.get(gateway).field("site")).isEqualTo("pier-nine");
        tender.addPerson("mara", "phone");
    }

    @Test
    void anOperatorWhoIsGoneIsOutAtOnceAndTheNameIsFree() {
        String owner = tender.token();
        String password = "a-first-password-of-edda";
        tender.post("/operators", Map.of("name", "edda", "role", "operator", "password", password));
        tender.signIn("edda", password);
        String edda = tender.token();
        tender.post("/me/password", Map.of("old", password, "fresh", password + "-own"));
        tender.post("/people", Map.of("handle", "bram", "name", "Bram"));
        assertThat(tender.delete("/operators/owner").status())
                .as("operators remove nobody")
                .isEqualTo(403);

        tender.use(owner);
        assertThat(tender.delete("/operators/owner").text()).contains("your own account");
        assertThat(tender.delete("/operators/edda").status()).isEqualTo(204);

        assertThat(tender.delete("/operators/edda").status()).isEqualTo(404);
        assertThat(tender.get("/operators").text()).doesNotContain("edda");
        assertThat(tender.get("/journal").text()).contains("edda");
        tender.use(edda);
        assertThat(tender.get("/me").status()).isEqualTo(401);
        tender.use(owner);
        assertThat(tender.post(
                                "/operators",
                                Map.of("name", "edda", "role", "auditor", "password", "another-first-password"))
                        .status())
                .isEqualTo(201);
        assertThat(tender.get("/journal?who=edda").status()).isEqualTo(200);
    }

    private Map<String, String> with(String header, String value) {
        Map<String, String> headers = new java.util.HashMap<>(tender.bearer());
        headers.put(header, value);
        return headers;
    }
}
