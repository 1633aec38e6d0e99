package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.LockSupport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** A hundred gateways read at once: bounded, and one that accepts and says nothing delays nobody. */
class ManyGatewaysTest {
    private static final int MANY = 100;
    private static final int WORKERS = 6;

    @TempDir
    Path folder;

    @Test
    void aHundredAreReadAtOnceWithinBoundsAndADeadOneDelaysNobody() throws Exception {
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.74.1");
                TestDatabase database = TestDatabase.fresh();
                RunningService tender = RunningService.start(
                        database, folder.resolve("data"), office, Map.of("TENDER_WATCH_SECONDS", "3600"));
                ServerSocket silent = new ServerSocket(0, 50, InetAddress.getByName("127.10.74.2"))) {
            String first = tender.addRouter(office);
            String identity = tender.get("/gateways/" + first).field("identity");
            Map<String, String> waiting = new HashMap<>();
            for (int i = 1; i < MANY; i++) {
                Reply added = tender.post(
                        "/gateways",
                        Map.of(
                                "name",
                                "gw" + i,
                                "site",
                                "pier-two",
                                "address",
                                office.address(),
                                "port",
                                office.router().sshPort(),
                                "user",
                                SmallOffice.USER,
                                "key",
                                office.key()));
                tender.post("/gateways/" + added.field("id") + "/accept", Map.of("identity", identity));
                waiting.put(added.field("id"), "gw" + i);
            }
            for (String id : waiting.keySet()) {
                tender.until("/gateways/" + id, r -> !r.field("readAt").equals("null"));
            }
            AtomicInteger now = new AtomicInteger();
            AtomicInteger most = new AtomicInteger();
            office.router().faults().beforeOperation = operation -> {
                if (operation.equals("status")) {
                    most.accumulateAndGet(now.incrementAndGet(), Math::max);
                    LockSupport.parkNanos(40_000_000); // a device takes a moment, so that several are at it
                    now.decrementAndGet();
                }
            };
            try (var db = database.open()) {
                db.run(tx -> tx.update(
                        "update gateway set address = '127.10.74.2', port = ? where name = 'gw50'",
                        p -> p.integer(silent.getLocalPort())));
            }
            int threads = Thread.activeCount();

            Instant from = Instant.now();
            JsonNode jobs = tender.post("/gateways/read", null).json().path("jobs");
            assertThat(jobs).hasSize(MANY);
            for (JsonNode job : jobs) {
                if (!job.path("gateway").asText().equals("gw50")) {
                    Reply done = tender.until(
                            "/jobs/" + job.path("jobId").asText(),
                            r -> !r.field("endedAt").equals("null"));
                    assertThat(done.field("state")).as(done.text()).isEqualTo("done");
                }
            }
            Duration took = Duration.between(from, Instant.now());
            System.out.println("99 gateways read in " + took.toMillis() + " ms beside one that says nothing");

            assertThat(most.get()).as("read at once").isBetween(2, WORKERS);
            assertThat(Thread.activeCount() - threads).as("threads added").isLessThan(20);
            assertThat(took).as("one that says nothing delays nobody").isLessThan(Duration.ofSeconds(60));
            tender.until("/gateways/named/gw50", r -> !r.field("readProblem").equals("null"));
        }
    }
}
