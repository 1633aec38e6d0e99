package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.certificate.CertificateFacts;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.RevocationFacts;
import tender.service.RunningService.Reply;
import tender.standins.firewall.Firewall;
import tender.standins.firewall.FirewallFolder;
import tender.store.testing.TestDatabase;

/** Profiles that a person types in: IKEv2 by certificate, PPTP by account; their sheets, and what is handed out. */
class SettingsTest {
    private static final String ADDRESS = "127.14.0.1";
    private static final String TOKEN = "settings-api-token";

    @TempDir
    static Path folder;

    private static TestDatabase database;
    private static RunningService tender;
    private static Firewall firewall;

    @BeforeAll
    static void open() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(
                database, folder.resolve("data"), null, Map.of("TENDER_CALLABLE_LOCAL", "127.14.0.0/16"));
        FirewallFolder.layOut(folder.resolve("fw"), ADDRESS, Instant.now());
        firewall = Firewall.start(new Firewall.Place(folder.resolve("fw"), ADDRESS, 0, TOKEN));
        tender.post("/sites", Map.of("name", "port-orrin", "networks", Map.of("office", "10.20.0.0/24")));
        Reply added = tender.post(
                "/gateways",
                Map.of(
                        "name",
                        "orrin-fw",
                        "site",
                        "port-orrin",
                        "kind",
                        "firewall",
                        "connector",
                        "https",
                        "address",
                        ADDRESS,
                        "port",
                        firewall.port(),
                        "user",
                        "api",
                        "key",
                        TOKEN));
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        String path = "/gateways/" + added.field("id");
        tender.post(path + "/accept", Map.of("identity", tender.get(path).field("identity")));
        tender.until(path, r -> !r.field("readAt").equals("null"));
        Reply named = tender.patch(path, Map.of("endpoint", "orrin.skerrivane.example"));
        assertThat(named.status()).as(named.text()).isEqualTo(200);
        tender.post("/authorities", Map.of("name", "skerrivane"));
        tender.post("/people", Map.of("handle", "mara", "name", "Mara Quillfeather"));
        for (String[] device : new String[][] {
            {"phone", "phone", "iOS 17"}, {"laptop", "laptop", "Debian 12"}, {"old", "laptop", "Windows 7"}
        }) {
            tender.post("/people/mara/devices", Map.of("name", device[0], "kind", device[1], "system", device[2]));
        }
    }

    @AfterAll
    static void close() throws Exception {
        tender.close();
        firewall.close();
        database.close();
    }

    private static Reply issue(String device, String listener, Map<String, Object> more) {
        Map<String, Object> request =
                new HashMap<>(Map.of("person", "mara", "device", device, "gateway", "orrin-fw", "listener", listener));
        request.putAll(more);
        return tender.post("/profiles", request);
    }

    private static JsonNode collected(String profile) {
        return collected(Map.of("profile", profile, "override", "the name is entered tonight"));
    }

    private static JsonNode collected(Map<String, Object> order) {
        return collected(order, "fr, en;q=0.3");
    }

    private static JsonNode collected(Map<String, Object> order, String acceptLanguage) {
        Reply prepared = tender.post("/handouts", order);
        assertThat(prepared.status()).as(prepared.text()).isEqualTo(201);
        String link = prepared.field("link");
        Reply got = tender.send(
                "POST",
                URI.create(tender.service.staffUrl() + "/collect"),
                Map.of(
                        "token", link.substring(link.indexOf("/#") + 2),
                        "passphrase", prepared.field("passphrase")),
                Map.of("Accept-Language", acceptLanguage));
        assertThat(got.status()).as(got.text()).isEqualTo(200);
        ((com.fasterxml.jackson.databind.node.ObjectNode) got.json()).put("told", prepared.field("passphrase"));
        return got.json();
    }

    private static byte[] part(JsonNode collected, String ending) {
        for (JsonNode part : collected.path("parts")) {
            if (part.path("name").asText().endsWith(ending)) {
                return Base64.getDecoder().decode(part.path("content").asText());
            }
        }
        throw new AssertionError("no part " + ending);
    }

    @Test
    void aPhoneGetsASheetAndAKeyStoreThatItsPassphraseOpens() {
        assertThat(issue("phone", "phones", Map.of()).text())
                .as("the firewall does not tell which authority it believes")
                .contains("--authority");
        Reply issued = issue("phone", "phones", Map.of("authority", "skerrivane"));
        assertThat(issued.status()).as(issued.text()).isEqualTo(202);
        String id = issued.json().path("profile").path("id").asText();
        assertThat(issued.json().path("profile").path("state").asText()).isEqualTo("ready");

        String sheet = tender.get("/profiles/" + id + "/settings").text();
        assertThat(sheet).contains("orrin.skerrivane.example", "old.skerrivane.example", "IKEv2", "iPhone");
        byte[] pdf = tender.get("/profiles/" + id + "/settings?form=pdf").raw().body();
        assertThat(new String(pdf, 0, 5, StandardCharsets.US_ASCII)).isEqualTo("%PDF-");
        assertThat(tender.get("/profiles/" + id + "/settings?platform=linux").text())
                .contains("/etc/swanctl");
        assertThat(tender.get("/profiles/" + id + "/settings?form=spoken").status())
                .isEqualTo(400);

        JsonNode got = collected("mara-phone-orrin-fw");
        assertThat(got.path("file").asText()).isEqualTo(sheet);
        assertThat(got.path("qr").isNull()).isTrue();
        KeyStoreFile.Opened opened = KeyStoreFile.of(part(got, ".p12"))
                .open(got.path("told").asText())
                .orElseThrow();
        assertThat(CertificateFacts.of(opened.certificates().get(0)).commonName())
                .isEqualTo("mara-phone-orrin-fw");
        assertThat(opened.key()).isPresent();
        JsonNode old = collected(
                Map.of("profile", "mara-phone-orrin-fw", "legacy", true, "override", "the name is entered tonight"));
        KeyStoreFile weak = KeyStoreFile.of(part(old, ".p12"));
        assertThat(weak.isLegacy()).as("for systems from before about 2019").isTrue();
        assertThat(weak.open(old.path("told").asText())).isPresent();
        assertThat(KeyStoreFile.of(part(got, ".p12")).isLegacy()).isFalse();
        assertThat(sheet + new String(pdf, StandardCharsets.ISO_8859_1))
                .doesNotContain("PRIVATE KEY", got.path("told").asText());

        Reply inside = tender.get("/profiles/" + id + "/inside");
        assertThat(inside.json().path("lines").toString())
                .contains("remote_addrs = orrin.skerrivane.example", "BEGIN PRIVATE KEY", "(kept back)");
        assertThat(inside.json().path("words").toString()).contains("connects to");
        assertThat(tender.get("/profiles/" + id + "/inside?revision=7").status())
                .isEqualTo(404);

        Reply renewed = tender.post("/profiles/" + id + "/renew", null);
        assertThat(renewed.field("revision")).as(renewed.text()).isEqualTo("2");
        Reply withdrawn = tender.post("/profiles/" + id + "/withdraw", null);
        assertThat(withdrawn.json().path("profile").path("state").asText())
                .as(withdrawn.text())
                .isEqualTo("closing");
        Reply list = tender.send(
                "GET", URI.create(tender.service.staffUrl() + "/revocations/skerrivane.crl"), null, Map.of());
        assertThat(RevocationFacts.of(list.raw().body()).serials()).hasSize(1);
    }

    @Test
    void aLinuxMachineGetsItsFolders() {
        Reply issued = issue("laptop", "phones", Map.of("authority", "skerrivane"));
        assertThat(issued.status()).as(issued.text()).isEqualTo(202);

        JsonNode got = collected("mara-laptop-orrin-fw");

        assertThat(got.path("parts").findValuesAsText("name"))
                .contains("conf.d/mara-la-orr-r1.conf", "private/mara-la-orr-r1.pem");
        assertThat(new String(part(got, "conf.d/mara-la-orr-r1.conf"), StandardCharsets.UTF_8))
                .contains("remote_addrs = orrin.skerrivane.example", "certs = mara-laptop-orrin-fw.pem");
        assertThat(List.of(
                        new String(part(got, "x509/mara-laptop-orrin-fw.pem"), StandardCharsets.US_ASCII),
                        new String(part(got, "x509ca/orrin-fw-authority.pem"), StandardCharsets.US_ASCII)))
                .allMatch(pem -> pem.startsWith("-----BEGIN CERTIFICATE"));
    }

    @Test
    void aBrokenKindIsHandedOutOnlyWithAReasonThatTheJournalKeeps() {
        assertThat(issue("old", "old-laptops", Map.of()).text()).contains("--reason");

        Reply issued = issue(
                "old", "old-laptops", Map.of("reason", "the scale at the pier knows nothing else", "account", "scale"));

        assertThat(issued.status()).as(issued.text()).isEqualTo(202);
        JsonNode got = collected("mara-old-orrin-fw");
        assertThat(got.path("file").asText()).contains("PPTP is broken", "scale", "the password of your account");
        assertThat(tender.get("/journal?limit=50").text()).contains("the scale at the pier knows nothing else");
    }

    @Test
    void whoeverCollectsReadsTheirBrowsersLanguageUnlessTheyAreSetToAnother() {
        tender.post("/people", Map.of("handle", "ilse", "name", "Ilse Brandt"));
        tender.post("/people/ilse/devices", Map.of("name", "mac", "kind", "laptop", "system", "macOS 14"));
        Reply issued = issue("mac", "old-laptops", Map.of("person", "ilse", "reason", "a test", "account", "ilse"));
        assertThat(issued.status()).as(issued.text()).isEqualTo(202);
        Map<String, Object> order = Map.of("profile", "ilse-mac-orrin-fw", "override", "a test");

        JsonNode german = collected(order, "de-CH, en;q=0.3");
        assertThat(german.path("language").asText()).isEqualTo("de");
        assertThat(german.path("title").asText()).isEqualTo("Ilse Brandt: mac zu orrin-fw");
        assertThat(german.path("steps").toString()).contains("Speichern Sie alle Dateien");
        assertThat(german.path("file").asText()).contains("Serveradresse", "PPTP ist gebrochen");
        assertThat(new String(part(german, ".html"), StandardCharsets.UTF_8)).contains("<html lang=\"de\">");
        JsonNode french = collected(order, "fr");
        assertThat(french.path("steps").toString()).as("no French yet").contains("Save every file");

        assertThat(tender.patch("/people/ilse", Map.of("language", "fr")).text())
                .contains("de, en");
        assertThat(tender.patch("/people/ilse", Map.of("language", "en")).field("language"))
                .isEqualTo("en");
        JsonNode set = collected(order, "de");
        assertThat(set.path("language").asText()).isEqualTo("en");
        assertThat(set.path("file").asText()).contains("server address");
        assertThat(tender.patch("/people/ilse", Map.of("language", "")).field("language"))
                .isEqualTo("null");

        URI page = URI.create(tender.service.staffUrl() + "/");
        Reply shown = tender.send("GET", page, null, Map.of("Accept-Language", "de"));
        assertThat(shown.text())
                .contains("<html lang=\"de\">", "<title>Verbindung abholen</title>", "\"heading\":\"Ihre Verbindung")
                .doesNotContain("{texts}", "{title}", "{language}", "{needs-javascript}");
        assertThat(shown.raw().headers().firstValue("Vary")).hasValue("Accept-Language");
        assertThat(tender.send("GET", page, null, Map.of()).text()).contains("<html lang=\"en\">");
        String sheet = "/profiles/" + issued.json().path("profile").path("id").asText() + "/settings?language=";
        assertThat(tender.get(sheet + "de").text()).contains("Benutzername");
        assertThat(tender.get(sheet + "fr").status()).isEqualTo(400);
    }
}
