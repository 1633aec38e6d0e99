package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Removing what was added: nothing that works for somebody goes under them, and a name that is free again can be used again. */
class RemovalTest {
    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.97.1");
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

    private void refused(String path, String why) {
        assertThat(tender.get(path + "/removal").json().path("obstacles").toString())
                .contains(why);
        Reply reply = tender.delete(path);
        assertThat(reply.status()).as(reply.text()).isEqualTo(409);
        assertThat(reply.text()).contains(why);
    }

    private void removed(String path) {
        Reply preview = tender.get(path + "/removal");
        assertThat(preview.json().path("obstacles")).as(preview.text()).isEmpty();
        assertThat(tender.delete(path).status()).isEqualTo(204);
        assertThat(tender.delete(path).status()).as("it is gone").isEqualTo(404);
    }

    @Test
    void whoStillHasAccessStaysAndWhoHasNoneLeavesTheirHistory() {
        tender.patch("/people/mara", Map.of("team", "masters"));
        Reply grant = tender.post("/grants", Map.of("gateway", "pier2", "team", "masters", "validDays", 30));
        assertThat(grant.status()).as(grant.text()).isBetween(200, 201);
        Reply profile = tender.issue("mara", "phone");
        refused("/people/mara", "mara-phone-pier2");
        refused("/people/mara/devices/phone", "tender profile withdraw mara-phone-pier2");
        refused(gateway, "mara-phone-pier2");
        refused("/teams/masters", "mara");
        removed("/people/mara/devices/laptop");
        assertThat(tender.get("/people/mara").field("deviceCount")).isEqualTo("1");

        tender.post("/profiles/" + profile.field("id") + "/withdraw", null);
        tender.until("/profiles/" + profile.field("id"), r -> r.field("state").equals("withdrawn"));
        removed("/people/mara");
        assertThat(tender.get("/people").json().path("items")).isEmpty();
        assertThat(tender.get("/search?text=mara").text()).doesNotContain("\"person\"");
        assertThat(tender.get("/profiles/" + profile.field("id")).text())
                .as("who had it is still known")
                .contains("Person mara");
        removed("/teams/masters");

        tender.addPerson("mara", "tablet");
        assertThat(tender.get("/people/mara").json().path("devices")).hasSize(1);
        assertThat(tender.get("/journal?limit=50").text()).contains("person-removed", "device-removed", "team-removed");
    }

    @Test
    void aGatewayThatIsRemovedIsLeftAloneAndItsNameIsFree() throws Exception {
        tender.post(gateway + "/monitors", Map.of());
        refused("/sites/" + site(), "pier2");

        removed(gateway);
        assertThat(tender.get("/gateways").json().path("items")).isEmpty();
        assertThat(tender.get(gateway).status()).isEqualTo(404);
        assertThat(tender.get("/monitors").json().path("items")).isEmpty();
        tender.until("/findings", r -> r.json().path("items").isEmpty());
        assertThat(tender.get("/overview").status()).isEqualTo(200);
        String again = tender.addRouter(office);
        assertThat(again).isNotEqualTo(gateway.replaceAll(".*/", ""));

        removed("/gateways/" + again);
        removed("/sites/" + site());
        assertThat(tender.get("/sites").json().path("items")).isEmpty();
    }

    /** A device that is gone for good keeps nobody from tidying up. */
    @Test
    void whatCouldNotBeWithdrawnAtADeadDeviceCountsAsWithdrawnOnceItIsRemoved() throws Exception {
        Reply profile = tender.issue("mara", "phone");
        office.router().faults().reloadFails = true;
        tender.post("/profiles/" + profile.field("id") + "/withdraw", null);
        assertThat(tender.get("/profiles/" + profile.field("id")).field("state"))
                .isNotEqualTo("withdrawn");
        refused("/people/mara", "mara-phone-pier2");

        removed(gateway);

        assertThat(tender.get("/profiles/" + profile.field("id")).field("state"))
                .isEqualTo("withdrawn");
        removed("/people/mara");
    }

    private String site() {
        return tender.get("/sites/named/pier-two").field("id");
    }

    @Test
    void whatWasMistypedIsCorrected() {
        String site = "/sites/" + site();
        Reply named = tender.get("/sites/named/pier-two");
        assertThat(named.status()).isEqualTo(200);
        Reply device = tender.post("/people/mara/devices/phone", Map.of("system", "Android 16", "kind", "tablet"));
        assertThat(device.field("system")).as(device.text()).isEqualTo("Android 16");
        assertThat(tender.get("/people/mara").text()).contains("Android 16", "tablet");
        assertThat(tender.post("/people/mara/devices/boat", Map.of("system", "x"))
                        .status())
                .isEqualTo(404);
        assertThat(tender.post("/people/mara/devices/phone", Map.of("kind", "boat"))
                        .status())
                .isEqualTo(400);
        assertThat(tender.get(site + "/removal").json().path("obstacles")).isNotEmpty();
        assertThat(tender.delete("/device-descriptions/plain-router").text()).contains("ships with Tender");
    }
}
