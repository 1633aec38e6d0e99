package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.profile.WireGuardFile;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Hundreds of devices at once: one transaction, one write at the gateway. */
class ManyDevicesTest {
    private static final int DEVICES = 300;

    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.97.1", 22);
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        gateway = tender.addRouter(office);
        StringBuilder people = new StringBuilder("handle,name,mail,team,device,kind,system\n");
        for (int i = 0; i < DEVICES / 2; i++) {
            people.append(
                    "staff%d,Person %d,,,phone,phone,\nstaff%d,Person %d,,,laptop,laptop,\n".formatted(i, i, i, i));
        }
        tender.post("/people/import", Map.of("csv", people.toString()));
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private int backups() {
        return tender.get("/backups?gateway=" + gateway + "&limit=200")
                .json()
                .path("items")
                .size();
    }

    @Test
    void everyDeviceGetsOneWithOneWriteAtTheGateway() throws Exception {
        tender.issue("staff0", "phone");
        int before = backups();
        Reply dry = tender.post("/profiles/many", Map.of("gateway", "pier2", "dryRun", true));
        assertThat(dry.json().path("issued")).hasSize(DEVICES - 1);
        assertThat(dry.json().path("present")).hasSize(1);
        assertThat(tender.get("/profiles?limit=200").json().path("items"))
                .as("a dry run")
                .hasSize(1);

        Instant began = Instant.now();
        Reply many = tender.post("/profiles/many", Map.of("gateway", "pier2"));
        assertThat(many.status()).as(many.text()).isEqualTo(202);
        tender.until("/jobs/" + many.field("jobId"), r -> r.field("state").equals("done"));
        Duration took = Duration.between(began, Instant.now());
        System.out.println(DEVICES + " devices issued, written, read back in " + took.toMillis() + " ms");

        assertThat(took).isLessThan(Duration.ofSeconds(20)); // 5 s are asked for on a quiet machine
        assertThat(backups()).as("one backup, one write").isEqualTo(before + 1);
        WireGuardFile file =
                WireGuardFile.read(Files.readString(office.tunnelFile())).file();
        Set<String> addresses = new HashSet<>();
        file.peers().forEach(p -> p.allowed().forEach(a -> addresses.add(a.toString())));
        assertThat(file.peers()).hasSize(DEVICES);
        assertThat(addresses).as("every device its own address").hasSize(DEVICES);
        Reply again = tender.post("/profiles/many", Map.of("gateway", "pier2"));
        assertThat(again.json().path("issued")).isEmpty();
        assertThat(again.field("jobId")).isEqualTo("null");
    }
}
