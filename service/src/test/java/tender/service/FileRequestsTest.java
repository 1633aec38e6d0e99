package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.exported.OpenVpnDevice;
import tender.store.testing.TestDatabase;

/** Client files that a gateway makes itself: requested, received, and requested again before their certificates end. */
class FileRequestsTest {
    private static final String REMOTE = "pier7.skerrivane.example 1194";

    @TempDir
    Path folder;

    private final MovableClock clock = new MovableClock();
    private OpenVpnDevice device;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), null, Map.of(), clock);
        device = new OpenVpnDevice(clock.instant().minusSeconds(60), "pier7.skerrivane.example");
        assertThat(states(imported("mara.ovpn", device.export("mara", REMOTE, Duration.ofDays(100)))))
                .containsExactly("imported mara/laptop");
        gateway = tender.get("/gateways").json().path("items").get(0).path("id").asText();
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
    }

    private JsonNode imported(String name, String text) {
        Reply reply = tender.post(
                "/imports",
                Map.of(
                        "files",
                        List.of(Map.of(
                                "name",
                                name,
                                "content",
                                Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8))))));
        assertThat(reply.status()).as(reply.text()).isEqualTo(200);
        return reply.json();
    }

    private static List<String> states(JsonNode done) {
        return each(
                done.path("files"),
                f -> f.path("file").path("state").asText() + " "
                        + f.path("file").path("person").asText() + "/"
                        + f.path("file").path("device").asText());
    }

    private static List<String> each(JsonNode list, Function<JsonNode, String> word) {
        return StreamSupport.stream(list.spliterator(), false).map(word).toList();
    }

    private List<String> requested() {
        return each(
                tender.get("/file-requests").json().path("requests"),
                r -> r.path("reason").asText() + " " + r.path("person").asText() + "/"
                        + r.path("device").asText() + " as " + r.path("user").asText());
    }

    private Reply ask(Map<String, Object> order) {
        return tender.post("/gateways/" + gateway + "/file-requests", order);
    }

    private void person(String handle, String... devices) {
        tender.post("/people", Map.of("handle", handle, "name", handle + " Lind", "team", "crew"));
        for (String d : devices) {
            tender.post("/people/" + handle + "/devices", Map.of("name", d, "kind", d, "system", ""));
        }
    }

    @Test
    void aRequestStaysUntilItsFileComesOrItIsCancelled() {
        person("bo", "laptop", "phone");
        person("cleo");

        assertThat(ask(Map.of("devices", List.of("cleo"))).text()).contains("cleo has no device");
        assertThat(ask(Map.of("devices", List.of("nobody"))).text()).contains("there is no person nobody");
        assertThat(ask(Map.of("devices", List.of("bo"))).text()).contains("bo has 2 devices; write bo/laptop");
        assertThat(ask(Map.of()).text()).contains("say whose files");
        assertThat(ask(Map.of("team", "pirates")).text()).contains("nobody in team pirates");

        assertThat(ask(Map.of("team", "crew", "dryRun", true)).json().path("requests"))
                .hasSize(2);
        assertThat(requested()).isEmpty();
        ask(Map.of("devices", List.of("bo/phone")));
        assertThat(requested()).containsExactly("new bo/phone as bo");
        ask(Map.of("team", "crew"));
        assertThat(requested()).containsExactly("new bo/laptop as bo-laptop", "new bo/phone as bo-phone");

        assertThat(states(imported("bo-phone.ovpn", device.export("bo-phone", REMOTE, Duration.ofDays(100)))))
                .containsExactly("imported bo/phone");
        assertThat(requested()).containsExactly("new bo/laptop as bo");
        String left = tender.get("/file-requests")
                .json()
                .path("requests")
                .get(0)
                .path("id")
                .asText();
        assertThat(tender.delete("/file-requests/" + left).status()).isEqualTo(204);
        assertThat(tender.delete("/file-requests/" + left).status()).isEqualTo(404);
        assertThat(requested()).isEmpty();
        assertThat(ask(Map.of("team", "crew")).json().path("requests")).hasSize(1); // the phone has one
    }

    @Test
    void renewalsAreRequestedAMonthAheadAndTheNewFileIsTheNextRevision() {
        String first = device.export("dag", REMOTE, Duration.ofDays(60));
        assertThat(states(imported("dag.ovpn", first))).containsExactly("imported dag/laptop");
        clock.move(Duration.ofDays(31));
        tender.signIn("owner", RunningService.PASSWORD);
        database.makeJobsDue();
        tender.until("/file-requests", r -> !r.json().path("requests").isEmpty());
        assertThat(requested()).containsExactly("renewal dag/laptop as dag");
        assertThat(tender.get("/file-requests").text()).contains("make new certificates or keys for the user dag");

        assertThat(states(imported("dag.ovpn", first))).containsExactly("present dag/laptop");
        assertThat(requested()).hasSize(1); // an old file answers nothing
        assertThat(states(imported("dag.ovpn", device.export("dag", REMOTE, Duration.ofDays(40)))))
                .containsExactly("refused dag/laptop"); // it ends before the one that is there
        assertThat(requested()).hasSize(1);
        assertThat(states(imported("dag.ovpn", device.export("dag", REMOTE, Duration.ofDays(400)))))
                .containsExactly("renewed dag/laptop");
        assertThat(requested()).isEmpty();
        JsonNode profile = tender.get("/profiles/labelled/dag-laptop-pier7").json();
        assertThat(profile.path("revisions")).hasSize(2);
        assertThat(profile.path("state").asText()).isEqualTo("ready");
    }

    @Test
    void aNewFileOfTheSameNameIsTheNextRevisionAndAnEarlierOneIsKnown() {
        String one = device.export("eli", REMOTE, Duration.ofDays(60));
        String other = device.export("eli", REMOTE, Duration.ofDays(90));
        imported("eli.ovpn", one);

        assertThat(states(imported("eli.ovpn", other))).containsExactly("renewed eli/laptop");
        assertThat(states(imported("eli.ovpn", one))).containsExactly("present eli/laptop");
    }
}
