package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
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
import tender.core.certificate.CertificateFacts.Role;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.certificate.RevocationFacts;
import tender.service.RunningService.Reply;
import tender.store.testing.TestDatabase;

/** Authorities, what they sign and revoke, and files that a gateway made itself, through the API. */
class CertificatesTest {
    private static final Path CORPUS = Path.of("../core/src/test/resources/corpus");

    @TempDir
    static Path folder;

    private static TestDatabase database;
    private static RunningService tender;

    @BeforeAll
    static void open() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder, null, Map.of());
    }

    @AfterAll
    static void close() throws Exception {
        tender.close();
        database.close();
    }

    private static JsonNode made(String name) {
        Reply made = tender.post(
                "/authorities", Map.of("name", name, "publishesAt", "http://revoked.example/" + name + ".crl"));
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        return made.json();
    }

    private static CertificateFacts first(String pem) {
        return CertificateFacts.of(PemText.read(pem).blocks().get(0).der());
    }

    @Test
    void anAuthoritySignsAndRevokesAndItsListIsThereForAnyone() {
        JsonNode authority = made("harbour");
        String path = "/authorities/" + authority.path("id").asText();
        Map<String, Object> order = Map.of(
                "purpose", "client", "commonName", "Mara Quillfeather", "days", 90, "passphrase", "harbour-lights");

        Reply signed = tender.post(path + "/certificates", order);

        assertThat(signed.status()).as(signed.text()).isEqualTo(201);
        CertificateFacts facts = first(signed.field("pem"));
        assertThat(facts.role()).isEqualTo(Role.CLIENT);
        assertThat(facts.commonName()).isEqualTo("Mara Quillfeather");
        KeyStoreFile.Opened opened = KeyStoreFile.of(Base64.getDecoder().decode(signed.field("keyStore")))
                .open("harbour-lights")
                .orElseThrow();
        assertThat(opened.key().orElseThrow().digest()).isEqualTo(facts.key().digest());

        Reply revoked = tender.post("/certificates/" + facts.serial() + "/revoke", Map.of("reason", "key-compromise"));
        assertThat(revoked.field("state")).isEqualTo("revoked");
        assertThat(tender.post("/certificates/" + facts.serial() + "/revoke", null)
                        .status())
                .isEqualTo(409);
        Reply list =
                tender.send("GET", URI.create(tender.service.staffUrl() + "/revocations/harbour.crl"), null, Map.of());
        RevocationFacts told = RevocationFacts.of(list.raw().body());
        assertThat(told.serials()).containsExactly(facts.serial());
        assertThat(told.namesKey()).isTrue();
        assertThat(told.next().orElseThrow()).isAfter(Instant.now().plusSeconds(20L * 86_400));
        assertThat(tender.send("GET", URI.create(tender.service.staffUrl() + "/revocations/nobody.crl"), null, Map.of())
                        .status())
                .isEqualTo(404);
    }

    @Test
    void aRequestMadeOnTheDeviceIsSignedAndAForgedOneIsNot() throws Exception {
        String path = "/authorities/" + made("requests").path("id").asText() + "/certificates";
        String request = Files.readString(CORPUS.resolve("pem/mara.csr"));

        Reply signed = tender.post(path, Map.of("purpose", "client", "commonName", "mara-laptop", "request", request));

        assertThat(signed.field("keyStore")).isEqualTo("null");
        assertThat(signed.json().path("certificate").path("custody").asText()).isEqualTo("device-only");
        byte[] der = PemText.read(request).blocks().get(0).der();
        der[der.length - 3] ^= 1;
        Reply forged = tender.post(
                path,
                Map.of("purpose", "client", "commonName", "x", "request", PemText.write("CERTIFICATE REQUEST", der)));
        assertThat(forged.status()).isEqualTo(400);
        assertThat(forged.text()).contains("not by its key");
    }

    @Test
    void whatIsAskedWronglyIsSaid() throws Exception {
        String id =
                tender.post("/authorities", Map.of("name", "wrong", "years", 1)).field("id");
        String path = "/authorities/" + id + "/certificates";
        assertThat(tender.post(path, Map.of("purpose", "client", "commonName", "x", "passphrase", "short"))
                        .text())
                .contains("8 characters");
        assertThat(tender.post(path, Map.of("purpose", "server", "commonName", "x", "passphrase", "long enough"))
                        .status())
                .as("a server without a name")
                .isEqualTo(400);
        assertThat(tender.post(
                                path,
                                Map.of(
                                        "purpose",
                                        "client",
                                        "commonName",
                                        "x",
                                        "passphrase",
                                        "long enough",
                                        "days",
                                        500))
                        .status())
                .as("it would outlive its authority")
                .isEqualTo(409);
        assertThat(tender.post("/authorities", Map.of("name", "wrong")).status())
                .isEqualTo(409);
        Reply notOne = tender.post(
                "/authorities/taken-in",
                Map.of(
                        "name", "stolen",
                        "certificate", Files.readString(CORPUS.resolve("pem/mara.crt")),
                        "key", Files.readString(CORPUS.resolve("pem/mara-and-key.pem"))));
        assertThat(notOne.text()).contains("may sign no others");
    }

    @Test
    void aFileThatAGatewayMadeIsMatchedMendedAndKept() throws Exception {
        String text = Files.readString(CORPUS.resolve("openvpn/placeholder.ovpn"));
        tender.post("/sites", Map.of("name", "port-orrin", "timeZone", "Europe/Oslo", "networks", Map.of()));
        Reply gateway = tender.post(
                "/gateways",
                Map.of(
                        "name",
                        "old-device",
                        "site",
                        "port-orrin",
                        "kind",
                        "router",
                        "connector",
                        "file",
                        "description",
                        "linux-openvpn"));
        String id = gateway.field("id");
        Reply dropped = tender.post(
                "/gateways/" + id + "/dropped",
                Map.of(
                        "files",
                        Map.of(
                                "/etc/openvpn/server/staff.conf",
                                "port 1195\nproto udp\ndev tun\nserver 10.99.2.0 255.255.255.0\nauth SHA256\ndata-ciphers AES-256-GCM\n")));
        tender.until("/jobs/" + dropped.field("id"), r -> r.field("state").equals("done"));
        Map<String, Object> said = new HashMap<>();
        said.put("endpoint", "orrin.skerrivane.example");
        tender.patch("/gateways/" + id, said);
        tender.addPerson("mara", "laptop", "phone");
        Map<String, Object> order = new HashMap<>(Map.of(
                "name",
                "from-the-device.ovpn",
                "content",
                Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8))));

        Reply asked = tender.post("/gateways/" + id + "/imports", order);
        assertThat(asked.json().path("files").get(0).path("state").asText())
                .as("Mara has two devices: " + asked.text())
                .isEqualTo("asked");

        order.put("assign", Map.of("from-the-device.ovpn", "mara/laptop"));
        Reply imported = tender.post("/gateways/" + id + "/imports", order);
        JsonNode file = imported.json().path("files").get(0);
        assertThat(file.path("state").asText()).as(imported.text()).isEqualTo("imported");
        assertThat(file.path("repairs").findValuesAsText("rule")).containsExactly("endpoint");
        Reply profile = tender.get("/profiles/labelled/mara-laptop-old-device");
        assertThat(profile.field("origin")).isEqualTo("exported");
        assertThat(profile.json().path("revisions")).hasSize(2);

        Reply again = tender.post("/gateways/" + id + "/imports", order);
        assertThat(again.json().path("files").get(0).path("state").asText()).isEqualTo("present");
        order.put("assign", Map.of("from-the-device.ovpn", "mara/phone"));
        Reply shared = tender.post("/gateways/" + id + "/imports", order);
        assertThat(shared.json().path("files").get(0).path("why").asText()).contains("every device has its own");
        assertThat(List.of(imported, again, shared)).noneMatch(r -> r.text().contains("PRIVATE KEY"));
    }

    @Test
    void aDangerousFileIsHeldBackUntilSomebodyDecides() throws Exception {
        tender.post("/sites", Map.of("name", "pier-two", "timeZone", "Europe/Oslo", "networks", Map.of()));
        String id = tender.post(
                        "/gateways",
                        Map.of(
                                "name",
                                "device-two",
                                "site",
                                "pier-two",
                                "kind",
                                "router",
                                "connector",
                                "file",
                                "description",
                                "linux-openvpn"))
                .field("id");
        Reply dropped = tender.post(
                "/gateways/" + id + "/dropped",
                Map.of(
                        "files",
                        Map.of(
                                "/etc/openvpn/server/staff.conf",
                                "port 1195\ndev tun\nserver 10.99.3.0 255.255.255.0\n")));
        tender.until("/jobs/" + dropped.field("id"), r -> r.field("state").equals("done"));
        tender.addPerson("joss", "tablet");
        byte[] content = Files.readAllBytes(CORPUS.resolve("openvpn/runs-program.ovpn"));
        Map<String, Object> order = new HashMap<>(Map.of(
                "name", "joss-tablet.ovpn", "content", Base64.getEncoder().encodeToString(content)));

        assertThat(tender.post("/gateways/" + id + "/imports", order)
                        .json()
                        .path("files")
                        .get(0)
                        .path("state")
                        .asText())
                .isEqualTo("held-back");
        order.put("decision", "the script only sets the wallpaper");
        order.put("dryRun", true);
        JsonNode tried = tender.post("/gateways/" + id + "/imports", order)
                .json()
                .path("files")
                .get(0);
        assertThat(tried.path("state").asText()).isEqualTo("imported");
        assertThat(tried.path("matchedBy").asText()).isEqualTo("file name");
        assertThat(tender.get("/profiles/labelled/joss-tablet-device-two").status())
                .as("a dry run keeps nothing")
                .isEqualTo(404);
    }
}
