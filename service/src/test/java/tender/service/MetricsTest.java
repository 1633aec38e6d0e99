package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.locks.LockSupport;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.store.testing.TestDatabase;

/** What monitoring collects from a node, and what a load balancer asks it. */
class MetricsTest {
    private final TestDatabase database = TestDatabase.fresh();
    private final HttpClient http = HttpClient.newHttpClient();

    @TempDir
    Path folder;

    private RunningService tender;

    @BeforeEach
    void start() throws Exception {
        tender = RunningService.start(
                database, folder.resolve("data"), null, Map.of("TENDER_METRICS_ADDRESS", "127.0.0.1:0"));
    }

    @AfterEach
    void stop() throws Exception {
        tender.close();
        database.close();
    }

    private HttpResponse<String> ask(int port, String path) throws Exception {
        return http.send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    private String collected() throws Exception {
        HttpResponse<String> answer = ask(tender.service.metricsPort(), "/metrics");
        assertThat(answer.statusCode()).isEqualTo(200);
        assertThat(answer.headers().firstValue("Content-Type").orElse("")).startsWith("text/plain; version=0.0.4");
        return answer.body();
    }

    private static double value(String text, String name, String... labels) {
        return text.lines()
                .filter(l -> l.startsWith(name + "{") || l.startsWith(name + " "))
                .filter(l -> List.of(labels).stream().allMatch(l::contains))
                .mapToDouble(l -> Double.parseDouble(l.substring(l.lastIndexOf(' ') + 1)))
                .sum();
    }

    @Test
    void requestsAreCountedByRouteAndNeverByWhatTheyAreAbout() throws Exception {
        String[] route = {"method=\"GET\"", "route=\"/people/{handle}\""};
        tender.post("/people", Map.of("handle", "mara", "name", "Mara Quillfeather"));
        String before = collected();
        tender.get("/people/mara");
        tender.get("/people/mara");
        tender.get("/people/nobody-there");
        tender.get("/nothing/here");

        String text = collected();

        assertThat(value(text, "tender_requests_seconds_count", route[0], route[1], "status=\"2xx\"")
                        - value(before, "tender_requests_seconds_count", route[0], route[1], "status=\"2xx\""))
                .isEqualTo(2);
        assertThat(value(text, "tender_requests_seconds_count", route[0], route[1], "status=\"4xx\""))
                .as("refused calls count as such")
                .isEqualTo(1);
        assertThat(text).doesNotContain("mara").doesNotContain("nobody-there").doesNotContain("nothing/here");
        assertThat(text).doesNotContainPattern(Pattern.compile("[0-9a-f]{8}-[0-9a-f]{4}-"));
    }

    @Test
    void jobsPoolAndFleetAreSaid() throws Exception {
        for (String site : List.of("pier-one", "pier-two")) {
            tender.post("/sites", Map.of("name", site, "title", site, "networks", Map.of("office", "10.20.4.0/24")));
        }
        until(() -> value(collected(), "tender_jobs_seconds_count", "lane=\"upkeep\"", "outcome=\"done\"") > 0);
        until(() -> value(collected(), "tender_fleet_findings", "accepted=\"false\"") > 0);
        String text = collected();

        assertThat(value(text, "tender_database_connections_open")).isPositive();
        assertThat(value(text, "tender_fleet_jobs", "kind=\"housekeeping\"", "state=\"waiting\""))
                .isEqualTo(1);
        assertThat(value(text, "jvm_memory_used_bytes")).isPositive();
        assertThat(ask(tender.service.metricsPort(), "/metrics/more").statusCode())
                .isEqualTo(404);
        assertThat(ask(tender.service.port(), "/metrics").body())
                .as("the console's address does not say them")
                .doesNotContain("tender_jobs");
    }

    @Test
    void aNodeIsReadyWhileItReachesTheDatabaseAndLiveWhileItRuns() throws Exception {
        assertThat(ask(tender.service.port(), "/health/live").statusCode()).isEqualTo(200);
        assertThat(ask(tender.service.port(), "/health/ready").body()).isEqualTo("ready\n");

        database.execute("alter database " + database.name() + " allow_connections false");
        database.execute(
                "select pg_terminate_backend(pid) from pg_stat_activity where datname = '" + database.name() + "'");
        try {
            until(() -> ask(tender.service.port(), "/health/ready").statusCode() == 503);
            assertThat(ask(tender.service.port(), "/health/live").statusCode()).isEqualTo(200);
            assertThat(value(collected(), "jvm_memory_used_bytes"))
                    .as("the node's own measures are still said")
                    .isPositive();
        } finally {
            database.execute("alter database " + database.name() + " allow_connections true");
        }
        until(() -> ask(tender.service.port(), "/health/ready").statusCode() == 200);
    }

    private static void until(Callable<Boolean> condition) throws Exception {
        Instant end = Instant.now().plusSeconds(30);
        while (!condition.call()) {
            assertThat(Instant.now()).as("the condition came true in time").isBefore(end);
            LockSupport.parkNanos(50_000_000);
        }
    }
}
