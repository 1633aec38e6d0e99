package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.service.RunningService.Reply;
import tender.service.http.Role;
import tender.store.testing.TestDatabase;

/** Who may call what, written down here a second time: a role that is loosened in the code fails against this table. */
class RouteTableTest {
    /** Verb, path, the roles that may, and whether a fresh sign-in is asked for. */
    private static final String TABLE = """
            GET /health open
            GET /openapi.json open
            POST /sign-in open
            POST /sign-out owner operator auditor staff vantage
            GET /me owner operator auditor staff vantage
            POST /me/fresh owner operator auditor staff vantage
            POST /me/password owner operator auditor staff vantage
            POST /me/code owner operator auditor staff vantage
            POST /me/code/confirm owner operator auditor staff vantage
            GET /me/tokens owner operator auditor staff vantage
            DELETE /me/tokens/{id} owner operator auditor staff vantage
            GET /operators owner operator auditor
            POST /operators owner fresh
            POST /operators/{name}/disable owner fresh
            POST /operators/{name}/enable owner fresh
            POST /operators/{name}/role owner fresh
            POST /operators/{name}/password owner fresh
            POST /operators/{name}/reset-code owner fresh
            GET /operators/{name}/tokens owner
            POST /operators/{name}/end-tokens owner fresh
            GET /sites owner operator auditor
            POST /sites owner operator
            PATCH /sites/{id} owner operator
            GET /sites/named/{name} owner operator auditor
            GET /gateways owner operator auditor
            POST /gateways owner operator
            GET /gateways/{id} owner operator auditor
            PATCH /gateways/{id} owner operator
            GET /gateways/named/{name} owner operator auditor
            POST /gateways/{id}/accept owner operator fresh
            POST /gateways/{id}/read owner operator
            POST /gateways/read owner operator
            POST /gateways/{id}/backups owner operator
            POST /gateways/{id}/dropped owner operator
            POST /gateways/{id}/apply owner operator
            GET /device-descriptions owner operator auditor
            POST /device-descriptions owner operator
            GET /device-descriptions/{name}/text owner operator auditor
            POST /device-descriptions/{name}/check owner operator
            POST /device-descriptions/{name}/approve owner fresh
            POST /gateways/{id}/changes/preview owner operator auditor
            POST /gateways/{id}/changes owner operator
            GET /gateways/{id}/changes owner operator auditor
            POST /change-sets/preview owner operator auditor
            POST /change-sets owner operator
            GET /change-sets owner operator auditor
            GET /change-sets/{id} owner operator auditor
            GET /changes/temporary owner operator auditor
            GET /changes/{id} owner operator auditor
            POST /changes/{id}/keep owner operator
            POST /changes/{id}/rollback owner operator
            GET /gateways/{id}/drift owner operator auditor
            POST /gateways/{id}/drift/note owner operator
            GET /gateways/{id}/facts owner operator auditor
            GET /gateways/{id}/log owner operator
            POST /walks owner operator auditor
            GET /explain/settings owner operator auditor
            GET /explain/ports owner operator auditor
            GET /explain/needs owner operator auditor
            POST /explain/choose owner operator auditor
            POST /explain/network owner operator auditor
            POST /explain/log owner operator auditor
            POST /inspections owner operator auditor
            GET /network-sheet owner operator auditor
            GET /languages owner operator auditor
            GET /people owner operator auditor
            POST /people owner operator
            GET /teams owner operator auditor
            GET /people/{handle} owner operator auditor
            PATCH /people/{handle} owner operator
            POST /people/import owner operator
            POST /people/{handle}/devices owner operator
            POST /people/{handle}/devices/{device} owner operator
            GET /people/{handle}/removal owner operator auditor
            DELETE /people/{handle} owner operator
            GET /people/{handle}/devices/{device}/removal owner operator auditor
            DELETE /people/{handle}/devices/{device} owner operator
            POST /teams/{name} owner operator
            GET /teams/{name}/removal owner operator auditor
            DELETE /teams/{name} owner operator
            GET /vantages/{name}/removal owner operator auditor
            DELETE /vantages/{name} owner operator
            GET /gateways/{id}/removal owner operator auditor
            DELETE /gateways/{id} owner operator
            GET /sites/{id}/removal owner operator auditor
            DELETE /sites/{id} owner operator
            GET /operators/{name}/removal owner
            DELETE /operators/{name} owner fresh
            GET /device-descriptions/{name}/removal owner operator auditor
            DELETE /device-descriptions/{name} owner operator
            GET /profiles owner operator auditor
            POST /profiles owner operator
            GET /profiles/{id} owner operator auditor
            GET /profiles/labelled/{label} owner operator auditor
            POST /profiles/many owner operator
            POST /profiles/{id}/renew owner operator
            POST /people/{handle}/leave owner operator
            POST /people/{handle}/devices/{device}/lost owner operator
            GET /departures owner operator auditor
            GET /departures/{id} owner operator auditor
            POST /departures/{id}/check owner operator
            POST /provisions owner operator
            GET /provisions owner operator auditor
            POST /provisions/{id}/withdraw owner operator
            GET /enrolments owner operator auditor
            POST /people/{handle}/devices/{device}/end-enrolment owner operator
            GET /instructions owner operator auditor
            GET /instructions/{id} owner operator auditor
            POST /instructions/{id}/show owner operator fresh
            POST /instructions/{id}/done owner operator
            POST /instructions/{id}/cancel owner operator
            POST /gateways/{id}/instructions/send owner operator
            POST /gateways/{id}/instructions/sheet owner operator fresh
            POST /profiles/{id}/withdraw owner operator
            GET /grants owner operator auditor
            POST /grants owner operator
            DELETE /grants/{id} owner operator
            GET /profiles/{id}/inside owner operator auditor
            GET /profiles/{id}/settings owner operator auditor
            GET /handouts owner operator auditor
            POST /handouts owner operator fresh
            GET /handouts/{id} owner operator auditor
            POST /handouts/many owner operator fresh
            GET /profiles/{id}/fitness owner operator auditor
            POST /handouts/{id}/sent owner operator
            POST /handouts/{id}/withdraw owner operator
            POST /handouts/withdraw owner operator
            GET /trials owner operator auditor
            POST /trials owner operator
            GET /trials/{id} owner operator auditor
            GET /vantages owner operator auditor
            POST /vantage/next vantage
            POST /vantage/trials/{id} vantage
            POST /trials/reported owner operator
            GET /expiries owner operator auditor
            GET /file-requests owner operator auditor
            DELETE /file-requests/{id} owner operator
            GET /gateways/{id}/file-requests owner operator auditor
            POST /gateways/{id}/file-requests owner operator
            POST /gateways/{id}/recognise owner operator
            GET /monitors owner operator auditor
            POST /monitors owner operator
            GET /monitors/counts owner operator auditor
            GET /monitors/{id} owner operator auditor
            GET /monitors/{id}/history owner operator auditor
            POST /monitors/{id} owner operator
            DELETE /monitors/{id} owner operator
            GET /sessions owner operator auditor
            GET /lifetimes owner operator auditor
            GET /authorities owner operator auditor
            POST /authorities owner fresh
            POST /authorities/taken-in owner fresh
            GET /authorities/{id}/list owner operator auditor
            GET /authorities/{id}/certificates owner operator auditor
            POST /authorities/{id}/certificates owner operator fresh
            POST /certificates/{serial}/revoke owner operator
            POST /gateways/{id}/certificate owner operator
            POST /gateways/{id}/imports owner operator
            POST /imports owner operator
            POST /gateways/{id}/listeners/{listener} owner operator
            DELETE /gateways/{id}/listeners/{listener} owner operator
            GET /backups owner operator auditor
            GET /backups/{id} owner operator auditor
            POST /backups/{id}/download owner operator fresh
            GET /findings owner operator auditor
            POST /findings/accept owner operator
            POST /findings/reopen owner operator
            POST /findings/preview owner operator auditor
            POST /findings/fix owner operator
            GET /keys/rotation owner operator auditor
            POST /keys/rotate owner fresh
            GET /jobs owner operator auditor
            GET /jobs/{id} owner operator auditor
            POST /jobs/{id}/cancel owner operator
            GET /journal owner operator auditor
            POST /journal/verify owner operator auditor
            GET /overview owner operator auditor
            GET /search owner operator auditor
            GET /events owner operator auditor
            """;

    private static final List<Row> ROWS = TABLE.lines().map(Row::of).toList();

    private record Row(String verb, String path, Set<String> roles, boolean fresh) {
        static Row of(String line) {
            List<String> words = List.of(line.split(" "));
            Set<String> roles = new HashSet<>(words.subList(2, words.size()));
            boolean fresh = roles.remove("fresh");
            roles.remove("open");
            return new Row(words.get(0), words.get(1), roles, fresh);
        }

        String called() {
            return path.replace("{id}", "00000000-0000-7000-8000-000000000000").replaceAll("\\{[a-z]+}", "nobody");
        }

        /** Calls that would end or change the very sign-in that asks. */
        boolean ownSignIn() {
            return path.startsWith("/me") || path.equals("/sign-out");
        }
    }

    @TempDir
    static Path folder;

    private static TestDatabase database;
    private static RunningService tender;
    private static String owner;

    @BeforeAll
    static void open() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder, null, Map.of());
        owner = tender.token();
        for (String role : List.of("operator", "auditor", "staff", "vantage")) {
            tender.post("/operators", Map.of("name", role, "role", role, "password", "first-password-" + role));
        }
    }

    @AfterAll
    static void close() throws Exception {
        tender.close();
        database.close();
    }

    @BeforeEach
    void asOwner() {
        tender.use(owner);
    }

    private static Reply call(Row row, Map<String, String> headers) {
        return tender.send(row.verb(), tender.url(row.called()), row.verb().equals("GET") ? null : "{}", headers);
    }

    private static void as(String role) {
        if (!role.equals("owner")
                && tender.signIn(role, "first-password-" + role).status() == 200) {
            tender.post("/me/password", Map.of("old", "first-password-" + role, "fresh", "second-password-" + role));
        }
    }

    @Test
    void everyRouteStandsInTheTableAndNothingElse() {
        Set<String> code = new TreeSet<>();
        tender.service
                .routes()
                .forEach(r -> code.add(r.verb() + " " + r.path() + " "
                        + new TreeSet<>(r.roles().stream().map(Role::word).toList()) + " " + r.fresh()));
        Set<String> table = new TreeSet<>();
        ROWS.forEach(r -> table.add(r.verb() + " " + r.path() + " " + new TreeSet<>(r.roles()) + " " + r.fresh()));

        assertThat(code).isEqualTo(table);
    }

    @Test
    void whoeverIsNotSignedInGetsOpenRoutesAlone() {
        for (Row row : ROWS) {
            Reply reply = call(row, Map.of("Accept", "text/event-stream, */*"));
            assertThat(reply.status() == 401 && reply.field("code").equals("not-signed-in"))
                    .as(row + ": " + reply.text())
                    .isEqualTo(!row.roles().isEmpty());
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"owner", "operator", "auditor", "staff", "vantage"})
    void eachRoleGetsItsRowsAlone(String role) {
        as(role);
        for (Row row : ROWS) {
            boolean stream = row.path().equals("/events") && row.roles().contains(role);
            boolean waits = row.path().equals("/vantage/next") && row.roles().contains(role);
            if (!row.roles().isEmpty() && !row.ownSignIn() && !stream && !waits) {
                Reply reply = call(row, tender.bearer());
                assertThat(reply.status() == 403 && reply.field("code").equals("not-allowed"))
                        .as(role + " " + row + ": " + reply.text())
                        .isEqualTo(!row.roles().contains(role));
                assertThat(reply.status())
                        .as(role + " " + row + " with an empty body: " + reply.text())
                        .isNotEqualTo(500);
            }
        }
    }

    @Test
    void aTokenForReadingGetsWhatAnAuditorGets() {
        Reply signedIn = tender.send(
                "POST",
                tender.url("/sign-in"),
                Map.of(
                        "name",
                        "owner",
                        "password",
                        RunningService.PASSWORD,
                        "forClient",
                        true,
                        "scope",
                        "read",
                        "days",
                        2),
                Map.of());
        Map<String, String> reading = Map.of("Authorization", "Bearer " + signedIn.field("token"));
        for (Row row : ROWS) {
            if (!row.roles().isEmpty() && !row.ownSignIn() && !row.path().equals("/events")) {
                Reply reply = call(row, reading);
                assertThat(reply.status() == 403 && reply.field("code").equals("not-allowed"))
                        .as(row + ": " + reply.text())
                        .isEqualTo(!row.roles().contains("auditor"));
            }
        }
        assertThat(tender.get("/me/tokens").json().path("items").findValuesAsText("scope"))
                .contains("read", "operate");
    }
}
