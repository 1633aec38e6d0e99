package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.function.BooleanSupplier;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.mail.MailSink;
import tender.standins.router.RouterFolder;
import tender.store.testing.TestDatabase;

/** A change that Tender cannot make becomes an instruction: sent, printed, said to be done, checked, cancelled. */
class HandChangesTest {
    @TempDir
    Path folder;

    private TestDatabase database;
    private MailSink mails;
    private RunningService tender;

    @BeforeEach
    void open() throws Exception {
        database = TestDatabase.fresh();
        mails = new MailSink(0);
        tender = RunningService.start(
                database,
                folder.resolve("data"),
                null,
                Map.of(
                        "TENDER_MAIL_SERVER", "127.0.0.1:" + mails.port(),
                        "TENDER_MAIL_STARTTLS", "none",
                        "TENDER_MAIL_FROM", "tender@skerrivane.example"));
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        mails.close();
        database.close();
    }

    private String manual(String name) {
        Reply added = tender.post(
                "/gateways",
                Map.of("name", name, "address", "", "user", "api", "connector", "manual", "endpoint", "192.0.2.8"));
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        String gateway = "/gateways/" + added.field("id");
        tender.post(
                gateway + "/listeners/staff",
                Map.of(
                        "settings",
                        Map.of("protocol", "openvpn", "port", "1194", "transport", "udp", "dns", "10.2.0.1")));
        return gateway;
    }

    private static Map<String, Object> set(String setting, String value) {
        return Map.of("change", "set-listener", "listener", "staff", "values", Map.of(setting, value));
    }

    private static Map<String, Object> forward(int port) {
        return Map.of(
                "change",
                "put-forward",
                "forward",
                Map.of("transport", "udp", "port", port, "to", "10.2.0.9", "toPort", port, "label", ""));
    }

    private Reply order(String gateway, Map<String, Object> change, String why) {
        return tender.post(gateway + "/changes", Map.of("changes", List.of(change), "why", why));
    }

    private JsonNode instructions() {
        return tender.get("/instructions").json().path("items");
    }

    private static void until(String what, BooleanSupplier condition) {
        Instant end = Instant.now().plus(Duration.ofSeconds(90));
        while (!condition.getAsBoolean()) {
            assertThat(Instant.now()).as(what).isBefore(end);
            Thread.onSpinWait();
        }
    }

    @Test
    void aChangeAtAGatewayManagedByHandIsAnInstructionAndKnownWhenItIsSaidToBeDone() throws Exception {
        String gateway = manual("pier8");
        Reply ordered = order(gateway, set("dns", "10.2.0.53"), "names inside do not resolve");
        assertThat(ordered.status()).as(ordered.text()).isEqualTo(202);
        assertThat(ordered.json().path("jobId").isNull()).isTrue();
        assertThat(ordered.json().at("/change/state").asText()).isEqualTo("by-hand");
        Reply twice = order(gateway, set("dns", "10.2.0.53"), "");
        assertThat(twice.status()).as(twice.text()).isEqualTo(409);
        assertThat(tender.get("/overview").json().path("instructions"))
                .as("it stands on the overview")
                .hasSize(1);

        String id = instructions().get(0).path("id").asText();
        Reply shown = tender.post("/instructions/" + id + "/show", null);
        assertThat(shown.field("what")).isEqualTo("Change the settings of listener staff.");
        assertThat(shown.json().path("values").toString()).isEqualTo("[{\"label\":\"dns\",\"value\":\"10.2.0.53\"}]");
        assertThat(shown.field("why")).isEqualTo("names inside do not resolve");
        assertThat(shown.field("cuts")).contains("the listener restarts");
        assertThat(known(gateway, "dns")).as("nothing is changed yet").isEqualTo("10.2.0.1");

        Reply done = tender.post("/instructions/" + id + "/done", null);
        assertThat(done.json().path("done").asBoolean()).as(done.text()).isTrue();
        assertThat(done.field("found")).contains("as owner says", "no file for staff is there to try it with");
        assertThat(known(gateway, "dns")).isEqualTo("10.2.0.53");
        assertThat(instructions()).isEmpty();
        assertThat(tender.get(gateway + "/changes").json().at("/items/0/state").asText())
                .isEqualTo("kept");
    }

    private String known(String gateway, String setting) {
        for (JsonNode s : tender.get(gateway + "/facts").json().at("/listeners/0/settings")) {
            if (s.path("setting").asText().equals(setting)) {
                return s.path("value").asText();
            }
        }
        return "";
    }

    @Test
    void whatCannotBeAppliedOrHasATimeIsRefused() {
        String gateway = manual("pier8");
        Reply unknown = tender.post(
                gateway + "/changes",
                Map.of(
                        "changes",
                        List.of(Map.of(
                                "change", "set-listener", "listener", "crew", "values", Map.of("dns", "10.2.0.53")))));
        assertThat(unknown.status()).isEqualTo(400);
        assertThat(unknown.text()).contains("there is no listener crew; there are: staff");
        Reply temporary = tender.post(
                gateway + "/changes", Map.of("changes", List.of(set("dns", "10.2.0.53")), "temporarySeconds", 60));
        assertThat(temporary.status()).as(temporary.text()).isEqualTo(400);
        assertThat(temporary.text()).contains("is not rolled back by itself");
        assertThat(instructions()).isEmpty();
    }

    @Test
    void aChangeThatNobodyNeedsIsCancelled() {
        String gateway = manual("pier8");
        order(gateway, forward(1194), "");
        String id = instructions().get(0).path("id").asText();

        assertThat(tender.post("/instructions/" + id + "/cancel", null).status())
                .isEqualTo(204);

        assertThat(instructions()).isEmpty();
        assertThat(tender.get(gateway + "/changes").json().at("/items/0/state").asText())
                .isEqualTo("cancelled");
        assertThat(tender.post("/instructions/" + id + "/done", null).status()).isEqualTo(404);
    }

    @Test
    void whatIsOpenIsPrintedOnOneSheet() throws Exception {
        String gateway = manual("pier8");
        assertThat(tender.post(gateway + "/instructions/sheet", null).status()).isEqualTo(409);
        order(gateway, set("dns", "10.2.0.53"), "names inside do not resolve");
        order(gateway, forward(1194), "clients never get an answer");
        try (PDDocument pdf = Loader.loadPDF(
                tender.post(gateway + "/instructions/sheet", null).raw().body())) {
            assertThat(new PDFTextStripper().getText(pdf))
                    .contains("To do on pier8", "1. Change the settings of listener staff.", "10.2.0.53")
                    .contains("2. Add a port forward.", "outside port", "1194", "inside address", "10.2.0.9")
                    .contains("Why: clients never get an answer", "Done on");
        }
    }

    @Test
    void theContactOfAGatewayGetsMailOnceForWhatIsNewAndSomebodyElseWhenAsked() throws Exception {
        String gateway = manual("pier8");
        assertThat(tender.post(gateway + "/instructions/send", Map.of()).text())
                .contains("say whom to send it to", "--contact MAIL");
        order(gateway, forward(1194), "clients never get an answer");
        Reply wrong = tender.post(gateway + "/instructions/send", Map.of("to", "a@b.example, c@d.example"));
        assertThat(wrong.status()).as(wrong.text()).isEqualTo(400);

        Reply sent = tender.post(gateway + "/instructions/send", Map.of("to", "hal@harbour-it.example"));
        assertThat(sent.json().path("instructions").asInt()).as(sent.text()).isEqualTo(1);
        until("the mail", () -> mails.mails().size() == 1);
        assertThat(mails.mails().get(0))
                .contains("To: hal@harbour-it.example", "Subject: Tender: 1 thing to do on pier8")
                .contains("outside port: 1194", "Why: clients never get an answer", gateway);
        assertThat(instructions().get(0).path("askedOf").asText()).isEqualTo("hal@harbour-it.example");

        assertThat(tender.patch(gateway, Map.of("contact", "it@harbour-it.example"))
                        .field("contact"))
                .isEqualTo("it@harbour-it.example");
        order(gateway, set("dns", "10.2.0.53"), "");
        until("word to the contact by itself", () -> mails.mails().size() == 2);
        assertThat(mails.mails().get(1)).contains("To: it@harbour-it.example", "2 things to do on pier8");
        assertThat(tender.get("/journal").text()).contains("instructions-sent");
    }

    @Test
    void aGatewayThatIsReadShowsItself() throws Exception {
        RouterFolder.sound("hut-west", "10.20.6.0/24", "10.20.6.20", "fixed 198.51.100.24", "10.99.6.1/24", 51820)
                .layOut(folder.resolve("hut"));
        Reply added = tender.post("/gateways", Map.of("name", "hut-west", "kind", "router", "connector", "file"));
        String gateway = "/gateways/" + added.field("id");
        load(gateway);
        order(
                gateway,
                Map.of("change", "set-listener", "listener", "wg0", "values", Map.of("port", "51821")),
                "51820 is blocked");
        String id = instructions().get(0).path("id").asText();

        Reply early = tender.post("/instructions/" + id + "/done", null);
        assertThat(early.json().path("done").asBoolean()).as(early.text()).isFalse();
        assertThat(early.field("found")).contains("the gateway does not show it");
        load(gateway);
        assertThat(instructions()).as("the files are as they were").hasSize(1);

        Path file = folder.resolve("hut/tunnels/wg0.conf");
        Files.writeString(file, Files.readString(file).replace("51820", "51821"));
        load(gateway);
        assertThat(instructions()).isEmpty();
        assertThat(tender.get(gateway + "/changes").json().at("/items/0/note").asText())
                .isEqualTo("shown by a reading of the gateway");
    }

    private void load(String gateway) {
        Reply job = tender.post(
                gateway + "/dropped",
                Map.of(
                        "files",
                        DemoOffice.files(folder.resolve("hut")),
                        "taken",
                        Instant.now().toString()));
        assertThat(job.status()).as(job.text()).isEqualTo(202);
        tender.until("/jobs/" + job.field("id"), r -> !r.field("endedAt").equals("null"));
    }
}
