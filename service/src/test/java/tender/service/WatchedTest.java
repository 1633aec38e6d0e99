package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.InetAddress;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.service.RunningService.Reply;
import tender.standins.caller.Caller;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** What Tender believes of a device: who is connected, that it did what it said, and when that ends. */
class WatchedTest {
    @TempDir
    Path folder;

    private final MovableClock clock = new MovableClock();
    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.89.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of(), clock);
        gateway = "/gateways/" + tender.addRouter(office);
        tender.addPerson("mara", "phone");
        tender.addPerson("ilse", "laptop");
        tender.issue("mara", "phone");
        tender.issue("ilse", "laptop");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private Caller caller(String label) throws Exception {
        Reply prepared = tender.post("/handouts", Map.of("profile", label));
        URI page = URI.create(prepared.field("link"));
        Reply got = tender.send(
                "POST",
                URI.create("http://" + page.getAuthority() + "/collect"),
                Map.of("token", page.getFragment(), "passphrase", prepared.field("passphrase")),
                Map.of());
        return new Caller(
                WireGuardFile.read(got.field("file")).file(),
                InetAddress.getByAddress(IpAddress.parse(office.address()).toBytes()),
                IpAddress.parse(SmallOffice.INSIDE_HOST),
                Duration.ofMillis(300));
    }

    private Map<String, String> connected() {
        Map<String, String> out = new HashMap<>();
        for (JsonNode s : tender.get("/sessions").json().path("items")) {
            if (s.path("endedAt").isNull()) {
                out.put(s.path("addresses").get(0).asText(), s.path("profile").asText());
            }
        }
        return out;
    }

    @Test
    void twoPeopleConnectedAtOnceAreToldApartAndASessionEnds() throws Exception {
        try (Caller ilse = caller("ilse-laptop-pier2")) {
            try (Caller mara = caller("mara-phone-pier2")) {
                tender.until("/sessions", r -> connected().size() == 2);
                assertThat(connected())
                        .containsEntry("10.99.4.2", "mara-phone-pier2")
                        .containsEntry("10.99.4.3", "ilse-laptop-pier2");
            }
            // she went away without a word; after a while that is no connection any more
            tender.until("/sessions", r -> {
                clock.move(Duration.ofSeconds(20));
                return !connected().containsValue("mara-phone-pier2");
            });
        }
        Reply mara = tender.get("/profiles?text=mara");
        assertThat(mara.json().path("items").get(0).path("connected").asBoolean())
                .isFalse();
    }

    @Test
    void aDeviceThatSaysYesAndChangesNothingIsNotBelieved() throws Exception {
        Path forwards = folder.resolve("office/pier2/forwards");
        String before = Files.exists(forwards) ? Files.readString(forwards) : "";
        office.router().faults().beforeOperation = operation -> {
            if (operation.contains("reload") || operation.contains("apply")) {
                try {
                    Files.writeString(forwards, before);
                } catch (java.io.IOException e) {
                    throw new java.io.UncheckedIOException(e);
                }
            }
        };
        Reply change = tender.change(
                gateway + "/changes",
                Map.of(
                        "changes",
                        List.of(Map.of(
                                "change",
                                "put-forward",
                                "forward",
                                Map.of("transport", "tcp", "port", "8080", "to", "10.20.4.20", "toPort", "80")))));
        assertThat(change.field("state")).as(change.text()).isEqualTo("failed");
    }

    /** Looked at in the database itself, past the service: nothing secret stands in any column. */
    @Test
    void noColumnOfTheDatabaseHoldsASecret() throws Exception {
        tender.post(gateway + "/backups", Map.of());
        Reply prepared = tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        String served =
                WireGuardFile.read(Files.readString(office.tunnelFile())).file().text();
        String serverKey = served.lines()
                .filter(l -> l.startsWith("PrivateKey"))
                .findFirst()
                .orElseThrow()
                .replaceAll("PrivateKey *= *", "");
        UnaryOperator<String> asBytes = text -> "convert_to('" + text + "', 'UTF8')";
        List<String> needles = List.of(
                asBytes.apply(serverKey),
                "decode('" + serverKey + "', 'base64')",
                asBytes.apply(prepared.field("passphrase")),
                asBytes.apply(URI.create(prepared.field("link")).getFragment()),
                asBytes.apply(tender.token()),
                asBytes.apply(RunningService.PASSWORD),
                asBytes.apply("PRIVATE KEY"),
                asBytes.apply("[Interface]"),
                "'\\x504b0304'::bytea"); // a zip that stands open: a backup
        List<String[]> columns = database.columns();
        assertThat(columns).anyMatch(c -> c[0].equals("backup") && c[1].equals("content"));
        Map<String, List<String>> found = new HashMap<>(); // of each table, one question: it is read once
        for (String[] column : columns) {
            String value = column[2].equals("bytea")
                    ? "\"" + column[1] + "\""
                    : "convert_to(\"" + column[1] + "\"::text, 'UTF8')";
            needles.forEach(needle -> found.computeIfAbsent(column[0], t -> new ArrayList<>())
                    .add("position(" + needle + " in " + value + ") > 0"));
        }
        found.forEach((table, any) ->
                database.expect("select count(*) from \"" + table + "\" where " + String.join(" or ", any), 0));
    }

    @Test
    void aKeyThatIsInUseIsErasedWhenItsTimeIsOver() throws Exception {
        tender.close();
        tender = RunningService.start(
                database, folder.resolve("data"), office, Map.of("TENDER_CUSTODY_ERASE_DAYS", "3"), clock);
        try (Caller mara = caller("mara-phone-pier2")) {
            tender.until("/sessions", r -> connected().containsValue("mara-phone-pier2"));
            String ilse = "/profiles/"
                    + tender.get("/profiles/labelled/ilse-laptop-pier2").field("id");
            String id = "/profiles/"
                    + tender.get("/profiles/labelled/mara-phone-pier2").field("id");
            assertThat(tender.get(id).field("custody")).isEqualTo("held");
            clock.move(Duration.ofDays(4));
            database.makeJobsDue();
            tender.until(id, r -> r.field("custody").equals("erased"));
            assertThat(tender.get(ilse).field("custody")).as("never collected").isEqualTo("held");
            assertThat(tender.get(id + "/inside").status()).isEqualTo(409);
            assertThat(tender.post(id + "/renew", null).status()).isEqualTo(409);
            database.expect("select count(*) from profile_revision where content is null", 1);
            assertThat(tender.get("/journal?limit=20").text()).contains("key-erased");
        }
    }

    @Test
    void revocationListsAreSignedAnewInTime() {
        tender.post("/authorities", Map.of("name", "skerrivane"));
        String id = tender.get("/authorities")
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asText();
        byte[] first = tender.get("/authorities/" + id + "/list").raw().body();
        clock.move(Duration.ofDays(16));
        database.makeJobsDue();
        tender.signIn("owner", RunningService.PASSWORD);
        tender.until(
                "/authorities/" + id + "/list",
                r -> !java.util.Arrays.equals(r.raw().body(), first));
    }

    @Test
    void everyWritingRouteLeavesAnEntry() {
        Reply backup = tender.post(gateway + "/backups", Map.of());
        tender.until("/backups", r -> r.json().path("items").size() > 0);
        String id =
                tender.get("/backups").json().path("items").get(0).path("id").asText();
        assertThat(backup.status()).isLessThan(300);
        tender.post("/backups/" + id + "/download", Map.of("passphrase", "harbour-lights-at-dusk"));
        Reply prepared = tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        URI page = URI.create(prepared.field("link"));
        URI collect = URI.create("http://" + page.getAuthority() + "/collect");
        tender.send(
                "POST",
                collect,
                Map.of("token", page.getFragment(), "passphrase", prepared.field("passphrase")),
                Map.of());
        Reply second = tender.post("/handouts", Map.of("profile", "ilse-laptop-pier2"));
        Reply ended = tender.post(
                "/handouts/" + second.json().path("handout").path("id").asText() + "/withdraw", null);
        assertThat(ended.status()).as(ended.text()).isLessThan(300);
        URI gone = URI.create(second.field("link"));
        assertThat(tender.send(
                                "POST",
                                collect,
                                Map.of("token", gone.getFragment(), "passphrase", second.field("passphrase")),
                                Map.of())
                        .status())
                .as("a link that was ended")
                .isEqualTo(404);
        tender.post("/sites", Map.of("name", "pier-nine"));
        tender.post(
                "/profiles/" + tender.get("/profiles/labelled/mara-phone-pier2").field("id") + "/withdraw", null);

        List<String> actions =
                tender.get("/journal?limit=200").json().path("items").findValuesAsText("action");
        assertThat(actions)
                .contains(
                        "operator-added",
                        "sign-in",
                        "password-changed",
                        "site-added",
                        "gateway-added",
                        "identity-accepted",
                        "person-added",
                        "device-added",
                        "profile-issued",
                        "backup-taken",
                        "backup-downloaded",
                        "handout-prepared",
                        "handout-collected",
                        "handout-withdrawn",
                        "profile-withdrawn");
    }
}
