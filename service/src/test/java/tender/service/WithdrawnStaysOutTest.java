package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.List;
import java.util.Map;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.TunnelKey;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.Question;
import tender.io.names.NameService;
import tender.io.trial.WireGuardTrial;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Whatever brings back an earlier state of a gateway never lets in who was withdrawn since, nor loses who was admitted. */
class WithdrawnStaysOutTest {
    private static final Map<String, Object> FORWARD = Map.of(
            "change",
            "put-forward",
            "forward",
            Map.of("transport", "tcp", "port", "8080", "to", "10.20.4.20", "toPort", "80"));

    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private String gateway;
    private Reply leaver;
    private WireGuardFile leaversFile;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.74.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of("TENDER_GUARD_SECONDS", "30"));
        gateway = "/gateways/" + tender.addRouter(office);
        tender.addPerson("ebba", "phone");
        tender.addPerson("mara", "phone");
        leaver = tender.issue("ebba", "phone");
        leaversFile = collected("ebba-phone-pier2");
        assertThat(connects(leaversFile)).as("before").isTrue();
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private WireGuardFile collected(String label) {
        Reply prepared = tender.post("/handouts", Map.of("profile", label));
        URI page = URI.create(prepared.field("link"));
        return WireGuardFile.read(tender.send(
                                "POST",
                                URI.create("http://" + page.getAuthority() + "/collect"),
                                Map.of("token", page.getFragment(), "passphrase", prepared.field("passphrase")),
                                Map.of())
                        .field("file"))
                .file();
    }

    /** Whether somebody with this very file gets in now. */
    private boolean connects(WireGuardFile file) throws Exception {
        Question question = Question.of(
                file,
                java.util.Optional.of(IpAddress.parse(SmallOffice.GATEWAY_INSIDE)),
                java.util.Optional.of(IpAddress.parse(SmallOffice.INSIDE_HOST)));
        NameService names =
                name -> new NameService.Answer(NameService.Status.FOUND, List.of(IpAddress.parse(office.address())));
        return Ladder.judge(
                        question,
                        new WireGuardTrial(question, names, MeasurementOptions.NOTHING, rung -> {}).run(),
                        java.util.Optional.empty())
                .isProven();
    }

    private String temporary(int seconds) {
        Reply change =
                tender.change(gateway + "/changes", Map.of("changes", List.of(FORWARD), "temporarySeconds", seconds));
        assertThat(change.field("state")).as(change.text()).isEqualTo("active");
        return "/changes/" + change.field("id");
    }

    private Reply withdraw() {
        tender.post("/profiles/" + leaver.field("id") + "/withdraw", null);
        return tender.until(
                "/profiles/" + leaver.field("id"), r -> r.field("state").equals("withdrawn"));
    }

    private String deviceFile() throws Exception {
        return Files.readString(office.tunnelFile());
    }

    private void nobodyCameBackAndNobodyWasLost(Reply newcomer) throws Exception {
        assertThat(deviceFile())
                .doesNotContain(leaver.json().at("/identity/value").asText())
                .contains(newcomer.json().at("/identity/value").asText());
        assertThat(connects(leaversFile)).as("the leaver").isFalse();
        assertThat(connects(collected("mara-phone-pier2"))).as("the newcomer").isTrue();
        assertThat(codes()).doesNotContain("withdrawn-still-active");
        assertThat(tender.get("/profiles/" + newcomer.field("id")).field("state"))
                .isEqualTo("ready");
    }

    private List<String> codes() {
        return tender.get("/findings?limit=200").json().path("items").findValuesAsText("code");
    }

    @Test
    void whenATemporaryChangeIsEndedByHand() throws Exception {
        String change = temporary(600);
        withdraw();
        Reply newcomer = tender.issue("mara", "phone");

        tender.post(change + "/rollback", null);
        Reply ended = tender.until(change, r -> r.field("state").equals("rolled-back"));

        assertThat(ended.field("note")).contains("rolled back");
        assertThat(Files.readString(folder.resolve("office/pier2/forwards"))).doesNotContain("8080");
        nobodyCameBackAndNobodyWasLost(newcomer);
    }

    @Test
    void whenATemporaryChangeEndsByItself() throws Exception {
        String change = temporary(10);
        withdraw();
        Reply newcomer = tender.issue("mara", "phone");

        tender.until(change, r -> r.field("state").equals("rolled-back"));

        nobodyCameBackAndNobodyWasLost(newcomer);
    }

    /** The device itself is told to roll back at the end; it must not do that over what was written since. */
    @Test
    void whenTenderIsGoneAtTheEndOfATemporaryChange() throws Exception {
        temporary(10);
        withdraw();
        Reply newcomer = tender.issue("mara", "phone");
        tender.close();
        until(() -> !office.router().isRollbackArmed());

        assertThat(deviceFile())
                .doesNotContain(leaver.json().at("/identity/value").asText())
                .contains(newcomer.json().at("/identity/value").asText());
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of("TENDER_GUARD_SECONDS", "30"));
        tender.until(gateway + "/changes", r -> r.text().contains("\"rolled-back\""));
        nobodyCameBackAndNobodyWasLost(newcomer);
    }

    @Test
    void whenAChangeFailsAndIsTakenBack() throws Exception {
        withdraw();
        Reply newcomer = tender.issue("mara", "phone");
        office.router().faults().reloadFails = true;

        Reply change = tender.change(gateway + "/changes", Map.of("changes", List.of(FORWARD)));

        assertThat(change.field("state")).as(change.text()).isEqualTo("failed");
        office.router().faults().reloadFails = false;
        nobodyCameBackAndNobodyWasLost(newcomer);
    }

    @Test
    void whenSomebodyPutsTheKeyBackAtTheDeviceItIsAFindingThatOneStepFixes() throws Exception {
        String before = deviceFile();
        withdraw();
        assertThat(codes()).doesNotContain("withdrawn-still-active");
        Files.writeString(office.tunnelFile(), before);
        tender.post(gateway + "/backups", Map.of());

        JsonNode finding =
                tender.get("/findings?limit=200").json().path("items").get(0);
        assertThat(finding.path("code").asText()).isEqualTo("withdrawn-still-active");
        assertThat(finding.path("severity").asText()).isEqualTo("error");
        assertThat(finding.path("subject").asText()).startsWith("ebba-phone-pier2");
        assertThat(finding.path("remedy").asText()).isEqualTo("tender gateway sync pier2");

        Reply job = tender.post(gateway + "/apply", null);
        tender.until("/jobs/" + job.field("id"), r -> r.field("state").equals("done"));

        assertThat(codes()).doesNotContain("withdrawn-still-active");
        assertThat(connects(leaversFile)).isFalse();
    }

    @Test
    void aPeerThatIsMissingComesBackAndOneThatNobodyKnowsStays() throws Exception {
        Reply newcomer = tender.issue("mara", "phone");
        String foreign = "\n[Peer]\nPublicKey = "
                + TunnelKeyPair.generate(new SecureRandom()).publicKey() + "\nAllowedIPs = 10.99.4.99/32\n";
        WireGuardFile file = WireGuardFile.read(deviceFile()).file();
        Files.writeString(
                office.tunnelFile(),
                file.withoutPeer(TunnelKey.parse(
                                        newcomer.json().at("/identity/value").asText()))
                                .text()
                        + foreign);

        Reply job = tender.post(gateway + "/apply", null);
        tender.until("/jobs/" + job.field("id"), r -> r.field("state").equals("done"));

        assertThat(deviceFile()).contains(newcomer.json().at("/identity/value").asText(), foreign.strip());
    }

    @Test
    void everyOpenLinkOfAProfileEndsAtOnce() {
        Reply one = tender.post("/handouts", Map.of("profile", "ebba-phone-pier2"));
        Reply other = tender.post("/handouts", Map.of("profile", "ebba-phone-pier2"));

        Reply ended = tender.post("/handouts/withdraw", Map.of("profile", "ebba-phone-pier2"));

        assertThat(ended.json().path("links").asInt()).isEqualTo(2); // the third was used up
        for (Reply prepared : List.of(one, other)) {
            URI page = URI.create(prepared.field("link"));
            assertThat(tender.send(
                                    "POST",
                                    URI.create("http://" + page.getAuthority() + "/collect"),
                                    Map.of("token", page.getFragment(), "passphrase", prepared.field("passphrase")),
                                    Map.of())
                            .status())
                    .isEqualTo(404);
        }
    }

    private static void until(BooleanSupplier condition) {
        long end = System.nanoTime() + 20_000_000_000L;
        while (!condition.getAsBoolean()) {
            assertThat(System.nanoTime()).isLessThan(end);
            java.util.concurrent.locks.LockSupport.parkNanos(20_000_000L);
        }
    }
}
