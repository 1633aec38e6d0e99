package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Lists sorted by the service: every column that the document offers, both ways, page by page. */
class SortedListsTest {
    private static final int PEOPLE = 23;
    private static final Pattern OFFER = Pattern.compile("\\?sort= ([a-z, ]+), with -");
    /** Where the value stands by which a column sorts, where it is in the answer as it is. */
    private static final Map<String, String> VALUES = Map.ofEntries(
            Map.entry("/people name", "name"),
            Map.entry("/people handle", "handle"),
            Map.entry("/people team", "team"),
            Map.entry("/people devices", "deviceCount"),
            Map.entry("/profiles label", "label"),
            Map.entry("/profiles gateway", "gateway"),
            Map.entry("/profiles person", "personName"),
            Map.entry("/profiles state", "state"),
            Map.entry("/handouts profile", "profile"),
            Map.entry("/handouts person", "personName"),
            Map.entry("/handouts prepared", "preparedAt"),
            Map.entry("/backups taken", "takenAt"),
            Map.entry("/backups size", "bytes"),
            Map.entry("/gateways name", "name"));

    @TempDir
    static Path folder;

    private static SmallOffice office;
    private static TestDatabase database;
    private static RunningService tender;

    @BeforeAll
    static void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.99.1", 22);
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        String gateway = tender.addRouter(office);
        StringBuilder people = new StringBuilder("handle,name,mail,team,device,kind,system\n");
        for (int i = 0; i < PEOPLE; i++) {
            // ties in team and number of devices: rows that are equal must not be lost between two pages
            people.append("staff%02d,Person%02d,,%s,phone,phone,\n"
                    .formatted(i, i * 7 % PEOPLE, i % 3 == 0 ? "" : "team" + i % 2));
        }
        tender.post("/people/import", Map.of("csv", people.toString()));
        Reply many = tender.post("/profiles/many", Map.of("gateway", "pier2"));
        tender.until("/jobs/" + many.field("jobId"), r -> r.field("state").equals("done"));
        tender.post("/handouts/many", Map.of("gateway", "pier2", "hours", 5));
        for (int i = 0; i < 3; i++) {
            tender.post("/gateways/" + gateway + "/backups", Map.of("reason", "copy " + i));
        }
    }

    @AfterAll
    static void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    /** The columns that each list of the OpenAPI document offers. */
    private static Map<String, List<String>> offers() {
        Map<String, List<String>> out = new LinkedHashMap<>();
        tender.get("/openapi.json").json().path("paths").properties().forEach(path -> {
            Matcher offer =
                    OFFER.matcher(path.getValue().path("get").path("summary").asText());
            if (offer.find()) {
                out.put(
                        path.getKey().replaceFirst("^/api/v1", ""),
                        Arrays.asList(offer.group(1).split(", ")));
            }
        });
        return out;
    }

    private static List<JsonNode> all(String path) {
        List<JsonNode> out = new ArrayList<>();
        String after = "";
        do {
            Reply page = tender.get(path + (path.contains("?") ? "&" : "?") + "limit=5" + after);
            assertThat(page.status()).as(path + ": " + page.text()).isEqualTo(200);
            page.json().path("items").forEach(out::add);
            JsonNode next = page.json().path("next");
            after = next.isTextual() ? "&after=" + next.asText() : "";
        } while (!after.isEmpty());
        return out;
    }

    private static List<String> keys(List<JsonNode> rows) {
        return rows.stream()
                .map(r -> r.path(r.has("id") ? "id" : "handle").asText())
                .toList();
    }

    @Test
    void everyColumnThatIsOfferedSortsAllRowsBothWays() {
        Map<String, List<String>> offers = offers();
        assertThat(offers.keySet())
                .containsExactlyInAnyOrder(
                        "/gateways", "/people", "/profiles", "/handouts", "/sessions", "/trials", "/backups");
        offers.forEach((list, columns) -> columns.forEach(column -> {
            List<JsonNode> own = all(list);
            List<JsonNode> up = all(list + "?sort=" + column);
            List<JsonNode> down = all(list + "?sort=-" + column);
            assertThat(keys(up))
                    .as(list + " by " + column)
                    .hasSameSizeAs(own)
                    .containsExactlyInAnyOrderElementsOf(keys(own));
            assertThat(new HashSet<>(keys(down))).as(list + " by -" + column).isEqualTo(new HashSet<>(keys(own)));
            String field = VALUES.get(list + " " + column);
            if (field != null) {
                assertThat(own).as(list).isNotEmpty();
                assertThat(values(up, field)).as(list + " by " + column).isSortedAccordingTo(order());
                assertThat(values(down, field)).as(list + " by -" + column).isSortedAccordingTo(order().reversed());
            }
        }));
    }

    /** Those that are there; where nothing stands comes last, either way. */
    private static List<JsonNode> values(List<JsonNode> rows, String field) {
        List<JsonNode> all = rows.stream().map(r -> r.path(field)).toList();
        int given = (int) all.stream().takeWhile(v -> !v.isNull()).count();
        assertThat(all.subList(given, all.size())).as(field).allMatch(JsonNode::isNull);
        return all.subList(0, given);
    }

    private static Comparator<JsonNode> order() {
        return (a, b) ->
                a.isNumber() ? Long.compare(a.asLong(), b.asLong()) : a.asText().compareTo(b.asText());
    }

    @Test
    void aColumnThatTheListDoesNotHaveIsRefusedWithThoseItHas() {
        Reply unknown = tender.get("/people?sort=shoe");
        assertThat(unknown.status()).isEqualTo(400);
        assertThat(unknown.text()).contains("handle, mail, name, team");
        assertThat(tender.get("/people?sort=name;drop").status()).isEqualTo(400);
        assertThat(tender.get("/people?sort=name&after=LTU").status())
                .as("no number of rows")
                .isEqualTo(400);
    }
}
