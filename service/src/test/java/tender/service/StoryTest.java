package tender.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.InetAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.backup.Envelope;
import tender.core.backup.Snapshot;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.service.RunningService.Reply;
import tender.standins.caller.Caller;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** The story through the HTTP API: add, issue, hand out, prove, watch, back up; and what happens when a step fails. */
class StoryTest {
    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.73.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        gateway = tender.addRouter(office);
        tender.addPerson("mara", "phone", "laptop");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private String deviceFile() throws Exception {
        return Files.readString(office.tunnelFile());
    }

    private Reply collect(String link, String passphrase) {
        URI page = URI.create(link);
        return tender.send(
                "POST",
                URI.create("http://" + page.getAuthority() + "/collect"),
                Map.of("token", page.getFragment(), "passphrase", passphrase),
                Map.of());
    }

    @Test
    void theWholeStory() throws Exception {
        Reply profile = tender.issue("mara", "phone");
        assertThat(profile.field("state")).isEqualTo("ready");
        assertThat(profile.json().path("addresses").get(0).asText()).isEqualTo("10.99.4.2");
        assertThat(deviceFile()).contains(profile.json().at("/identity/value").asText());

        Reply proven = tender.trial("mara-phone-pier2");
        assertThat(proven.json().path("proven").asBoolean()).as(proven.text()).isTrue();
        assertThat(proven.field("restsOn")).isEqualTo("this profile, revision 1");

        Reply prepared = tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        Reply collected = collect(prepared.field("link"), prepared.field("passphrase"));
        assertThat(collected.status()).isEqualTo(200);
        assertThat(collected.field("qr")).startsWith("<svg");
        assertThat(collect(prepared.field("link"), prepared.field("passphrase")).status())
                .as("used up")
                .isEqualTo(404);
        assertThat(tender.get("/handouts")
                        .json()
                        .path("items")
                        .get(0)
                        .path("state")
                        .asText())
                .isEqualTo("collected");
        assertThat(tender.get("/sessions").json().path("items"))
                .as("the trial is nobody's session")
                .isEmpty();

        WireGuardFile file = WireGuardFile.read(collected.field("file")).file();
        try (Caller phone = new Caller(
                file,
                InetAddress.getByAddress(IpAddress.parse(office.address()).toBytes()),
                IpAddress.parse(SmallOffice.INSIDE_HOST),
                Duration.ofMillis(400))) {
            JsonNode session = tender.until(
                            "/sessions", r -> r.json().path("items").size() == 1)
                    .json()
                    .path("items")
                    .get(0);
            assertThat(session.path("profile").asText()).isEqualTo("mara-phone-pier2");
            assertThat(session.path("addresses").get(0).asText()).isEqualTo("10.99.4.2");
            tender.until(
                    "/profiles/" + profile.field("id"),
                    r -> r.json().path("connected").asBoolean());

            Reply second = tender.trial("mara-phone-pier2");
            assertThat(second.json().path("proven").asBoolean())
                    .as(second.text())
                    .isTrue();
            assertThat(second.field("restsOn")).startsWith("a canary");
            int answered = phone.answered();
            tender.until("/sessions", r -> phone.answered() > answered);
        }
        assertThat(tender.get("/handouts")
                        .json()
                        .path("items")
                        .get(0)
                        .path("state")
                        .asText())
                .isEqualTo("in use");
        assertThat(tender.post("/journal/verify", null).json().path("whole").asBoolean())
                .isTrue();
    }

    @Test
    void neverGivesAnAddressTwiceNorOneThatAPeerOfTheDeviceHas() throws Exception {
        String byHand = deviceFile() + "\n[Peer]\nPublicKey = "
                + TunnelKeyPair.generate(new SecureRandom()).publicKey() + "\nAllowedIPs = 10.99.4.3/32\n";
        Files.writeString(office.tunnelFile(), byHand);
        tender.post("/gateways/" + gateway + "/backups", Map.of());
        tender.addPerson("ilse", "laptop");
        Set<String> addresses = new TreeSet<>();
        addresses.add(
                tender.issue("mara", "phone").json().path("addresses").get(0).asText());
        addresses.add(
                tender.issue("mara", "laptop").json().path("addresses").get(0).asText());
        addresses.add(
                tender.issue("ilse", "laptop").json().path("addresses").get(0).asText());

        assertThat(addresses).containsExactly("10.99.4.2", "10.99.4.4", "10.99.4.5");
        assertThat(deviceFile()).startsWith(byHand);
    }

    @Test
    void aFailedReloadLeavesRouterAndRecordsAsTheyWereAndSaysSo() throws Exception {
        String before = deviceFile();
        office.router().faults().reloadFails = true;

        Reply profile = tender.issue("mara", "phone");

        assertThat(profile.field("state")).isEqualTo("failed");
        assertThat(profile.field("problem")).contains("reload failed: settings left as they were");
        assertThat(deviceFile()).isEqualTo(before);
        office.router().faults().reloadFails = false;
        Reply again = tender.issue("mara", "phone");
        assertThat(again.field("state")).isEqualTo("ready");
        assertThat(again.json().path("addresses").get(0).asText())
                .as("the address came back")
                .isEqualTo("10.99.4.2");
    }

    @Test
    void aKeyMadeOnTheDeviceNeverReachesTenderAndIsProvenElsewhere() throws Exception {
        TunnelKeyPair own = TunnelKeyPair.generate(new SecureRandom());
        Map<String, Object> order = Map.of(
                "person",
                "mara",
                "device",
                "laptop",
                "gateway",
                "pier2",
                "publicKey",
                own.publicKey().toString());
        Reply issued = tender.post("/profiles", order);
        Reply profile = tender.until(
                "/profiles/" + issued.json().path("profile").path("id").asText(),
                r -> r.field("state").equals("ready"));

        assertThat(profile.field("custody")).isEqualTo("device only");
        assertThat(tender.trial(profile.field("label")).field("code")).isEqualTo("key-not-held");
        Reply shared = tender.post(
                "/profiles",
                Map.of(
                        "person",
                        "mara",
                        "device",
                        "phone",
                        "gateway",
                        "pier2",
                        "publicKey",
                        own.publicKey().toString()));
        assertThat(shared.status()).as("one key, one device").isEqualTo(409);
    }

    @Test
    void sixBrokenThingsEndAtTheirRung() throws Exception {
        tender.issue("mara", "phone");
        office.router().faults().insideHostsSilent = true;
        JsonNode silent = tender.trial("mara-phone-pier2").json();
        assertThat(cause(silent)).isEqualTo("inside host: host-silent, likely");
        office.router().faults().insideHostsSilent = false;

        String good = deviceFile();
        Files.writeString(office.tunnelFile(), good.replaceAll("(?m)^PresharedKey = .*$", "PresharedKey = " + key()));
        reload();
        assertThat(cause(tender.trial("mara-phone-pier2").json()))
                .isEqualTo("handshake: preshared-key-differs, certain");
        Files.writeString(
                office.tunnelFile(),
                WireGuardFile.read(good).file().withoutPeer(peer(good)).text());
        reload();
        assertThat(cause(tender.trial("mara-phone-pier2").json())).isEqualTo("handshake: client-unknown, certain");
        Files.writeString(office.tunnelFile(), good.replaceFirst("PrivateKey = .*", "PrivateKey = " + key()));
        reload();
        assertThat(cause(tender.trial("mara-phone-pier2").json())).isEqualTo("handshake: gateway-key-differs, certain");
        Files.writeString(
                office.tunnelFile(),
                good.replaceFirst("ListenPort = [0-9]+", "ListenPort = " + (office.tunnelPort() ^ 1)));
        reload();
        assertThat(cause(tender.trial("mara-phone-pier2").json())).isEqualTo("port: port-differs, certain");
    }

    private void reload() throws Exception {
        // any change by Tender makes the router reload its files; reading alone does not
        String handle = "p" + System.nanoTime() % 1_000_000;
        tender.addPerson(handle, "phone");
        tender.issue(handle, "phone");
    }

    private static tender.core.credential.TunnelKey peer(String text) {
        return WireGuardFile.read(text).file().peers().get(0).publicKey().orElseThrow();
    }

    private static String key() {
        byte[] bytes = new byte[32];
        new SecureRandom().nextBytes(bytes);
        return java.util.Base64.getEncoder().encodeToString(bytes);
    }

    private static String cause(JsonNode trial) {
        for (JsonNode rung : trial.path("rungs")) {
            if (rung.path("verdict").asText().equals("fails")) {
                JsonNode first = rung.path("causes").get(0);
                return rung.path("rung").asText() + ": " + first.path("code").asText() + ", "
                        + first.path("certainty").asText();
            }
        }
        return trial.toString();
    }

    @Test
    void withdrawingRemovesThePeerAndEndsLinks() throws Exception {
        Reply profile = tender.issue("mara", "phone");
        Reply prepared = tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        tender.post("/profiles/" + profile.field("id") + "/withdraw", null);

        tender.until("/profiles/" + profile.field("id"), r -> r.field("state").equals("withdrawn"));
        assertThat(deviceFile())
                .doesNotContain(profile.json().at("/identity/value").asText());
        assertThat(collect(prepared.field("link"), prepared.field("passphrase")).status())
                .isEqualTo(404);
        assertThat(tender.issue("mara", "phone").field("label")).isEqualTo("mara-phone-pier2");
    }

    @Test
    void aFileThatNoLongerFitsIsAFindingUntilItIsRenewed() throws Exception {
        Reply profile = tender.issue("mara", "phone");
        tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        assertThat(wrong()).isEmpty();
        office.names().put("ferry.skerrivane.example", IpAddress.parse(office.address()));

        Reply g = tender.get("/gateways/" + gateway);
        Reply set = tender.send(
                "PATCH",
                tender.url("/gateways/" + gateway),
                Map.of("endpoint", "ferry.skerrivane.example"),
                Map.of(
                        "Authorization",
                        "Bearer " + tender.token(),
                        "If-Match",
                        g.raw().headers().firstValue("ETag").orElseThrow()));
        assertThat(set.status()).as(set.text()).isEqualTo(200);

        JsonNode finding =
                tender.get("/findings?limit=200").json().path("items").get(0);
        assertThat(finding.path("code").asText()).isEqualTo("file-out-of-date");
        assertThat(finding.path("subject").asText()).isEqualTo("mara-phone-pier2");
        tender.post("/profiles/" + profile.field("id") + "/renew", null);
        tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        assertThat(wrong()).isEmpty();
    }

    /** Findings that are more than notes. */
    private java.util.List<String> wrong() {
        java.util.List<String> out = new java.util.ArrayList<>();
        tender.get("/findings?limit=200").json().path("items").forEach(f -> {
            if (!f.path("severity").asText().equals("notice")) {
                out.add(f.path("code").asText());
            }
        });
        return out;
    }

    @Test
    void backupsAreNumberedComparedAndOpenWithTheirPassphrase() throws Exception {
        tender.issue("mara", "phone");
        tender.issue("mara", "laptop");
        JsonNode backups = tender.get("/backups?gateway=" + gateway).json().path("items");
        assertThat(backups).hasSize(3);
        assertThat(backups.get(0).path("number").asInt()).isEqualTo(3);
        assertThat(backups.get(0).path("differences").get(0).path("linesAdded").asInt())
                .isEqualTo(6);

        Reply file = tender.post(
                "/backups/" + backups.get(2).path("id").asText() + "/download",
                Map.of("passphrase", "a long passphrase"));
        Snapshot opened = Snapshot.ofZip(Envelope.open(file.raw().body(), Secret.of("a long passphrase")));
        assertThat(new String(opened.files().get("tunnels/wg0.conf"), StandardCharsets.UTF_8))
                .doesNotContain("[Peer]");
    }

    @Test
    void anUnreachableRouterIsWrittenAsSoonAsItAnswers() throws Exception {
        office.router().faults().beforeOperation = operation -> {
            throw new IllegalStateException("held");
        };
        Reply issued = tender.post("/profiles", Map.of("person", "mara", "device", "phone", "gateway", "pier2"));
        String id = issued.json().path("profile").path("id").asText();
        tender.until("/gateways/" + gateway, r -> !r.json().path("readProblem").isNull());
        assertThat(tender.get("/profiles/" + id).field("state")).isEqualTo("writing");

        office.router().faults().beforeOperation = operation -> {};

        tender.until("/profiles/" + id, r -> r.field("state").equals("ready"));
        tender.until("/gateways/" + gateway, r -> r.json().path("readProblem").isNull());
    }

    @Test
    void guessingAtALinkIsSlowedWithoutLockingTheRightfulOut() throws Exception {
        tender.issue("mara", "phone");
        Reply prepared = tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        for (int i = 0; i < 8; i++) {
            assertThat(collect(prepared.field("link"), "wrong-wrong-wrong-wrong")
                            .field("code"))
                    .isEqualTo("link-opens-nothing");
        }
        Reply stopped = collect(prepared.field("link"), prepared.field("passphrase"));
        assertThat(stopped.status()).isEqualTo(429);
        assertThat(stopped.raw().headers().firstValue("Retry-After")).isPresent();
        Reply page = tender.send("GET", URI.create(tender.service.staffUrl() + "/"), null, Map.of());
        assertThat(page.status()).as("looking at the page uses nothing up").isEqualTo(200);
        assertThat(tender.get("/handouts")
                        .json()
                        .path("items")
                        .get(0)
                        .path("collectionsLeft")
                        .asInt())
                .isEqualTo(1);
    }

    @Test
    void twoNodesShareTheWorkAndTheEvents() throws Exception {
        try (RunningService other = RunningService.start(
                        database,
                        folder.resolve("second"),
                        office,
                        Map.of(
                                "TENDER_MASTER_KEY_FILE",
                                folder.resolve("data/master-key").toString()));
                EventReader events = EventReader.open(other)) {
            Reply profile = tender.issue("mara", "phone");

            assertThat(events.await("profile")).contains(profile.field("id"));
            assertThat(other.get("/profiles/" + profile.field("id")).field("state"))
                    .isEqualTo("ready");
            other.addPerson("ilse", "laptop");
            tender.post("/profiles", Map.of("person", "mara", "device", "laptop", "gateway", "pier2"));
            other.issue("ilse", "laptop");
            tender.until(
                    "/profiles",
                    r -> r.json().path("items").size() == 3 && !r.text().contains("\"writing\""));
            assertThat(WireGuardFile.read(deviceFile()).file().peers()).hasSize(3);
        }
        assertThatThrownBy(() -> RunningService.start(database, folder.resolve("third"), office, Map.of()))
                .hasMessageContaining("another master key");
        assertThat(Service.start(tender.service.settings(), java.time.Clock.systemUTC()))
                .as("a second instance on the same folder")
                .isEmpty();
    }
}
