package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/** The staff's page as a process of its own, whose database user can read nothing but the parcel that a link opens. */
class StaffApartTest {
    @TempDir
    Path folder;

    private HttpResponse<String> collect(String page, String token, String passphrase) throws Exception {
        return HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(page + "/collect"))
                                .POST(HttpRequest.BodyPublishers.ofString(Tender.JSON.writeValueAsString(
                                        Map.of("token", token, "passphrase", passphrase))))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
    }

    @Test
    void theParcelIsCollectedByAProcessThatCanReadNothingElse() throws Exception {
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.88.1");
                Tender tender = new Tender(folder, office)) {
            tender.addRouter(office, "mara", "phone");
            tender.client("profile", "issue", "mara", "phone", "--gateway", "pier2");
            JsonNode prepared = tender.json("handout", "prepare", "mara-phone-pier2");
            String token = URI.create(prepared.path("link").asText()).getFragment();

            Path apart = Files.createDirectories(folder.resolve("apart"));
            Map<String, String> env = new HashMap<>(Map.of(
                    "TENDER_STAFF_RUN",
                    "only",
                    "TENDER_STAFF_PORT",
                    "0",
                    "TENDER_DATA_FOLDER",
                    apart.toString(),
                    "TENDER_DATABASE_URL",
                    tender.environment().get("TENDER_DATABASE_URL"),
                    "TENDER_DATABASE_USER",
                    "tender_staff",
                    "TENDER_DATABASE_PASSWORD_FILE",
                    Tender.passwordFile("staff-password").toString()));
            ProcessBuilder builder =
                    new ProcessBuilder(Shell.ROOT.resolve("bin/tender-service").toString());
            builder.environment().putAll(env);
            Process process = builder.redirectErrorStream(true)
                    .redirectOutput(folder.resolve("apart.log").toFile())
                    .start();
            try {
                Path address = apart.resolve("address");
                Shell.until("the staff's page to start", Duration.ofSeconds(40), () -> isWritten(address));
                String page = Files.readString(address).strip();

                assertThat(collect(page, token, "no-such-words-here-at-all").statusCode())
                        .isEqualTo(404);
                HttpResponse<String> got =
                        collect(page, token, prepared.path("passphrase").asText());
                assertThat(got.statusCode()).as(got.body()).isEqualTo(200);
                assertThat(got.body()).contains("PrivateKey");
                assertThat(Files.list(apart).map(p -> p.getFileName().toString()))
                        .as("no master key, no lock, nothing else")
                        .containsExactly("address");
                assertThat(HttpClient.newHttpClient()
                                .send(
                                        HttpRequest.newBuilder(URI.create(page + "/api/v1/health"))
                                                .build(),
                                        HttpResponse.BodyHandlers.discarding())
                                .statusCode())
                        .isEqualTo(404);
                Shell.until("the journal to have it", Duration.ofSeconds(40), () -> {
                    String journal = tender.client("journal", "list", "--json");
                    return journal.contains("handout-collected") && journal.contains("collection-failed");
                });
                aDeviceJoinsThere(tender, office, page);
                nothingElseCanBeRead(tender);
            } finally {
                process.destroy();
                process.waitFor();
            }
        }
    }

    /** What is sealed to a device passes through a process that can open none of it. */
    private void aDeviceJoinsThere(Tender tender, SmallOffice office, String page) {
        String made = tender.client(
                "provision", "create", "mara/phone", "--service", page, "--code", "--out", folder.toString());
        String code = made.replaceAll("(?s).*code for mara +(\\S+).*", "$1");
        String signer = made.replaceAll("(?s).*signer +(SHA256:\\S+).*", "$1");
        Path own = folder.resolve("phone");
        String command = Shell.ROOT.resolve("bin/tender") + " device join " + folder.resolve("mara-phone.tender")
                + " --signer " + signer + " --code-fd 3 --folder " + own.resolve("profiles") + " --resolver 127.0.0.1:"
                + office.names().port() + " 3<<<" + code;
        Shell.Result joined = Shell.run(
                Map.of("TENDER_CONFIG", own.toString(), "COLUMNS", "300"),
                Duration.ofSeconds(90),
                List.of("bash", "-c", command));
        assertThat(joined.code()).as(joined.out()).isZero();
        assertThat(joined.out()).contains("connects; use this one");
        assertThat(tender.client("provision", "devices")).containsPattern("mara/phone +joined +1 of 1 +1 of 1");
    }

    private static boolean isWritten(Path file) {
        try {
            return Files.exists(file) && Files.size(file) > 0;
        } catch (IOException e) {
            return false;
        }
    }

    private static void nothingElseCanBeRead(Tender tender) throws Exception {
        String password =
                Files.readString(Tender.passwordFile("staff-password")).strip();
        List<String> readable = new ArrayList<>();
        try (Connection staff = DriverManager.getConnection(
                        tender.environment().get("TENDER_DATABASE_URL"), "tender_staff", password);
                Statement statement = staff.createStatement()) {
            List<String> tables = new ArrayList<>();
            try (ResultSet rows = statement.executeQuery(
                    "select c.relname from pg_class c where c.relnamespace = 'public'::regnamespace and c.relkind in ('r', 'p', 'v', 'm', 'S')")) {
                while (rows.next()) {
                    tables.add(rows.getString(1));
                }
            }
            assertThat(tables).contains("person", "gateway", "credential", "journal", "operator", "handout", "backup");
            for (String table : tables) {
                try (ResultSet rows = statement.executeQuery("select * from \"" + table + "\"")) {
                    readable.add(table);
                } catch (SQLException e) {
                    assertThat(e.getSQLState()).as(table).isEqualTo("42501");
                }
            }
            assertThat(readable).as("what it may count attempts in").containsExactly("failed_attempt");
            try (ResultSet rows = statement.executeQuery(
                    "select count(*) from failed_attempt where subject not like 'link:%' and subject not like 'collect:%'")) {
                rows.next();
                assertThat(rows.getInt(1)).as("nobody's sign-ins").isZero();
            }
            List<String> callable = new ArrayList<>();
            try (ResultSet rows = statement.executeQuery(
                    "select p.proname from pg_proc p where p.pronamespace = 'public'::regnamespace and has_function_privilege(p.oid, 'execute') order by 1")) {
                while (rows.next()) {
                    callable.add(rows.getString(1));
                }
            }
            assertThat(callable).contains("staff_collect", "staff_pickup", "staff_revocations", "staff_tried");
            for (String sql : List.of(
                    "select session_month('session_2030_01', now(), now())",
                    "update handout set collections_left = 100",
                    "insert into operator (id) values (gen_random_uuid())",
                    "delete from journal",
                    "create table mine (a int)",
                    "set role tender_owner")) {
                assertThatThrownBy(() -> statement.execute(sql)).as(sql).isInstanceOf(SQLException.class);
            }
        }
    }
}
