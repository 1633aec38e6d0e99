package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Whoever leaves is let in nowhere any more, and trials show it with the very files. */
class DepartureTest {
    @TempDir
    Path folder;

    private TestDatabase database;
    private SmallOffice office;
    private RunningService tender;

    @BeforeEach
    void open() throws Exception {
        database = TestDatabase.fresh();
        office = SmallOffice.start(folder.resolve("office"), "127.10.109.1");
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        tender.addRouter(office);
        tender.addPerson("mara", "phone", "laptop");
        tender.addPerson("joss", "laptop");
        tender.issue("mara", "phone");
        tender.issue("mara", "laptop");
        tender.issue("joss", "laptop");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        office.close();
        database.close();
    }

    private Map<String, String> shown(JsonNode departure) {
        Map<String, String> out = new TreeMap<>();
        departure
                .path("refusals")
                .forEach(r -> out.put(
                        r.path("profile").asText(),
                        r.path("shown").asText() + " " + r.path("found").asText()));
        return out;
    }

    @Test
    void everythingOfWhoLeavesEndsAndIsShownToBeRefusedWhileOthersAreLetIn() {
        Reply plan = tender.post("/people/mara/leave", Map.of("dryRun", true));
        assertThat(plan.json().path("endings").findValuesAsText("profile"))
                .containsExactlyInAnyOrder("mara-phone-pier2", "mara-laptop-pier2");
        assertThat(plan.text()).contains("its peer is removed from the gateway");
        assertThat(tender.get("/departures").json().path("items")).isEmpty();

        String id = tender.post("/people/mara/leave", Map.of()).field("departureId");
        Reply done = tender.until(
                "/departures/" + id, r -> r.json().at("/departure/open").asInt() == 0);

        assertThat(shown(done.json()))
                .hasSize(2)
                .allSatisfy((label, words) ->
                        assertThat(words).isEqualTo("refused refused, while the canary of wg0 was let in"));
        assertThat(tender.get("/profiles?text=joss").json().at("/items/0/state").asText())
                .isEqualTo("ready");
        database.expect(
                "select count(*) from credential c join profile_listener l on l.key_id = c.id join refusal r on r.profile_id = l.profile_id"
                        + " where c.secret is not null",
                0);
        assertThat(tender.get("/journal?action=refusal-shown").json().path("items"))
                .hasSize(2);
        Reply again = tender.post("/people/mara/leave", Map.of());
        assertThat(again.status()).as(again.text()).isEqualTo(409);
    }

    @Test
    void aLostDeviceEndsAloneAndStaysOpenWhileItsGatewayCannotBeReached() throws Exception {
        office.close();
        String id = tender.post("/people/mara/devices/phone/lost", Map.of()).field("departureId");
        Reply open = tender.post("/departures/" + id + "/check", null);
        assertThat(open.json().at("/departure/open").asInt()).as(open.text()).isEqualTo(1);
        assertThat(open.json().at("/departure/device").asText()).isEqualTo("phone");
        assertThat(open.json().path("refusals").findValuesAsText("profile")).containsExactly("mara-phone-pier2");
        assertThat(tender.get("/profiles?text=mara-laptop")
                        .json()
                        .at("/items/0/state")
                        .asText())
                .as("the other device goes on")
                .isEqualTo("ready");
        assertThat(tender.get("/departures?person=mara")
                        .json()
                        .at("/items/0/open")
                        .asInt())
                .isEqualTo(1);
    }
}
