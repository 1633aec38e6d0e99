package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.file.Files;
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

/** Nothing unfit leaves the house unless somebody says why, and the journal keeps it. */
class FitToHandOutTest {
    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.78.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        gateway = "/gateways/" + tender.addRouter(office);
        tender.addPerson("mara", "phone", "laptop");
        tender.addPerson("ilse", "laptop");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private Reply prepare(String label, Map<String, Object> more) {
        Map<String, Object> request = new java.util.HashMap<>(more);
        request.put("profile", label);
        return tender.post("/handouts", request);
    }

    private List<String> reasons(Reply profile) {
        return tender.get("/profiles/" + profile.field("id") + "/fitness")
                .json()
                .path("reasons")
                .findValuesAsText("code");
    }

    private String journal() {
        return tender.get("/journal?limit=200").text();
    }

    @Test
    void aPlaceholderIsHeldBackInEveryWayAndAnOverrideStandsInTheJournal() {
        tender.patch(gateway, Map.of("endpoint", "your-server"));
        Reply profile = tender.issue("mara", "phone");

        Reply refused = prepare("mara-phone-pier2", Map.of());

        assertThat(refused.status()).isEqualTo(409);
        assertThat(refused.field("code")).isEqualTo("unfit");
        assertThat(refused.field("detail")).contains("endpoint-placeholder", "your-server:");
        assertThat(reasons(profile)).containsExactly("endpoint-placeholder");
        assertThat(tender.get("/handouts").json().path("items")).isEmpty();

        Reply all = prepare("mara-phone-pier2", Map.of("override", "the name is entered tonight"));
        assertThat(all.status()).as(all.text()).isEqualTo(201);
        assertThat(journal())
                .contains("handout-prepared-unfit")
                .contains("not fit: endpoint-placeholder; handed out because: the name is entered tonight");
    }

    @Test
    void inBulkTheFitGoAndTheOthersAreListed() {
        tender.issue("mara", "phone");
        Reply failing = tender.issue("mara", "laptop");
        tender.issue("ilse", "laptop");
        office.router().faults().insideHostsSilent = true;
        tender.trial("mara-laptop-pier2");
        assertThat(reasons(failing)).containsExactly("last-trial-failed");

        Reply dry = tender.post("/handouts/many", Map.of("gateway", "pier2", "dryRun", true));
        assertThat(dry.json().path("prepared")).isEmpty();
        Reply many = tender.post("/handouts/many", Map.of("gateway", "pier2"));

        assertThat(many.json().path("fit")).isEqualTo(dry.json().path("fit"));
        assertThat(many.json().path("prepared").findValuesAsText("profile"))
                .containsExactly("ilse-laptop-pier2", "mara-phone-pier2");
        JsonNode unfit = many.json().path("unfit").get(0);
        assertThat(unfit.path("profile").asText()).isEqualTo("mara-laptop-pier2");
        assertThat(unfit.path("reasons").get(0).path("fix").asText()).isNotBlank();
        URI link = URI.create(many.json().path("prepared").get(0).path("link").asText());
        assertThat(tender.send(
                                "POST",
                                URI.create("http://" + link.getAuthority() + "/collect"),
                                Map.of(
                                        "token",
                                        link.getFragment(),
                                        "passphrase",
                                        many.json()
                                                .path("prepared")
                                                .get(0)
                                                .path("passphrase")
                                                .asText()),
                                Map.of())
                        .status())
                .isEqualTo(200);
        assertThat(tender.post("/handouts/many", Map.of("gateway", "pier2"))
                        .json()
                        .path("prepared"))
                .as("nobody is handed the same twice")
                .isEmpty();
    }

    @Test
    void aRenewedFileIsFitAgainAndAnOlderRevisionIsNot() throws Exception {
        Reply profile = tender.issue("mara", "phone");
        assertThat(reasons(profile)).isEmpty();
        String file = Files.readString(office.tunnelFile());
        Files.writeString(office.tunnelFile(), file.replaceAll("ListenPort = .*", "ListenPort = 51999"));
        tender.post(gateway + "/backups", Map.of());
        assertThat(reasons(profile)).containsExactly("listener-changed");

        tender.post("/profiles/" + profile.field("id") + "/renew", null);

        assertThat(reasons(profile)).isEmpty();
        Reply old = prepare("mara-phone-pier2", Map.of("revision", 1));
        assertThat(old.field("detail")).contains("revision-not-newest", "listener-changed");
    }

    @Test
    void aWithdrawnProfileAndACanaryAreNeverHandedOut() {
        Reply profile = tender.issue("mara", "phone");
        tender.post("/profiles/" + profile.field("id") + "/withdraw", null);
        tender.until("/profiles/" + profile.field("id"), r -> r.field("state").equals("withdrawn"));
        String label = tender.get("/profiles/" + profile.field("id")).field("label");

        assertThat(prepare(label, Map.of()).field("detail")).contains("profile-withdrawn");

        tender.post("/trials", Map.of("gateway", "pier2", "listener", "wg0"));
        assertThat(prepare("canary-pier2-wg0", Map.of("override", "let me")).status())
                .isEqualTo(404);
    }

    @Test
    void twoDevicesOfOnePersonGetFilesOfDifferentNamesThatStay() {
        Reply phone = tender.issue("mara", "phone");
        Reply laptop = tender.issue("mara", "laptop");

        String first = name(phone);
        assertThat(first).isEqualTo("mara-ph-pi2-r1.conf");
        assertThat(name(laptop)).isEqualTo("mara-la-pi2-r1.conf");
        tender.post("/profiles/" + phone.field("id") + "/renew", null);
        assertThat(name(phone)).isEqualTo("mara-ph-pi2-r2.conf");

        tender.post("/profiles/" + phone.field("id") + "/withdraw", null);
        tender.until("/profiles/" + phone.field("id"), r -> r.field("state").equals("withdrawn"));
        assertThat(name(tender.issue("mara", "phone")))
                .as("a name never means another profile")
                .isEqualTo("mara-p2-pi2-r1.conf");
    }

    private String name(Reply profile) {
        return tender.get("/profiles/" + profile.field("id"))
                .json()
                .path("revisions")
                .get(0)
                .path("fileName")
                .asText();
    }

    @Test
    void renumberingTheNetworkBehindFilesIsToldBeforeAndAfter() throws Exception {
        Reply profile = tender.issue("mara", "phone");
        prepare("mara-phone-pier2", Map.of());
        Map<String, Object> change = Map.of(
                "change",
                "put-network",
                "network",
                Map.of("name", "office", "network", "10.20.44.0/24", "reserved", Map.of()));

        Reply preview = tender.post(gateway + "/changes/preview", Map.of("changes", List.of(change)));

        assertThat(preview.json().path("works").asInt()).as(preview.text()).isZero();
        assertThat(preview.json()
                        .path("affected")
                        .get(0)
                        .path("differences")
                        .get(0)
                        .path("was")
                        .asText())
                .isEqualTo("10.20.4.0/24");
        assertThat(preview.json().path("appears").findValuesAsText("code")).contains("network-gone");

        tender.change(gateway + "/changes", Map.of("changes", List.of(change)));

        assertThat(tender.get("/findings?limit=200").json().path("items").findValuesAsText("code"))
                .contains("file-out-of-date", "network-gone");
        assertThat(reasons(profile)).containsExactly("listener-changed");
    }
}
