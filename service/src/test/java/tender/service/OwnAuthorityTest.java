package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.io.TempDir;
import tender.core.ike.IkeSettings;
import tender.core.network.IpAddress;
import tender.core.profile.IkeProfile;
import tender.core.trial.Cause;
import tender.core.trial.IkeLadder;
import tender.core.trial.IkeQuestion;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Rung;
import tender.io.names.NameService;
import tender.io.trial.IkeTrial;
import tender.service.RunningService.Reply;
import tender.standins.firewall.Firewall;
import tender.standins.firewall.FirewallFolder;
import tender.store.testing.TestDatabase;

/**
 * A firewall's IKEv2 listener from its old certificate to the company's own: what is wrong is found by trials, fixed, and
 * proven; a withdrawn profile is refused; accounts come into being with their profiles.
 */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class OwnAuthorityTest {
    private static final String ADDRESS = "127.14.1.1";
    private static final String TOKEN = "own-authority-token";

    @TempDir
    static Path folder;

    private static TestDatabase database;
    private static RunningService tender;
    private static Firewall firewall;
    private static String gateway;

    @BeforeAll
    static void open() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(
                database, folder.resolve("data"), null, Map.of("TENDER_CALLABLE_LOCAL", "127.14.0.0/16"));
        FirewallFolder.layOut(folder.resolve("fw"), ADDRESS, Instant.now());
        firewall = Firewall.start(new Firewall.Place(folder.resolve("fw"), ADDRESS, 0, TOKEN));
        tender.post("/sites", Map.of("name", "port-orrin", "networks", Map.of("office", "10.20.0.0/24")));
        Map<String, Object> request = new HashMap<>(Map.of(
                "name", "orrin-fw",
                "site", "port-orrin",
                "kind", "firewall",
                "connector", "https",
                "address", ADDRESS,
                "user", "api",
                "key", TOKEN));
        request.put("port", firewall.port());
        gateway = "/gateways/" + tender.post("/gateways", request).field("id");
        tender.post(gateway + "/accept", Map.of("identity", tender.get(gateway).field("identity")));
        tender.until(gateway, r -> !r.field("readAt").equals("null"));
        assertThat(tender.patch(gateway, Map.of("endpoint", ADDRESS, "insideHost", "10.20.0.20"))
                        .status())
                .isEqualTo(200);
        tender.post("/authorities", Map.of("name", "skerrivane"));
        tender.post("/people", Map.of("handle", "mara", "name", "Mara Quillfeather"));
        for (String name : List.of("laptop", "tablet", "old")) {
            tender.post("/people/mara/devices", Map.of("name", name, "kind", "laptop", "system", "Debian 12"));
        }
    }

    @AfterAll
    static void close() throws Exception {
        tender.close();
        firewall.close();
        database.close();
    }

    private static void done(Reply ordered) {
        assertThat(ordered.status()).as(ordered.text()).isEqualTo(202);
        Reply job = tender.until(
                "/jobs/" + ordered.field("jobId"),
                r -> !r.field("state").equals("waiting") && !r.field("state").equals("running"));
        assertThat(job.field("state")).as(job.text()).isEqualTo("done");
    }

    private static String issue(String device, Map<String, Object> more) {
        return issue(device, "phones", more);
    }

    private static String issue(String device, String listener, Map<String, Object> more) {
        Map<String, Object> request =
                new HashMap<>(Map.of("person", "mara", "device", device, "gateway", "orrin-fw", "listener", listener));
        request.putAll(more);
        Reply issued = tender.post("/profiles", request);
        assertThat(issued.status()).as(issued.text()).isEqualTo(202);
        String id = issued.json().path("profile").path("id").asText();
        tender.until("/profiles/" + id, r -> !r.field("state").equals("writing"));
        assertThat(tender.get("/profiles/" + id).field("state")).isEqualTo("ready");
        return id;
    }

    private static JsonNode tried(String label) {
        Reply started = tender.post("/trials", Map.of("profile", label, "measure", true));
        assertThat(started.status()).as(started.text()).isEqualTo(202);
        return tender.until(
                        "/trials/" + started.field("id"),
                        r -> r.field("state").equals("ended")
                                || r.field("state").equals("failed"))
                .json();
    }

    private static String cause(JsonNode trial) {
        for (JsonNode rung : trial.path("rungs")) {
            if (rung.path("verdict").asText().equals("fails")) {
                return rung.path("rung").asText() + ": "
                        + rung.path("causes").path(0).path("code").asText();
            }
        }
        return trial.path("state").asText() + ", " + trial.path("note").asText();
    }

    @Test
    @Order(1)
    void aListenerGetsTheCompanysCertificateForAKeyThatStaysOnTheDevice() {
        Reply facts = tender.get(gateway + "/facts");
        assertThat(facts.text()).contains("old.skerrivane.example");

        done(tender.post(
                gateway + "/certificate",
                Map.of(
                        "listener", "phones",
                        "authority", "skerrivane",
                        "names", List.of("orrin.skerrivane.example"))));

        Reply after = tender.get(gateway + "/facts");
        assertThat(after.text()).doesNotContain("old.skerrivane.example").contains("orrin.skerrivane.example");
        assertThat(tender.get(gateway + "/changes").text())
                .contains("a certificate of")
                .doesNotContain("PRIVATE KEY");
    }

    @Test
    @Order(2)
    void theFiltersOldRuleIsToldByTheTrialAndItsRemovalIsProven() {
        issue("laptop", Map.of());
        assertThat(cause(tried("mara-laptop-orrin-fw"))).isEqualTo("port: path-blocked");

        done(tender.post(gateway + "/changes", Map.of("changes", List.of(Map.of("change", "drop-rule", "number", 3)))));

        JsonNode ends = tender.get("/expiries").json().path("items");
        assertThat(ends.findValuesAsText("what")).contains("mara-laptop-orrin-fw", "orrin-fw phones", "orrin-fw staff");
        assertThat(ends.get(0).path("state").asText()).as("soonest first").isEqualTo("expired");
        assertThat(ends.findValuesAsText("tell")).contains("Mara Quillfeather");
        JsonNode trial = tried("mara-laptop-orrin-fw");
        assertThat(trial.path("proven").asBoolean()).as(trial.toString()).isTrue();
        assertThat(trial.path("measured").path("echoes").asInt()).isEqualTo(20);
        assertThat(trial.path("measured").path("lostPercent").asDouble()).isZero();
        assertThat(trial.path("measured").path("largestPacket").asInt()).isGreaterThan(1_000);
    }

    /** The settings and parts that a Linux machine gets. */
    private static String collected(String label) {
        Reply prepared = tender.post("/handouts", Map.of("profile", label));
        String link = prepared.field("link");
        JsonNode got = tender.send(
                        "POST",
                        URI.create(tender.service.staffUrl() + "/collect"),
                        Map.of(
                                "token", link.substring(link.indexOf("/#") + 2),
                                "passphrase", prepared.field("passphrase")),
                        Map.of())
                .json();
        Map<String, byte[]> parts = new HashMap<>();
        String section = "";
        for (JsonNode part : got.path("parts")) {
            String name = part.path("name").asText();
            byte[] content = Base64.getDecoder().decode(part.path("content").asText());
            if (name.startsWith("conf.d/")) {
                section = new String(content, StandardCharsets.UTF_8);
            }
            parts.put(name.substring(name.indexOf('/') + 1), content);
            if (name.startsWith("private/")) {
                parts.put(name, content);
            }
        }
        Map<String, byte[]> all = new HashMap<>(parts);
        got.path("parts").forEach(p -> {
            String name = p.path("name").asText();
            if (!name.startsWith("private/")) {
                all.put(
                        name.substring(name.indexOf('/') + 1),
                        Base64.getDecoder().decode(p.path("content").asText()));
            }
        });
        return IkeProfile.of(section, all).text();
    }

    private static Ladder triedHere(String text) {
        IkeQuestion question = IkeQuestion.of(
                text,
                IkeSettings.Added.NOTHING,
                Optional.empty(),
                Optional.of(IpAddress.parse("10.20.0.20")),
                Instant.now());
        return IkeLadder.judge(
                question,
                new IkeTrial(
                                question,
                                name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                                MeasurementOptions.NOTHING,
                                rung -> {})
                        .run(),
                Optional.empty());
    }

    @Test
    @Order(3)
    void aWithdrawnProfileIsRefusedOnceTheListIsDelivered() {
        String id = issue("tablet", Map.of());
        String files = collected("mara-tablet-orrin-fw");
        assertThat(triedHere(files).isProven()).isTrue();

        Reply withdrawn = tender.post("/profiles/" + id + "/withdraw", Map.of());
        assertThat(withdrawn.status()).as(withdrawn.text()).isEqualTo(202);
        tender.until("/profiles/" + id, r -> r.field("state").equals("withdrawn"));

        Ladder after = triedHere(files);
        assertThat(after.failure().orElseThrow().rung()).as(after.toString()).isEqualTo(Rung.AUTHENTICATION);
        assertThat(after.failure().orElseThrow().causes())
                .extracting(Cause::code)
                .as("the listener takes passwords too, so that both may be at fault")
                .startsWith("password-wanted", "certificate-revoked");
        assertThat(tender.get(gateway + "/log").text()).contains("certificate revoked");

        // what it was called is free again, and the next one under that label is let in
        String next = issue("tablet", Map.of());
        assertThat(tender.get("/profiles/" + next).field("label")).isEqualTo("mara-tablet-orrin-fw");
        assertThat(tender.get("/profiles/" + id).field("label")).isNotEqualTo("mara-tablet-orrin-fw");
        assertThat(triedHere(collected("mara-tablet-orrin-fw")).isProven()).isTrue();
        assertThat(triedHere(files).isProven()).as("the one withdrawn").isFalse();
        tender.post("/profiles/" + next + "/withdraw", Map.of());
        tender.until("/profiles/" + next, r -> r.field("state").equals("withdrawn"));
    }

    @Test
    @Order(4)
    void anAccountComesIntoBeingWithItsProfileAndGoesWithIt() {
        done(tender.post(
                gateway + "/changes",
                Map.of(
                        "changes",
                        List.of(Map.of(
                                "change",
                                "set-listener",
                                "listener",
                                "phones",
                                "values",
                                Map.of("client-certificate", "no", "accounts", "local"))))));

        String id = issue("old", Map.of("makeAccount", true));

        JsonNode trial = tried("mara-old-orrin-fw");
        assertThat(trial.path("proven").asBoolean()).as(trial.toString()).isTrue();
        assertThat(firewallAccounts()).contains("mara-old-orrin-fw").contains("\"administers\" : false");

        tender.post("/profiles/" + id + "/withdraw", Map.of());
        tender.until("/profiles/" + id, r -> r.field("state").equals("withdrawn"));
        assertThat(firewallAccounts()).doesNotContain("mara-old-orrin-fw");
    }

    @Test
    @Order(5)
    void anOpenVpnProfileBehindAGatewayApiHasItsCertificateAndItsAccountTogether() {
        Reply early = tender.post(
                "/profiles", Map.of("person", "mara", "device", "laptop", "gateway", "orrin-fw", "listener", "staff"));
        assertThat(early.status())
                .as("an authority that is not ours: " + early.text())
                .isEqualTo(409);
        done(tender.post(
                gateway + "/certificate",
                Map.of(
                        "listener", "staff",
                        "authority", "skerrivane",
                        "names", List.of("orrin.skerrivane.example"))));
        done(tender.post(
                gateway + "/changes",
                Map.of(
                        "changes",
                        List.of(Map.of(
                                "change",
                                "set-listener",
                                "listener",
                                "staff",
                                "values",
                                Map.of("accounts", "local"))))));

        String without = issue("laptop", "staff", Map.of());
        String both = issue("tablet", "staff", Map.of("makeAccount", true));

        assertThat(cause(tried(tender.get("/profiles/" + without).field("label"))))
                .contains("password");
        JsonNode trial = tried(tender.get("/profiles/" + both).field("label"));
        assertThat(trial.path("proven").asBoolean()).as(trial.toString()).isTrue();
        assertThat(trial.path("measured").path("echoes").asInt()).isEqualTo(20);
        String label = tender.get("/profiles/" + both).field("label");
        assertThat(firewallAccounts()).contains(label);
        assertThat(tender.get("/profiles/" + both + "/revisions").text()).doesNotContain("PRIVATE KEY");

        tender.post("/profiles/" + both + "/withdraw", Map.of());
        tender.until("/profiles/" + both, r -> r.field("state").equals("withdrawn"));
        assertThat(firewallAccounts()).doesNotContain(label);
    }

    private static String firewallAccounts() {
        try {
            return java.nio.file.Files.readString(folder.resolve("fw/configuration.json"));
        } catch (java.io.IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static List<String> serials(String profile) {
        return tender.get("/authorities").json().path("items").findValuesAsText("id").stream()
                .flatMap(id -> tender
                        .get("/authorities/" + id + "/certificates?limit=200")
                        .json()
                        .path("items")
                        .findParents("serial")
                        .stream())
                .filter(c -> c.path("commonName").asText().equals(profile))
                .map(c -> c.path("serial").asText() + " " + c.path("state").asText())
                .toList();
    }

    @Test
    @Order(20)
    void aCertificateIsRenewedAheadOfItsEndAndTheOldOneCountsBesideIt() throws Exception {
        tender.post("/people/mara/devices", Map.of("name", "slate", "kind", "laptop", "system", "Debian 12"));
        tender.post("/people/mara/devices", Map.of("name", "guest", "kind", "laptop", "system", "Debian 12"));
        String lasting = issue("slate", "staff", Map.of());
        String visitor = issue(
                "guest",
                Map.of("until", Instant.now().plus(Duration.ofDays(350)).toString()));
        tender.close();
        java.nio.file.Files.deleteIfExists(folder.resolve("data/first-password"));

        Clock later = Clock.offset(Clock.systemUTC(), Duration.ofDays(340));
        tender = RunningService.start(
                database, folder.resolve("data"), null, Map.of("TENDER_CALLABLE_LOCAL", "127.14.0.0/16"), later);
        database.makeJobsDue();
        Reply renewed =
                tender.until("/profiles/" + lasting, r -> r.field("revision").equals("2"));

        String label = renewed.field("label");
        assertThat(serials(label)).hasSize(2).allMatch(s -> s.endsWith("valid") || s.endsWith("expires-soon"));
        assertThat(tender.get("/profiles/" + visitor).field("revision"))
                .as("somebody said when this one ends")
                .isEqualTo("1");

        tender.post("/profiles/" + lasting + "/withdraw", Map.of());
        tender.until("/profiles/" + lasting, r -> r.field("state").equals("withdrawn"));
        assertThat(serials(label)).as("both are revoked").hasSize(2).allMatch(s -> s.endsWith("revoked"));
    }
}
