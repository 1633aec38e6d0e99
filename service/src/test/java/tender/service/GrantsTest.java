package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** What teams get at a listener where it differs from everyone else: rules that profiles follow. */
class GrantsTest {
    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.81.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        tender.addRouter(office);
        tender.post("/people/import", Map.of("csv", """
                        handle,name,mail,team,device,kind,system
                        mara,Mara Quillfeather,,masters,phone,phone,
                        signe,Signe Askeland,,accounts,laptop,laptop,
                        kell,Kell Osterby,,accounts,laptop,laptop,
                        freya,Freya Dunmore,,accounts,phone,phone,
                        """));
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private static List<String> reach(Reply profile) {
        return texts(profile.json().path("reach"));
    }

    private static List<String> texts(JsonNode list) {
        List<String> out = new java.util.ArrayList<>();
        list.forEach(n -> out.add(n.asText()));
        return out;
    }

    private Reply set(Map<String, Object> more) {
        Map<String, Object> all = new java.util.HashMap<>(Map.of("gateway", "pier2", "team", "accounts"));
        all.putAll(more);
        return tender.post("/grants", all);
    }

    private Reply labelled(String label) {
        return tender.get("/profiles/labelled/" + label);
    }

    @Test
    void aTeamGetsWhatItsGrantSaysAndTheOthersWhatEveryoneGets() {
        assertThat(set(Map.of("reach", List.of("10.20.1.0/24"), "dns", List.of("10.20.0.53"), "validDays", 30))
                        .status())
                .isEqualTo(200);

        Reply signe = tender.issue("signe", "laptop");
        Reply mara = tender.issue("mara", "phone");
        Reply many = tender.post("/profiles/many", Map.of("gateway", "pier2", "team", "accounts"));
        tender.until("/jobs/" + many.field("jobId"), r -> r.field("state").equals("done"));

        assertThat(reach(signe)).containsExactly("10.20.1.0/24");
        assertThat(texts(signe.json().path("dns"))).containsExactly("10.20.0.53");
        assertThat(reach(mara)).contains("10.20.4.0/24").doesNotContain("10.20.1.0/24");
        assertThat(reach(labelled("kell-laptop-pier2"))).containsExactly("10.20.1.0/24");
        JsonNode ends = tender.get("/expiries").json().path("items");
        assertThat(ends.findValuesAsText("what")).anyMatch(w -> w.contains("signe-laptop-pier2"));
        Instant end = Instant.parse(ends.findParents("what").stream()
                .filter(l -> l.path("what").asText().contains("signe-laptop-pier2"))
                .findFirst()
                .orElseThrow()
                .path("expiresAt")
                .asText());
        assertThat(Duration.between(Instant.now(), end)).isBetween(Duration.ofDays(29), Duration.ofDays(31));
    }

    @Test
    void aRuleThatChangesLeavesItsProfilesBehindUntilTheyAreRenewed() {
        tender.issue("signe", "laptop");
        tender.issue("kell", "laptop");
        tender.issue("mara", "phone");
        Reply own = tender.post(
                "/profiles",
                Map.of(
                        "person", "freya",
                        "device", "phone",
                        "gateway", "pier2",
                        "reach", List.of("10.20.9.0/24")));
        tender.until(
                "/profiles/" + own.json().path("profile").path("id").asText(),
                r -> r.field("state").equals("ready"));

        Reply changed = set(Map.of("reach", List.of("10.20.1.0/24")));
        assertThat(texts(changed.json().path("behind"))).containsExactly("kell-laptop-pier2", "signe-laptop-pier2");
        assertThat(reach(labelled("signe-laptop-pier2"))).contains("10.20.4.0/24");

        Reply renewed = set(Map.of("reach", List.of("10.20.1.0/24"), "renew", true));

        assertThat(renewed.json().path("behind")).isEmpty();
        assertThat(reach(labelled("signe-laptop-pier2"))).containsExactly("10.20.1.0/24");
        assertThat(labelled("signe-laptop-pier2").field("revision")).isEqualTo("2");
        assertThat(labelled("mara-phone-pier2").field("revision")).isEqualTo("1");
        assertThat(reach(labelled("freya-phone-pier2")))
                .as("said for this one alone")
                .containsExactly("10.20.9.0/24");

        assertThat(tender.delete("/grants/" + renewed.field("id")).status()).isEqualTo(204);
        tender.post("/profiles/" + labelled("signe-laptop-pier2").field("id") + "/renew", Map.of());
        assertThat(reach(labelled("signe-laptop-pier2"))).contains("10.20.4.0/24");
        assertThat(tender.get("/grants").json().path("items")).isEmpty();
        assertThat(tender.get("/journal?limit=50").text()).contains("grant-set", "grant-removed");
    }

    @Test
    void anAddressThatIsWantedIsTheDevicesUnlessItIsTakenOrNone() {
        Map<String, Object> order =
                new java.util.HashMap<>(Map.of("person", "mara", "device", "phone", "gateway", "pier2"));
        order.put("address", "10.99.4.77");
        Reply issued = tender.post("/profiles", order);
        assertThat(issued.status()).as(issued.text()).isEqualTo(202);
        assertThat(texts(issued.json().path("profile").path("addresses"))).containsExactly("10.99.4.77");
        tender.until(
                "/profiles/labelled/mara-phone-pier2", r -> r.field("state").equals("ready"));
        assertThat(tender.trial("mara-phone-pier2").json().path("proven").asBoolean())
                .isTrue();

        Map<String, Object> other = new java.util.HashMap<>(order);
        other.putAll(Map.of("person", "freya", "device", "phone"));
        assertThat(tender.post("/profiles", other).text()).contains("10.99.4.77 is taken already");
        for (String none : List.of("10.99.5.2", "10.99.4.0", "10.99.4.255", "10.99.4.1", "x")) {
            other.put("address", none);
            assertThat(tender.post("/profiles", other).status()).as(none).isBetween(400, 409);
        }
    }

    @Test
    void whatSaysNothingOrTooMuchIsRefused() {
        assertThat(set(Map.of()).text()).contains("say what differs");
        assertThat(set(Map.of("reach", List.of("10.20.1.0/24"), "fullTunnel", true))
                        .text())
                .contains("say one of the two");
        assertThat(set(Map.of("reach", List.of("10.20.1.0/99"))).text()).contains("reach[0]");
        assertThat(set(Map.of("team", "nobody", "validDays", 9)).status()).isEqualTo(404);
        assertThat(set(Map.of("validDays", 0)).text()).contains("validDays");
        assertThat(set(Map.of("fullTunnel", true, "dryRun", true)).status()).isEqualTo(200);
        assertThat(tender.get("/grants").json().path("items")).isEmpty();
    }
}
