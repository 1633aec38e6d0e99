package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.mail.MailSink;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** A listener tried on a schedule: a lost try is no news, a verdict that changed is told once, by finding, mail and web call. */
class MonitorTest {
    @TempDir
    Path folder;

    private final List<String> posted = new CopyOnWriteArrayList<>();
    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private MailSink mails;
    private HttpServer hook;
    private String monitor;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.78.1");
        database = TestDatabase.fresh();
        mails = new MailSink(0);
        hook = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        hook.createContext("/word", x -> {
            posted.add(new String(x.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
            x.sendResponseHeaders(204, -1);
            x.close();
        });
        hook.start();
        tender = RunningService.start(
                database,
                folder.resolve("data"),
                office,
                Map.of(
                        "TENDER_ALERT_WEBHOOK",
                        "http://127.0.0.1:" + hook.getAddress().getPort() + "/word",
                        "TENDER_ALERT_MAIL_TO",
                        "keeper@skerrivane.example",
                        "TENDER_MAIL_SERVER",
                        "127.0.0.1:" + mails.port(),
                        "TENDER_MAIL_STARTTLS",
                        "none",
                        "TENDER_MAIL_FROM",
                        "tender@skerrivane.example"));
        tender.addRouter(office);
        monitor = "/monitors/" + only().path("id").asText();
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        hook.stop(0);
        mails.close();
        database.close();
        office.close();
    }

    private JsonNode only() {
        return tender.get("/monitors").json().path("items").path(0);
    }

    /** Orders the monitor anew, which tries at once, and waits for one more result. */
    private void again(Map<String, Object> more) {
        int before = results();
        Map<String, Object> request = new java.util.HashMap<>(Map.of("everySeconds", 3600));
        request.putAll(more);
        Reply set = tender.post(monitor, request);
        assertThat(set.status()).as(set.text()).isEqualTo(200);
        until("a result more", () -> results() > before);
    }

    private int results() {
        return tender.get(monitor + "/history").json().path("items").size();
    }

    private static void until(String what, BooleanSupplier condition) {
        Instant end = Instant.now().plus(Duration.ofSeconds(40));
        while (!condition.getAsBoolean()) {
            assertThat(Instant.now()).as("waited for " + what).isBefore(end);
            LockSupport.parkNanos(20_000_000);
        }
    }

    private List<String> findings() {
        return tender.get("/findings?limit=200").json().findValuesAsText("code");
    }

    @Test
    void listenersAreFilteredCountedAndBegunAtOnce() {
        assertThat(tender.get("/monitors?state=not-monitored").json().path("items"))
                .hasSize(1);
        assertThat(tender.get("/monitors?state=proven").json().path("items")).isEmpty();
        assertThat(tender.get("/monitors?text=IER2%20w").json().path("items")).hasSize(1);
        assertThat(tender.get("/monitors?text=nowhere").json().path("items")).isEmpty();
        assertThat(tender.get("/monitors?gateway=orrin").json().path("items")).isEmpty();
        Reply wrong = tender.get("/monitors?state=fine");
        assertThat(wrong.status()).isEqualTo(400);
        assertThat(wrong.text()).contains("not-proven, waiting, proven or not-monitored");
        assertThat(tender.get("/monitors/counts").json().path("couldBeTried").asInt())
                .isEqualTo(1);

        Reply begun = tender.post("/monitors", Map.of("everySeconds", 3600));
        assertThat(begun.json().path("listeners").asInt()).as(begun.text()).isEqualTo(1);
        assertThat(tender.post("/monitors", Map.of("everySeconds", 60))
                        .json()
                        .path("listeners")
                        .asInt())
                .as("what is tried keeps its interval")
                .isZero();
        until("a result", () -> results() > 0);
        JsonNode counts = tender.get("/monitors/counts").json();
        assertThat(counts.path("proven").asInt()).as(counts.toString()).isEqualTo(1);
        assertThat(counts.path("notMonitored").asInt()).isZero();
        assertThat(tender.get("/monitors?state=proven").json().path("items")).hasSize(1);
        assertThat(tender.get("/journal").text()).contains("monitors-set");
    }

    @Test
    void aVerdictThatChangesIsToldOnceAndAListenerThatWorksIsNoNews() {
        assertThat(only().path("everySeconds").isNull()).isTrue();
        again(Map.of());
        assertThat(only().path("proven").asBoolean()).as(only().toString()).isTrue();
        assertThat(only().path("latest").path(0).path("echoMillis").asDouble()).isPositive();
        assertThat(posted).isEmpty();

        office.router().faults().tunnelSilent = true;
        again(Map.of());
        assertThat(only().path("proven").asBoolean()).isFalse();
        assertThat(only().path("rung").asText()).isEqualTo("handshake");
        assertThat(findings()).contains("listener-fails");
        until("word by mail", () -> mails.mails().size() == 1);
        until("word by web call", () -> posted.size() == 1);
        assertThat(mails.mails().get(0))
                .contains("Subject: pier2 wg0 does not work")
                .contains("It fails at: handshake");
        assertThat(posted.get(0)).contains("\"what\":\"listener-fails\"").contains("\"gateway\":\"pier2\"");

        again(Map.of());
        assertThat(only().path("day").asDouble()).isBetween(0.3, 0.34);
        office.router().faults().tunnelSilent = false;
        again(Map.of());
        assertThat(only().path("proven").asBoolean()).isTrue();
        until(
                "word that it works again",
                () -> posted.size() == 2 && mails.mails().size() == 2);
        assertThat(posted.get(1)).contains("listener-works");
        assertThat(findings()).doesNotContain("listener-fails");
        assertThat(tender.get("/journal").text()).contains("listener-fails").contains("listener-works");
    }

    @Test
    void inQuietHoursTheFindingStandsAndNoWordIsSent() {
        again(Map.of());
        office.router().faults().tunnelSilent = true;
        Instant now = Instant.now();
        again(Map.of(
                "quietFrom", hour(now.minus(Duration.ofHours(1))),
                "quietTo", hour(now.plus(Duration.ofHours(2)))));

        assertThat(findings()).contains("listener-fails");
        assertThat(tender.get("/jobs").json().findValuesAsText("kind")).doesNotContain("alert");
        assertThat(posted).isEmpty();

        Reply dropped =
                tender.send("DELETE", tender.url(monitor), null, Map.of("Authorization", "Bearer " + tender.token()));
        assertThat(dropped.status()).isEqualTo(204);
        assertThat(findings()).doesNotContain("listener-fails");
        assertThat(only().path("everySeconds").isNull()).isTrue();
    }

    private static String hour(Instant at) {
        return at.atOffset(java.time.ZoneOffset.UTC).toLocalTime().toString().substring(0, 5);
    }

    @Test
    void whatCannotBeIsRefusedByField() {
        assertThat(tender.get(monitor + "/history?days=x").status()).isEqualTo(400);
        assertThat(tender.get("/expiries?days=x").status()).isEqualTo(400);
        assertThat(tender.post(monitor, Map.of("everySeconds", 5)).text()).contains("everySeconds");
        assertThat(tender.post(monitor, Map.of("everySeconds", 60, "quietFrom", "22:00"))
                        .text())
                .contains("beginning and an end");
        assertThat(tender.post(monitor, Map.of("everySeconds", 60, "quietFrom", "25:00", "quietTo", "06:00"))
                        .text())
                .contains("quietFrom");
    }
}
