package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.provision.SigningKey;
import tender.core.wire.Sha256;
import tender.standins.office.SmallOffice;

/** Devices that join with a provisioning file, by the client's binary, each with a folder of its own. */
class DevicesTest {
    private static final List<String> PEOPLE = List.of("mara", "bo", "cleo", "dag");

    @TempDir
    Path folder;

    private Tender tender;
    private SmallOffice office;

    /** A person's machine: the client with another folder, signed in nowhere. */
    private final class Machine {
        private final String name;
        private final Map<String, String> env = new HashMap<>(tender.environment());

        Machine(String name) {
            this.name = name;
            env.put("TENDER_CONFIG", folder.resolve(name).toString());
        }

        Path profiles() {
            return folder.resolve(name + "-profiles");
        }

        Path file() {
            return profiles().resolve(held().path("file").asText());
        }

        private List<String> command(String... words) {
            List<String> out =
                    new ArrayList<>(List.of(Shell.ROOT.resolve("bin/tender").toString(), "device"));
            out.addAll(List.of(words));
            return out;
        }

        Shell.Result run(String... words) {
            return Shell.run(env, Duration.ofSeconds(90), command(words));
        }

        Process start(String... words) throws IOException {
            ProcessBuilder builder = new ProcessBuilder(command(words));
            builder.environment().putAll(env);
            return builder.redirectErrorStream(true)
                    .redirectOutput(folder.resolve(name + ".log").toFile())
                    .start();
        }

        Shell.Result join(Path file, String signer) {
            return run(
                    "join",
                    file.toString(),
                    "--signer",
                    signer,
                    "--folder",
                    profiles().toString(),
                    "--resolver",
                    "127.0.0.1:" + office.names().port());
        }

        JsonNode held() {
            try {
                return Tender.JSON
                        .readTree(run("status", "--json", "--quiet").out())
                        .path(0);
            } catch (IOException e) {
                throw new IllegalStateException(e);
            }
        }
    }

    private JsonNode enrolment(String person) throws IOException {
        return tender.json("provision", "devices", "--person", person).path(0);
    }

    private boolean isCurrent(String person) {
        try {
            JsonNode e = enrolment(person);
            return e.path("current").asInt() == 1 && e.path("proven").asInt() == 1;
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private String create(String... words) throws IOException {
        List<String> all = new ArrayList<>(List.of("provision", "create"));
        all.addAll(List.of(words));
        all.addAll(List.of("--out", folder.toString(), "--gateway", "pier2"));
        return tender.client(all.toArray(String[]::new))
                .lines()
                .filter(l -> l.startsWith("signer"))
                .findFirst()
                .orElseThrow()
                .replaceFirst("signer +", "");
    }

    @Test
    void devicesJoinAndKeepThemselvesCurrent() throws Exception {
        try (SmallOffice here = SmallOffice.start(folder.resolve("office"), "127.10.111.1");
                Tender started = new Tender(folder, here)) {
            office = here;
            tender = started;
            tender.addRouter(office, "mara", "laptop");
            for (String person : PEOPLE.subList(1, 4)) {
                tender.client("person", "add", person, "--name", "Person " + person);
                tender.client("device", "add", person, "laptop", "--kind", "laptop");
            }
            String staff = Files.readAllLines(folder.resolve("data/address")).get(1);
            String signer = create(
                    "mara/laptop",
                    "bo/laptop",
                    "cleo/laptop",
                    "dag/laptop",
                    "--service",
                    "http://127.0.0.1:1",
                    "--service",
                    staff);
            eachFileThatIsNotRightIsRefused(signer);
            Map<String, Machine> machines = new HashMap<>();
            for (String person : PEOPLE) {
                Machine machine = new Machine(person);
                Shell.Result joined = machine.join(folder.resolve(person + "-laptop.tender"), signer);
                assertThat(joined.code()).as(joined.out()).isZero();
                assertThat(joined.out()).contains("connects; use this one");
                machines.put(person, machine);
            }
            assertThat(machines.get("mara").file()).hasFileName("mara-la-pi2.conf");
            assertThat(PosixFilePermissions.toString(
                            Files.getPosixFilePermissions(machines.get("mara").file())))
                    .isEqualTo("rw-------");
            aTokenIsSpentByOneDevice(signer);
            threeTakeAChangeOfThePortAndTheFourthLater(machines);
            aKilledWriteLeavesAWholeFile(machines.get("dag"));
            aRenamedFileAndACopyAreFound(machines.get("dag"));
            whoLeavesLosesTheFiles(machines.get("bo"));
            Machine mara = machines.get("mara");
            Path file = mara.file();
            assertThat(mara.run("leave", "--yes").code()).isZero();
            assertThat(file).doesNotExist();
            assertThat(enrolment("mara").path("state").asText()).isEqualTo("left");
            assertThat(mara.run("status").out()).contains("tender device join FILE");
        }
    }

    private void eachFileThatIsNotRightIsRefused(String signer) throws Exception {
        Path right = folder.resolve("mara-laptop.tender");
        String text = Files.readString(right).strip();
        String[] parts = text.split("\\.");
        Machine stranger = new Machine("stranger");
        ObjectNode payload =
                (ObjectNode) Tender.JSON.readTree(Base64.getUrlDecoder().decode(parts[1]));

        Path altered = Files.writeString(
                folder.resolve("altered.tender"),
                parts[0] + "."
                        + SignedJson.base64(payload.deepCopy()
                                .put("person", "bo")
                                .toString()
                                .getBytes(StandardCharsets.UTF_8))
                        + "." + parts[2]);
        assertThat(stranger.join(altered, signer).out()).contains("was altered after it was signed");

        SigningKey other = SigningKey.generate(new java.security.SecureRandom());
        Path signedAnew = Files.writeString(
                folder.resolve("signed-anew.tender"), SignedJson.text("tender-provision", other, payload));
        assertThat(stranger.join(signedAnew, signer).out()).contains("signed by somebody else than you were told");

        Path ended = Files.writeString(
                folder.resolve("ended.tender"),
                SignedJson.text("tender-provision", other, payload.deepCopy().put("exp", 1_700_000_000)));
        assertThat(stranger.join(ended, signer).out()).contains("ended at 2023-11-14");
        assertThat(tender.tryClient("provision", "check", ended.toString()).code())
                .isEqualTo(1);

        assertThat(stranger.join(right, "SHA256:" + "A".repeat(43)).out())
                .contains("signed by somebody else than you were told");
        assertThat(stranger.run("join", right.toString()).out()).contains("--signer FINGERPRINT");
        assertThat(folder.resolve("stranger/device.json"))
                .as("nothing was begun")
                .doesNotExist();
        assertThat(tender.client("provision", "check", right.toString()))
                .contains("mara/laptop", "asks for  the token in it", "pier2, wireguard, " + SmallOffice.NAME)
                .doesNotContain(payload.path("token").asText());
    }

    private void aTokenIsSpentByOneDevice(String signer) {
        Shell.Result second = new Machine("second").join(folder.resolve("mara-laptop.tender"), signer);
        assertThat(second.code()).isEqualTo(4);
        assertThat(second.out()).contains("was used by another device");
    }

    private void threeTakeAChangeOfThePortAndTheFourthLater(Map<String, Machine> machines) throws Exception {
        List<Process> staying = new ArrayList<>();
        try {
            for (String person : PEOPLE.subList(0, 3)) {
                staying.add(machines.get(person)
                        .start(
                                "keep",
                                "--stay",
                                "--resolver",
                                "127.0.0.1:" + office.names().port()));
            }
            int port = office.tunnelPort() + 1;
            String changed = tender.client(
                    "change",
                    "apply",
                    "pier2",
                    "--listener",
                    "wg0",
                    "--set",
                    "port=" + port,
                    "--allow",
                    "udp:" + port,
                    "--yes");
            Instant since = Instant.now();
            Shell.until(
                    "three devices to hold the new revision and connect with it: " + changed,
                    Duration.ofSeconds(40),
                    () -> PEOPLE.subList(0, 3).stream().allMatch(this::isCurrent));
            System.out.println("measured: three devices hold and prove a changed port "
                    + Duration.between(since, Instant.now()).toMillis() + " ms after the change was applied");
            for (String person : PEOPLE.subList(0, 3)) {
                assertThat(Files.readString(machines.get(person).file())).contains(":" + port);
            }
        } finally {
            staying.forEach(Process::destroy);
        }
        for (Process p : staying) {
            assertThat(p.waitFor(10, TimeUnit.SECONDS)).isTrue();
        }
        assertThat(tender.client("provision", "devices", "--behind"))
                .contains("dag/laptop")
                .doesNotContain("mara/laptop");
        Shell.Result later = machines.get("dag")
                .run("keep", "--resolver", "127.0.0.1:" + office.names().port());
        assertThat(later.out()).contains("revision 2", "connects");
        assertThat(isCurrent("dag")).isTrue();
    }

    private void aKilledWriteLeavesAWholeFile(Machine machine) throws Exception {
        Random random = new Random(20261201);
        Path file = machine.file();
        for (int i = 0; i < 4; i++) {
            tender.client("profile", "renew", "dag-laptop-pier2");
            Shell.until(
                    "the revision to wait for the device",
                    Duration.ofSeconds(20),
                    () -> Integer.parseInt(tender.query(
                                    "select d.revision - max(r.number) from delivery d join profile_revision r on"
                                            + " r.profile_id = d.profile_id join profile p on p.id = d.profile_id and p.label = 'dag-laptop-pier2'"
                                            + " group by d.revision"))
                            == 0);
            Process process = machine.start("keep", "--no-trial");
            process.waitFor(350 + random.nextInt(450), TimeUnit.MILLISECONDS);
            process.destroyForcibly().waitFor();
            assertThat(digests()).as("a whole revision").contains(Sha256.hex(Files.readAllBytes(file)));
        }
        assertThat(machine.run(
                                "keep",
                                "--resolver",
                                "127.0.0.1:" + office.names().port())
                        .code())
                .isZero();
        assertThat(Files.list(machine.profiles()).map(p -> p.getFileName().toString()))
                .containsExactly(file.getFileName().toString());
    }

    private Set<String> digests() {
        return new TreeSet<>(
                tender.query("select r.digest from profile_revision r join profile p on p.id = r.profile_id"
                                + " where p.label = 'dag-laptop-pier2'")
                        .lines()
                        .toList());
    }

    private void aRenamedFileAndACopyAreFound(Machine machine) throws Exception {
        Path renamed = machine.profiles().resolve("Office.conf");
        Path copy = machine.profiles().resolve("old-office.conf");
        Files.copy(machine.file(), copy);
        Files.move(machine.file(), renamed);
        tender.client("profile", "renew", "dag-laptop-pier2");
        Shell.until("the renamed file to be the newest", Duration.ofSeconds(30), () -> {
            machine.run("keep", "--no-trial", "--copies", "keep");
            return isCurrentDigest(renamed);
        });
        assertThat(machine.run("status").out()).contains("a copy with the same key: " + copy);
        Files.writeString(renamed, "# my own note\n" + Files.readString(renamed));
        assertThat(machine.run("keep", "--no-trial", "--copies", "replace").out())
                .contains("removed the copy " + copy);
        assertThat(copy).doesNotExist();
        assertThat(isCurrentDigest(renamed)).isTrue();
        assertThat(Files.readString(machine.profiles().resolve("Office.conf.changed-here")))
                .contains("my own note");
    }

    private boolean isCurrentDigest(Path file) {
        try {
            return tender.query("select r.digest from profile_revision r join profile p on p.id = r.profile_id"
                            + " where p.label = 'dag-laptop-pier2' order by r.number desc limit 1")
                    .equals(Sha256.hex(Files.readAllBytes(file)));
        } catch (IOException e) {
            return false;
        }
    }

    private void whoLeavesLosesTheFiles(Machine machine) throws Exception {
        Path file = machine.file();
        assertThat(tender.tryClient("person", "leave", "bo", "--yes").code()).isZero();
        Shell.Result ended = machine.run("keep");
        assertThat(ended.code()).isEqualTo(1);
        assertThat(ended.out()).contains("removed " + file, "this device was ended at the service");
        assertThat(file).doesNotExist();
        assertThat(folder.resolve("bo/device.json")).doesNotExist();
    }
}
