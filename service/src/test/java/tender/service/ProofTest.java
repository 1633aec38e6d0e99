package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** What a trial showed, for which revision that counts, and for which profile. */
class ProofTest {
    private static final String LABEL = "mara-phone-pier2";

    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.101.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        gateway = "/gateways/" + tender.addRouter(office);
        tender.addPerson("mara", "phone");
        tender.issue("mara", "phone");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private JsonNode profile() {
        return tender.get("/profiles/labelled/" + LABEL).json();
    }

    private String proof() {
        return profile().path("proof").path("state").asText();
    }

    private Reply ofListener() {
        Reply started = tender.post("/trials", Map.of("gateway", "pier2", "listener", "wg0"));
        assertThat(started.status()).as(started.text()).isEqualTo(202);
        return tender.until(
                "/trials/" + started.field("id"), r -> r.field("state").equals("ended"));
    }

    private Reply handedOut() {
        return tender.post("/handouts", Map.of("profile", LABEL));
    }

    private Reply collected(Reply prepared) {
        URI page = URI.create(prepared.field("link"));
        return tender.send(
                "POST",
                URI.create("http://" + page.getAuthority() + "/collect"),
                Map.of("token", page.getFragment(), "passphrase", prepared.field("passphrase")),
                Map.of());
    }

    private Reply told(String file, Map<String, Object> asked, List<Map<String, Object>> rungs) throws Exception {
        String digest = HexFormat.of()
                .formatHex(MessageDigest.getInstance("SHA-256").digest(file.getBytes(StandardCharsets.UTF_8)));
        Reply told = tender.post("/trials/reported", Map.of("digest", digest, "asked", asked, "rungs", rungs));
        assertThat(told.status()).as(told.text()).isEqualTo(200);
        return tender.get("/trials/" + told.field("trialId"));
    }

    private static Map<String, Object> rung(String name, String verdict) {
        return Map.of("rung", name, "meaning", "", "verdict", verdict, "millis", 3, "detail", "", "causes", List.of());
    }

    @Test
    void aCanaryCallsWhatItsListenerIsCalledNow() {
        Reply before = ofListener();
        assertThat(before.json().path("proven").asBoolean()).as(before.text()).isTrue();
        assertThat(before.field("restsOn")).isEqualTo("a canary, canary-pier2-wg0");
        assertThat(before.field("subject")).isEqualTo("pier2 wg0");
        assertThat(before.field("result")).isEqualTo("connects; reaches 10.20.4.20");

        tender.patch(gateway, Map.of("endpoint", "nowhere.skerrivane.example"));
        Reply moved = ofListener();

        assertThat(moved.json().path("proven").asBoolean()).as(moved.text()).isFalse();
        assertThat(moved.field("verdict")).isEqualTo("not proven");
        assertThat(moved.field("result")).isEqualTo("does not connect: it fails at name");
        assertThat(moved.text()).contains("nowhere.skerrivane.example");
        int revisions = tender.get("/profiles/labelled/canary-pier2-wg0")
                .json()
                .path("revision")
                .asInt();
        ofListener();
        assertThat(tender.get("/profiles/labelled/canary-pier2-wg0")
                        .json()
                        .path("revision")
                        .asInt())
                .as("a file that still fits is not made again")
                .isEqualTo(revisions);
    }

    @Test
    void whatWasProvenAndHandedOutCountsForItsOwnRevision() {
        assertThat(tender.trial(LABEL).json().path("proven").asBoolean()).isTrue();
        collected(handedOut());
        assertThat(proof()).isEqualTo("proven");
        assertThat(profile().path("handout").asText()).isEqualTo("collected");
        JsonNode before = tender.get("/overview").json();

        tender.post("/profiles/" + profile().path("id").asText() + "/renew", Map.of());

        assertThat(proof()).isEqualTo("unknown");
        assertThat(profile().path("proof").path("restsOn").asText())
                .isEqualTo("revision 1 was proven, revision 2 is not yet");
        assertThat(profile().path("handout").isNull()).as("nobody has it").isTrue();
        assertThat(tender.get("/overview").json().toString()).isNotEqualTo(before.toString());
        tender.trial(LABEL);
        assertThat(proof()).isEqualTo("proven");
        assertThat(profile().path("handout").isNull()).isTrue();
        handedOut();
        assertThat(profile().path("handout").asText()).isEqualTo("prepared");
    }

    @Test
    void aHostThatSomebodyAskedForSaysNothingOfTheProfile() throws Exception {
        tender.trial(LABEL);
        String file = collected(handedOut()).field("file");

        Reply asked = told(
                file,
                Map.of("insideHost", "203.0.113.8"),
                List.of(rung("handshake", "ok"), rung("tunnel address", "ok"), rung("inside host", "fails")));

        assertThat(asked.json().path("proven").asBoolean()).isFalse();
        assertThat(asked.field("result")).isEqualTo("connects; does not reach 203.0.113.8");
        assertThat(asked.json().path("claims").findValuesAsText("shown")).containsExactly("true", "false");
        assertThat(proof()).isEqualTo("proven");

        tender.patch(gateway, Map.of("insideHost", "203.0.113.8"));
        told(
                file,
                Map.of("insideHost", "203.0.113.8"),
                List.of(rung("handshake", "ok"), rung("tunnel address", "ok"), rung("inside host", "fails")));
        assertThat(proof()).as("the host that the records name").isEqualTo("failing");
        told(file, Map.of(), List.of(rung("handshake", "ok"), rung("tunnel address", "ok")));
        assertThat(proof()).isEqualTo("proven");
        told(file, Map.of(), List.of(rung("handshake", "fails")));
        assertThat(proof()).isEqualTo("failing");
    }

    @Test
    void whatWasAskedForAndNotShownIsNotProven() {
        tender.patch(gateway, Map.of("insideHost", "10.20.4.77"));

        Reply host = tender.trial(LABEL);

        assertThat(host.json().path("proven").asBoolean()).as(host.text()).isFalse();
        assertThat(host.field("result")).isEqualTo("connects; does not reach 10.20.4.77");
        assertThat(proof()).isEqualTo("failing");
    }
}
