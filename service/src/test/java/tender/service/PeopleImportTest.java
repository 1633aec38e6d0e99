package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.store.testing.TestDatabase;

/** A list of people is imported again whenever it changes. */
class PeopleImportTest {
    private static final String LIST = """
            handle,name,mail,team,device,kind,system
            mara,Mara Quillfeather,mara@skerrivane.example,masters,phone,phone,Android 16
            mara,,,,laptop,laptop,
            joss,Joss Pell,,,,,
            """.replace("mara,,,,laptop", "mara,Mara Quillfeather,,,laptop");

    @TempDir
    Path folder;

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

    private JsonNode imported(String list, boolean dryRun) {
        Reply reply = tender.post("/people/import", Map.of("csv", list, "dryRun", dryRun));
        assertThat(reply.status()).as(reply.text()).isEqualTo(200);
        return reply.json();
    }

    private static String counts(JsonNode n) {
        return n.path("people") + " " + n.path("devices") + " " + n.path("changed") + " " + n.path("unchanged");
    }

    @Test
    void theSameListAgainChangesNothingAndADryRunSaysWhatTheRunDoes() {
        assertThat(counts(imported(LIST, true))).isEqualTo("2 2 0 0");
        assertThat(tender.get("/people").json().path("items")).isEmpty();
        assertThat(counts(imported(LIST, false))).isEqualTo("2 2 0 0");
        tender.addPerson("edda");

        JsonNode again = imported(LIST, true);
        assertThat(counts(again)).isEqualTo("0 0 0 4");
        assertThat(again.path("gone").toString()).isEqualTo("[\"edda\"]");
        assertThat(counts(imported(LIST, false))).isEqualTo("0 0 0 4");
        database.expect("select count(*) from device", 2);
    }

    @Test
    void namesAloneMeanThoseWhoAreThereByMailOrName() {
        imported(LIST, false);

        JsonNode done =
                imported("Mara Q.\tMARA@skerrivane.example\nJoss Pell\t\nNew One\tnew.one@skerrivane.example\n", false);

        assertThat(done.path("people").asInt()).as("only one is new").isEqualTo(1);
        assertThat(tender.get("/people/mara").field("name")).isEqualTo("Mara Q.");
        assertThat(tender.get("/people/new.one").field("name")).isEqualTo("New One");
        assertThat(counts(imported("name\nMara Q.\nJoss Pell\nNew One\n", true)))
                .isEqualTo("0 0 0 3");
    }

    @Test
    void aHandleThatWouldBeMadeIsNeverAnothersPersons() {
        imported(LIST, false);

        Reply another =
                tender.post("/people/import", Map.of("csv", "Mara Other\tmara@elsewhere.example\n", "dryRun", false));

        assertThat(another.status()).as(another.text()).isEqualTo(400);
        assertThat(another.text()).contains("line 1", "mara is somebody else here");
        assertThat(tender.get("/people/mara").field("name")).isEqualTo("Mara Quillfeather");
    }

    @Test
    void whatTheListSaysOtherwiseIsChangedAndWhatItLeavesEmptyStays() {
        imported(LIST, false);

        JsonNode changed = imported(
                "handle,name,team,device,kind,system\nmara,Mara Quillfeather,engineers,phone,tablet,\nnew,New One,,,,\n",
                false);

        assertThat(counts(changed)).isEqualTo("1 0 2 0");
        assertThat(changed.path("changes").get(0).toString()).contains("\"line\":2", "team");
        JsonNode mara = tender.get("/people/mara").json();
        assertThat(mara.path("team").asText()).isEqualTo("engineers");
        assertThat(mara.path("mail").asText()).isEqualTo("mara@skerrivane.example");
        assertThat(mara.path("devices").toString()).contains("tablet", "Android 16");
        assertThat(tender.get("/people/joss").status()).as("nobody is removed").isEqualTo(200);
    }

    @Test
    void aWrongLineIsNamedAndNothingIsKept() {
        Reply wrong = tender.post("/people/import", Map.of("csv", LIST + "Not A Handle,x,,,,,\n"));

        assertThat(wrong.status()).isEqualTo(400);
        assertThat(wrong.text()).contains("line 5");
        assertThat(tender.get("/people").json().path("items")).isEmpty();
    }
}
