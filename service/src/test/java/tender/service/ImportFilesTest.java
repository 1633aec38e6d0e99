package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.exported.ExportedFiles;
import tender.store.testing.TestDatabase;

/** An office that nobody entered, from the client files that its devices exported. */
class ImportFilesTest {
    @TempDir
    Path folder;

    private final ExportedFiles exported = new ExportedFiles(Instant.now(), ExportedFiles.PLACES);
    private TestDatabase database;
    private RunningService tender;

    @BeforeEach
    void open() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), null, Map.of());
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
    }

    private static List<Map<String, String>> sent(Map<String, byte[]> files) {
        List<Map<String, String>> out = new ArrayList<>();
        new TreeMap<>(files)
                .forEach((name, content) -> out.add(
                        Map.of("name", name, "content", Base64.getEncoder().encodeToString(content))));
        return out;
    }

    private JsonNode imported(Map<String, byte[]> files, Map<String, Object> more) {
        Map<String, Object> body = new HashMap<>(more);
        body.put("files", sent(files));
        Reply reply = tender.post("/imports", body);
        assertThat(reply.status()).as(reply.text()).isEqualTo(200);
        return reply.json();
    }

    private static Map<String, String> states(JsonNode done) {
        Map<String, String> out = new TreeMap<>();
        done.path("files")
                .forEach(f -> out.put(
                        f.path("file").path("path").asText(),
                        f.path("file").path("state").asText() + " "
                                + f.path("gateway").asText() + " "
                                + f.path("file").path("person").asText() + "/"
                                + f.path("file").path("device").asText()));
        return out;
    }

    private static final Map<String, String> EXPECTED = new TreeMap<>(Map.ofEntries(
            Map.entry("ana-torres-laptop.ovpn", "imported orrin ana-torres/laptop"),
            Map.entry("ana-torres-phone.conf", "imported pier2 ana-torres/phone"),
            Map.entry("client-2.ovpn", "imported orrin bo-lind/laptop"),
            Map.entry("cleo.zip/cleo/orrin.ovpn", "imported orrin cleo/laptop"),
            Map.entry("finn.ovpn", "imported slip finn/laptop"),
            Map.entry("gia.conf", "imported pier2 gia/laptop"),
            Map.entry("hal-phone.conf", "imported pier2 hal/phone"),
            Map.entry("ivo-laptop.conf", "imported gateway-4 ivo/laptop"),
            Map.entry("ivo-phone.conf", "refused gateway-4 ivo/phone"),
            Map.entry("nas-export.zip/dag/office.ovpn", "imported slip dag/laptop"),
            Map.entry("nas-export.zip/eli/office.ovpn", "imported slip eli/laptop")));

    @Test
    void whatATrialElsewhereSawIsKnownUnlessItIsNoSetting() {
        imported(Map.of("client-2.ovpn", exported.files().get("client-2.ovpn")), Map.of());
        JsonNode profile = tender.get("/profiles").json().at("/items/0");
        String digest = tender.get("/profiles/" + profile.path("id").asText())
                .json()
                .at("/revisions/0/digest")
                .asText();
        Map<String, Object> rung =
                Map.of("rung", "port", "meaning", "", "verdict", "ok", "millis", 3, "detail", "", "causes", List.of());
        Reply told = tender.post(
                "/trials/reported",
                Map.of(
                        "digest",
                        digest,
                        "rungs",
                        List.of(rung),
                        "observed",
                        Map.of(
                                "dns", "10.20.0.53",
                                "certificate-expires", "yesterday",
                                "public-key", "not seen by any trial",
                                "colour", "blue")));
        assertThat(told.status()).as(told.text()).isEqualTo(200);

        String gateway = tender.get("/gateways").json().at("/items/0/id").asText();
        Map<String, String> known = new TreeMap<>();
        tender.get("/gateways/" + gateway + "/facts")
                .json()
                .at("/listeners/0/settings")
                .forEach(s -> s.path("knownFrom")
                        .forEach(k -> known.merge(
                                s.path("setting").asText(), k.path("source").asText(), (a, b) -> a + "," + b)));
        assertThat(known).containsEntry("dns", "trial").doesNotContainKeys("certificate-expires", "public-key");
    }

    @Test
    void fourteenFilesBecomeAnOfficeAndThenAreThere() {
        JsonNode proposed = imported(exported.files(), Map.of("dryRun", true));

        assertThat(states(proposed)).isEqualTo(EXPECTED);
        assertThat(tender.get("/gateways").json().path("items"))
                .as("only proposed")
                .isEmpty();
        assertThat(tender.get("/people").json().path("items")).isEmpty();

        JsonNode done = imported(exported.files(), Map.of());

        assertThat(states(done)).isEqualTo(EXPECTED);
        assertThat(done.path("imported").asInt()).isEqualTo(10);
        JsonNode gateways = tender.get("/gateways").json().path("items");
        assertThat(gateways).hasSize(4);
        assertThat(tender.get("/people").json().path("items")).hasSize(9);
        database.expect("select count(*) from device", 11);
        database.expect("select count(*) from listener", 4);
        database.expect("select count(*) from imported_archive", 10);
        assertThat(new TreeSet<>(proposed.path("others").findValuesAsText("path")))
                .containsExactly("notes.txt", "orrin-ca.crt", "orrin-revoked.crl", "readme.txt");

        JsonNode again = imported(exported.files(), Map.of());

        assertThat(again.path("imported").asInt()).isZero();
        assertThat(again.path("present").asInt()).isEqualTo(10);
        assertThat(tender.get("/gateways").json().path("items")).hasSize(4);
        database.expect("select count(*) from device", 11);
    }

    @Test
    void whatTheFilesSayIsWhatIsKnownOfTheirGateways() {
        imported(exported.files(), Map.of());

        JsonNode orrin = tender.get("/gateways/named/orrin").json();
        assertThat(orrin.path("connector").asText()).isEqualTo("manual");
        JsonNode facts =
                tender.get("/gateways/" + orrin.path("id").asText() + "/facts").json();
        JsonNode listener = facts.path("listeners").get(0);
        assertThat(listener.toString())
                .contains("openvpn", "1194", "10.20.0.0/24", "AES-256-GCM")
                .contains("crypt");
        assertThat(tender.get("/sites/named/orrin").json().path("networks").toString())
                .contains("10.20.0.0/24");
        tender.until(
                "/findings",
                r -> r.text().contains("endpoint-private") && r.text().contains("gateway-4"));
        assertThat(tender.get("/findings").text())
                .as("nothing is there to be read")
                .doesNotContain("not-read");
        assertThat(tender.post("/gateways/" + orrin.path("id").asText() + "/read", null)
                        .status())
                .isEqualTo(409);
    }

    @Test
    void aPlaceholderIsRepairedWithTheAddressThatTheOthersCall() {
        JsonNode done = imported(exported.files(), Map.of());

        for (JsonNode f : done.path("files")) {
            if (f.path("file").path("path").asText().equals("finn.ovpn")) {
                assertThat(f.path("file").path("repairs").toString())
                        .contains("PUT_NAME_HERE", "nas.slip.skerrivane.example 443");
                return;
            }
        }
        throw new AssertionError("finn's file is missing");
    }

    @Test
    void correctionsChangeWhatIsCreated() {
        JsonNode done = imported(
                exported.files(),
                Map.of(
                        "corrections",
                        Map.of(
                                "names", Map.of("gateway-4", "pier5"),
                                "sites", Map.of("gateway-4", "pier-five", "pier2", "pier-five"),
                                "kinds", Map.of("orrin", "firewall"),
                                "assign", Map.of("client-2.ovpn", "bo/tablet"),
                                "leaveOut", List.of("ivo-phone.conf"))));

        assertThat(states(done))
                .containsEntry("client-2.ovpn", "imported orrin bo/tablet")
                .containsEntry("ivo-laptop.conf", "imported pier5 ivo/laptop")
                .doesNotContainKey("ivo-phone.conf");
        assertThat(tender.get("/gateways/named/pier5").json().path("site").asText())
                .isEqualTo("pier-five");
        assertThat(tender.get("/gateways/named/orrin").json().path("kind").asText())
                .isEqualTo("firewall");
        assertThat(tender.get("/people/bo")
                        .json()
                        .path("devices")
                        .get(0)
                        .path("kind")
                        .asText())
                .isEqualTo("tablet");
    }

    @Test
    void laterFilesFindTheirGatewayAndNothingIsHalfCreated() {
        Map<String, byte[]> first = new TreeMap<>();
        first.put("gia.conf", exported.files().get("gia.conf"));
        imported(first, Map.of());
        Map<String, byte[]> second = new TreeMap<>();
        second.put("hal-phone.conf", exported.files().get("hal-phone.conf"));

        JsonNode done = imported(second, Map.of());

        assertThat(done.path("gateways").get(0).path("exists").asBoolean()).isTrue();
        assertThat(done.path("imported").asInt()).isEqualTo(1);
        assertThat(tender.get("/gateways").json().path("items")).hasSize(1);
        assertThat(tender.get("/sites").json().path("items").get(0).path("name").asText())
                .as("the only gateway stands in the only site")
                .isEqualTo("office");

        Reply wrong = tender.post(
                "/imports",
                Map.of(
                        "files",
                        sent(Map.of("ana-torres-laptop.ovpn", exported.files().get("ana-torres-laptop.ovpn"))),
                        "corrections",
                        Map.of("names", Map.of("orrin", "Not A Name"))));
        assertThat(wrong.status()).as(wrong.text()).isEqualTo(400);
        assertThat(tender.get("/gateways").json().path("items")).hasSize(1);
        Reply nothing = tender.post("/imports", Map.of("files", sent(Map.of("x.txt", new byte[] {'x'}))));
        assertThat(nothing.status()).isEqualTo(400);
        assertThat(nothing.text()).contains("client file");
    }
}
