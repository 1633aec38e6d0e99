package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** A gateway is kept once Tender has signed in, and how it does can be changed later. */
class SignInToGatewaysTest {
    private static final String NO_KEY_THERE = "SHA256:AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";

    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.96.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        tender.post("/sites", Map.of("name", "pier-two", "networks", Map.of("office", "10.20.4.0/24")));
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private Reply add(Map<String, Object> more) throws Exception {
        Map<String, Object> all = new HashMap<>(Map.of(
                "name",
                "pier2",
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
        all.putAll(more);
        all.values().removeIf(""::equals);
        return tender.post("/gateways", all);
    }

    @Test
    void aSignInThatFailsLeavesNothingBehind() throws Exception {
        Reply noKey = add(Map.of("key", "not a key"));
        assertThat(noKey.status()).isEqualTo(400);
        assertThat(noKey.text()).contains("no SSH private key");
        assertThat(add(Map.of("key", "")).text()).contains("a key or a password");
        assertThat(add(Map.of("password", "both")).text()).contains("not both");
        assertThat(add(Map.of("user", "somebody")).text()).contains("refuses the sign-in of somebody");
        assertThat(add(Map.of("identity", NO_KEY_THERE)).text()).contains("no host key with that fingerprint");
        assertThat(add(Map.of("jump", "nowhere")).text()).contains("no gateway nowhere");
        assertThat(tender.get("/gateways").json().path("items")).isEmpty();

        Reply added = add(Map.of());
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        assertThat(added.field("identity")).matches("(ED25519|ECDSA|RSA) SHA256:.{43}");
        assertThat(added.field("identityAccepted")).isEqualTo("false");
        assertThat(added.field("signIn")).isEqualTo("key");
    }

    @Test
    void aFingerprintThatSomebodyReadOnTheDeviceIsAcceptedInOneStep() throws Exception {
        Reply first = add(Map.of());
        String fingerprint = first.field("identity").split(" ")[1];
        Reply second = add(Map.of("name", "again", "identity", fingerprint));

        assertThat(second.status()).as(second.text()).isEqualTo(201);
        assertThat(second.field("identityAccepted")).isEqualTo("true");
        tender.until(
                "/gateways/" + second.field("id"),
                r -> r.json().path("listeners").size() == 1);
        assertThat(tender.post("/gateways/" + first.field("id") + "/accept", Map.of("identity", NO_KEY_THERE))
                        .text())
                .contains("it shows " + first.field("identity"));
        assertThat(tender.post("/gateways/" + first.field("id") + "/accept", Map.of("identity", fingerprint))
                        .status())
                .as("without its type")
                .isEqualTo(202);
    }

    @Test
    void whereAndAsWhomTenderSignsInCanBeChangedAndIsTriedFirst() throws Exception {
        String path = "/gateways/" + tender.addRouter(office);
        int port = office.router().sshPort();

        assertThat(tender.patch(path, Map.of("user", "somebody")).text()).contains("refuses the sign-in of somebody");
        assertThat(tender.patch(path, Map.of("port", 1)).text()).contains("no SSH answer");
        assertThat(tender.patch(path, Map.of("password", "wrong")).text()).contains("with this password");
        assertThat(tender.patch(path, Map.of("kind", "boat")).status()).isEqualTo(400);
        assertThat(tender.patch(path, Map.of("jump", "pier2")).text()).contains("through itself");
        Reply kept = tender.get(path);
        assertThat(kept.field("user")).isEqualTo(SmallOffice.USER);
        assertThat(kept.field("port")).isEqualTo(Integer.toString(port));
        assertThat(kept.field("signIn")).isEqualTo("key");

        Reply changed =
                tender.patch(path, Map.of("address", SmallOffice.NAME, "kind", "firewall", "key", office.key()));
        assertThat(changed.status()).as(changed.text()).isEqualTo(200);
        assertThat(changed.field("address")).isEqualTo(SmallOffice.NAME);
        assertThat(changed.field("kind")).isEqualTo("firewall");
        Reply read = tender.post(path + "/read", null);
        tender.until("/jobs/" + read.field("id"), r -> r.field("state").equals("done"));
    }
}
