package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.network.InterfaceAddress;
import tender.core.profile.WireGuardFile;
import tender.standins.office.SmallOffice;

/**
 * The service is killed with -9 at every step of issuing: whenever the router is about to be asked something, it is held
 * there, the service dies, the router goes on, the service starts again. Records and router must agree each time.
 */
class KilledTest {
    /** Each operation the router sees while a profile is issued, and which of its kind to stop at. */
    private static final List<String> STEPS = List.of(
            "list 1",
            "read 1",
            "lock 1",
            "read 3",
            "write 1",
            "write 2",
            "read 4",
            "rename 1",
            "reload 1",
            "read 5",
            "status 1",
            "unlock 1");

    @TempDir
    Path folder;

    /** Holds the router before the n-th operation of a kind until let go. */
    private static final class Hold {
        private final String operation;
        private final int at;
        private int seen;
        private final CountDownLatch reached = new CountDownLatch(1);
        private final CountDownLatch letGo = new CountDownLatch(1);

        private Hold(String step) {
            operation = step.substring(0, step.indexOf(' '));
            at = Integer.parseInt(step.substring(step.indexOf(' ') + 1));
        }

        private void before(String next) {
            synchronized (this) {
                if (!next.equals(operation) || ++seen != at) {
                    return;
                }
            }
            reached.countDown();
            try {
                letGo.await(30, TimeUnit.SECONDS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }

    /** So that what a router is asked is only what the test counts. */
    private static final Map<String, String> NO_POLLING = Map.of("TENDER_WATCH_SECONDS", "3600");

    @Test
    void recordsAndRouterAgreeWhereverTheServiceDies() throws Exception {
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.74.1");
                Tender tender = new Tender(folder, office, NO_POLLING)) {
            tender.addRouter(office, "mara", "phone");
            StringBuilder people = new StringBuilder("handle,name,mail,team,device,kind,system\n");
            for (int i = 0; i < STEPS.size(); i++) {
                people.append("p").append(i).append(",Person ").append(i).append(",,,phone,phone,\n");
            }
            tender.client(
                    "person",
                    "import",
                    Files.writeString(folder.resolve("people.csv"), people).toString());
            for (int i = 0; i < STEPS.size(); i++) {
                String handle = "p" + i;
                killAt(STEPS.get(i), handle, office, tender);
                assertAgree(STEPS.get(i), office, tender, i + 1);
            }
            Set<String> addresses = new HashSet<>();
            for (JsonNode profile : tender.json("profile", "list")) {
                assertThat(addresses.add(profile.path("addresses").get(0).asText()))
                        .isTrue();
            }
            assertThat(addresses).hasSize(STEPS.size());
            assertThat(Files.list(office.tunnelFile().getParent())
                            .map(p -> p.getFileName().toString())
                            .filter(n -> n.endsWith(".lock")))
                    .isEmpty();
        }
    }

    /** Half written, written and not reloaded, reloaded and not noted. */
    private static final List<String> STEPS_OF_MANY = List.of("write 2", "reload 1", "unlock 1");

    private static final int EACH_TIME = 300;

    @Test
    void hundredsAtOnceAreAllThereOrComeWhereverTheServiceDies() throws Exception {
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.75.1", 18);
                Tender tender = new Tender(folder, office, NO_POLLING)) {
            tender.addRouter(office, "mara", "phone");
            for (int i = 0; i < STEPS_OF_MANY.size(); i++) {
                StringBuilder people = new StringBuilder("handle,name,mail,team,device,kind,system\n");
                for (int n = 0; n < EACH_TIME; n++) {
                    people.append("t%dp%d,Person %d,,round%d,phone,phone,\n".formatted(i, n, n, i));
                }
                tender.client(
                        "person",
                        "import",
                        Files.writeString(folder.resolve("people.csv"), people).toString());
                int round = i;
                killDuring(
                        STEPS_OF_MANY.get(i),
                        office,
                        tender,
                        () -> tender.tryClient(
                                "profile", "issue", "--gateway", "pier2", "--team", "round" + round, "--yes"));
                assertAgree(STEPS_OF_MANY.get(i), office, tender, EACH_TIME * (i + 1));
            }
        }
    }

    private static void killAt(String step, String handle, SmallOffice office, Tender tender) throws Exception {
        killDuring(
                step,
                office,
                tender,
                () -> tender.tryClient("profile", "issue", handle, "phone", "--gateway", "pier2"));
    }

    private static void killDuring(String step, SmallOffice office, Tender tender, Runnable issuing) throws Exception {
        Hold hold = new Hold(step);
        office.router().faults().beforeOperation = hold::before;
        Thread call = new Thread(issuing);
        call.start();
        boolean reached = hold.reached.await(20, TimeUnit.SECONDS);
        tender.kill();
        hold.letGo.countDown();
        office.router().faults().beforeOperation = operation -> {};
        assertThat(reached).as("issuing comes to " + step).isTrue();
        call.join();
        tender.start();
        tender.moved();
    }

    private static void assertAgree(String step, SmallOffice office, Tender tender, int profiles) {
        Shell.until(
                "all profiles to be ready after a kill at " + step,
                Duration.ofSeconds(30),
                () -> tender.query("select count(*) from profile where state = 'ready'")
                        .equals(Integer.toString(profiles)));
        Set<String> records = tender.query(
                        "select k.public_part || ' ' || host(a.address) from profile p join profile_listener l on l.profile_id = p.id"
                                + " join credential k on k.id = l.key_id join tunnel_address a on a.profile_id = p.id")
                .lines()
                .collect(Collectors.toSet());
        Set<String> written;
        try {
            written = WireGuardFile.read(Files.readString(office.tunnelFile())).file().peers().stream()
                    .map(p -> p.publicKey().orElseThrow() + " "
                            + p.allowed().stream()
                                    .map(InterfaceAddress::address)
                                    .findFirst()
                                    .orElseThrow())
                    .collect(Collectors.toSet());
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        assertThat(written).as("after a kill at " + step).isEqualTo(records);
        assertThat(tender.query("select count(*) from desired_resource where observed_generation < generation"))
                .isEqualTo("0");
    }
}
