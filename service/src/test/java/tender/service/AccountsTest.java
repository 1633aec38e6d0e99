package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.eatthepath.otp.TimeBasedOneTimePasswordGenerator;
import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Duration;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Map;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.RevealSecret;
import tender.service.RunningService.Reply;
import tender.store.testing.TestDatabase;

/** What an owner does to accounts, how long sign-ins are good, and what counts against whom. */
class AccountsTest {
    private static final String FIRST = "first-password-of-hers";
    private static final String OWN = "own-password-of-hers";

    @TempDir
    Path folder;

    private final MovableClock clock = new MovableClock();
    private TestDatabase database;
    private RunningService tender;
    private String owner;

    @BeforeEach
    void open() throws Exception {
        database = TestDatabase.fresh();
        start(Map.of());
    }

    private void start(Map<String, String> more) throws Exception {
        Map<String, String> settings = new HashMap<>(Map.of("TENDER_TRUSTED_PROXY", "127.0.0.1/32"));
        settings.putAll(more);
        tender = RunningService.start(database, folder, null, settings, clock);
        owner = tender.token();
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
    }

    /** Adds an account, changes its first password, gives its token. */
    private String account(String name, String role) {
        tender.use(owner);
        tender.post("/operators", Map.of("name", name, "role", role, "password", FIRST));
        tender.signIn(name, FIRST);
        tender.post("/me/password", Map.of("old", FIRST, "fresh", OWN));
        String token = tender.token();
        tender.use(owner);
        return token;
    }

    private Reply with(String token, String path) {
        return tender.send("GET", tender.url(path), null, Map.of("Authorization", "Bearer " + token));
    }

    private Reply signIn(String name, String password, String from) {
        return tender.send(
                "POST",
                tender.url("/sign-in"),
                Map.of("name", name, "password", password, "forClient", true),
                Map.of("X-Forwarded-For", from));
    }

    private String journal() {
        tender.use(owner);
        return tender.get("/journal?limit=100").text();
    }

    @Test
    void anAccountIsDisabledAndEnabledAgainAndItsStreamsEnd() throws Exception {
        String hers = account("mara", "operator");
        tender.use(hers);
        try (EventReader stream = EventReader.open(tender)) {
            tender.use(owner);
            assertThat(tender.post("/operators/mara/disable", null)
                            .json()
                            .path("disabled")
                            .asBoolean())
                    .isTrue();
            stream.await("closed");
        }
        assertThat(with(hers, "/me").status()).isEqualTo(401);
        assertThat(signIn("mara", OWN, "192.0.2.1").status()).isEqualTo(401);
        tender.post("/operators/mara/enable", null);
        assertThat(signIn("mara", OWN, "192.0.2.1").status()).isEqualTo(200);
        assertThat(journal()).contains("operator-disabled", "operator-enabled", "operator disabled: mara");
    }

    @Test
    void aRoleIsChangedAndThereIsAlwaysAnOwner() {
        String hers = account("mara", "operator");
        assertThat(tender.post("/operators/mara/role", Map.of("role", "auditor"))
                        .field("role"))
                .isEqualTo("auditor");
        assertThat(with(hers, "/me").status()).isEqualTo(401);
        assertThat(tender.post("/operators/owner/disable", null).status()).isEqualTo(409);
        assertThat(tender.post("/operators/owner/role", Map.of("role", "staff")).status())
                .isEqualTo(409);
        tender.post("/operators/mara/role", Map.of("role", "owner"));
        assertThat(tender.post("/operators/owner/role", Map.of("role", "staff")).status())
                .isEqualTo(200);
    }

    @Test
    void aPasswordIsSetAnewAndItsTokensEnd() {
        String hers = account("mara", "operator");
        tender.post("/operators/mara/password", Map.of("password", "given-password-now"));
        assertThat(with(hers, "/me").status()).isEqualTo(401);
        assertThat(signIn("mara", OWN, "192.0.2.1").status()).isEqualTo(401);
        Reply again = signIn("mara", "given-password-now", "192.0.2.1");
        assertThat(again.json().path("operator").path("mustChangePassword").asBoolean())
                .isTrue();
        assertThat(tender.get("/operators/mara/tokens").json().path("items")).hasSize(1);
        tender.post("/operators/mara/end-tokens", null);
        assertThat(tender.get("/operators/mara/tokens").json().path("items")).isEmpty();
        assertThat(journal()).contains("password-reset", "tokens-ended");
    }

    @Test
    void changingOnesPasswordEndsOnesOtherSignIns() {
        String hers = account("mara", "operator");
        String other = signIn("mara", OWN, "192.0.2.1").field("token");
        tender.use(hers);
        tender.post("/me/password", Map.of("old", OWN, "fresh", "another-password-now"));
        assertThat(with(other, "/me").status()).isEqualTo(401);
        assertThat(with(hers, "/me").status()).isEqualTo(200);
    }

    @Test
    void signInsEnd() {
        String hers = account("mara", "operator");
        clock.move(Duration.ofDays(30).minusMinutes(1));
        assertThat(with(hers, "/me").status()).isEqualTo(200);
        clock.move(Duration.ofMinutes(2));
        assertThat(with(hers, "/me").status()).isEqualTo(401);
        assertThat(tender.send(
                                "POST",
                                tender.url("/sign-in"),
                                Map.of("name", "mara", "password", OWN, "forClient", true, "days", 31),
                                Map.of())
                        .status())
                .isEqualTo(400);
        Reply browser = tender.send("POST", tender.url("/sign-in"), Map.of("name", "mara", "password", OWN), Map.of());
        String cookie =
                browser.raw().headers().firstValue("Set-Cookie").orElseThrow().split(";")[0];
        clock.move(Duration.ofHours(12).minusMinutes(1));
        assertThat(tender.send("GET", tender.url("/me"), null, Map.of("Cookie", cookie))
                        .status())
                .isEqualTo(200);
        clock.move(Duration.ofMinutes(2));
        assertThat(tender.send("GET", tender.url("/me"), null, Map.of("Cookie", cookie))
                        .status())
                .isEqualTo(401);
    }

    @Test
    void whatWidensTrustNeedsAFreshSignIn() {
        Map<String, Object> another = Map.of("name", "mara", "role", "auditor", "password", FIRST);
        clock.move(Duration.ofMinutes(4));
        assertThat(tender.send("POST", tender.url("/operators"), another, tender.bearer())
                        .status())
                .isEqualTo(201);
        clock.move(Duration.ofMinutes(2));
        Reply refused = tender.send(
                "POST",
                tender.url("/operators"),
                Map.of("name", "joss", "role", "auditor", "password", FIRST),
                tender.bearer());
        assertThat(refused.status()).isEqualTo(403);
        assertThat(refused.field("code")).isEqualTo("not-fresh");
        Map<String, Object> trusted = Map.of(
                "name", "pier9", "site", "s", "address", "192.0.2.1", "user", "k", "key", "k", "identity", "SHA256:x");
        assertThat(tender.send("POST", tender.url("/gateways"), trusted, tender.bearer())
                        .field("code"))
                .as("an identity that is accepted at once")
                .isEqualTo("not-fresh");
        assertThat(tender.send("POST", tender.url("/me/fresh"), Map.of("password", "wrong-password-x"), tender.bearer())
                        .status())
                .isEqualTo(401);
        assertThat(tender.send(
                                "POST",
                                tender.url("/me/fresh"),
                                Map.of("password", RunningService.PASSWORD),
                                tender.bearer())
                        .status())
                .isEqualTo(200);
        assertThat(tender.send(
                                "POST",
                                tender.url("/operators"),
                                Map.of("name", "joss", "role", "auditor", "password", FIRST),
                                tender.bearer())
                        .status())
                .isEqualTo(201);
    }

    @Test
    void whereEveryoneNeedsACodeOneMayOnlySetItUpFirst() throws Exception {
        tender.close();
        start(Map.of("TENDER_SECOND_FACTOR_REQUIRED", "true"));
        assertThat(tender.get("/gateways").field("code")).as("the owner too").isEqualTo("enrol-needed");
        Reply me = tender.get("/me");
        assertThat(me.json().path("enrolNeeded").asBoolean()).isTrue();
        byte[] seed = org.bouncycastle.util.encoders.Base32.decode(
                tender.post("/me/code", null).field("seed"));
        TimeBasedOneTimePasswordGenerator codes = new TimeBasedOneTimePasswordGenerator();
        SecretKeySpec key = new SecretKeySpec(seed, codes.getAlgorithm());
        String old = codes.generateOneTimePasswordString(key, clock.instant().minusSeconds(60));
        String future = codes.generateOneTimePasswordString(key, clock.instant().plusSeconds(60));
        assertThat(tender.post("/me/code/confirm", Map.of("code", old)).status())
                .isEqualTo(401);
        assertThat(tender.post("/me/code/confirm", Map.of("code", future)).status())
                .isEqualTo(401);
        String now = codes.generateOneTimePasswordString(key, clock.instant());
        assertThat(tender.post("/me/code/confirm", Map.of("code", now)).status())
                .isEqualTo(204);
        assertThat(tender.get("/gateways").status()).isEqualTo(200);

        // the phone is lost: another owner takes it off
        tender.post("/operators", Map.of("name", "second", "role", "owner", "password", FIRST));
        assertThat(tender.post("/operators/owner/reset-code", null)
                        .json()
                        .path("hasCode")
                        .asBoolean())
                .isFalse();
        assertThat(tender.get("/me").status()).as("and the sign-ins end").isEqualTo(401);
    }

    @Test
    void aLostOwnerIsHelpedAtTheMachine() throws Exception {
        tender.close();
        var settings = tender.service.settings();
        String password =
                Service.recover(settings, "owner", clock).orElseThrow().revealText(RevealSecret.TO_HAND_OUT);
        tender = RunningService.restarted(settings, clock);
        Reply signedIn = tender.signIn("owner", password);
        assertThat(signedIn.json().path("operator").path("mustChangePassword").asBoolean())
                .isTrue();
    }

    @Test
    void guessesCountWhereTheyComeFromAndNeverShutTheRightOneOut() {
        account("mara", "operator");
        assertThat(signIn("mara", OWN, "198.51.100.7").status()).isEqualTo(200);
        for (int i = 0; i < 10; i++) {
            assertThat(signIn("mara", "wrong-password-" + i, "203.0.113.9").status())
                    .isEqualTo(401);
        }
        Reply stopped = signIn("mara", OWN, "203.0.113.9");
        assertThat(stopped.status()).isEqualTo(429);
        assertThat(stopped.raw().headers().firstValue("Retry-After")).isPresent();
        assertThat(signIn("mara", OWN, "198.51.100.7").status())
                .as("from where she was right lately")
                .isEqualTo(200);
        for (int i = 0; i < 11; i++) {
            signIn("mara", "mistyped-password", "198.51.100.7");
        }
        assertThat(signIn("mara", OWN, "198.51.100.7").status()).as("slowed").isEqualTo(429);
        clock.move(Duration.ofSeconds(21));
        assertThat(signIn("mara", OWN, "198.51.100.7").status()).isEqualTo(200);
        for (int i = 0; i < 5; i++) {
            signIn("mara", "wrong-password-y", "203.0.113.9");
        }
        assertThat(journal()).contains("sign-in-failed");
        assertThat(journal().split("\"sign-in-stopped\"", -1)).as("said once").hasSize(2);
    }

    @Test
    void aWholeNetworkOfAddressesCountsAsOneSource() {
        account("mara", "operator");
        for (int i = 0; i < 10; i++) {
            signIn("mara", "wrong-password-" + i, "2001:db8:1:2::" + Integer.toHexString(i + 1));
        }
        assertThat(signIn("mara", OWN, "2001:db8:1:2:ffff::1").status()).isEqualTo(429);
        assertThat(signIn("mara", OWN, "2001:db8:1:3::1").status()).isEqualTo(200);
    }

    @Test
    void aForwardedAddressIsBelievedFromTheProxyAlone() throws Exception {
        tender.close();
        start(Map.of("TENDER_TRUSTED_PROXY", "192.0.2.80/32"));
        account("mara", "operator");
        for (int i = 0; i < 10; i++) {
            signIn("mara", "wrong-password-" + i, "198.51.100." + i);
        }
        assertThat(signIn("mara", "wrong-password-x", "198.51.100.200").status())
                .as("all come from here")
                .isEqualTo(429);
    }

    @Test
    void aRepeatedCallNeverShowsASecretTwiceAndItsDigestTellsNothing() throws Exception {
        Map<String, Object> body = Map.of("old", RunningService.PASSWORD, "fresh", "a-new-password-now");
        Map<String, String> headers = Map.of("Authorization", "Bearer " + owner, "Idempotency-Key", "key-of-a-test-1");
        byte[] sent = new com.fasterxml.jackson.databind.ObjectMapper().writeValueAsBytes(body);
        assertThat(tender.send("POST", tender.url("/me/password"), sent, headers)
                        .status())
                .isEqualTo(204);
        MessageDigest plain = MessageDigest.getInstance("SHA-256");
        plain.update("POST /api/v1/me/password\n".getBytes());
        String digest = HexFormat.of().formatHex(plain.digest(sent));
        database.expect("select count(*) from idempotency where request_digest = '" + digest + "'", 0);

        Map<String, String> once = Map.of("Authorization", "Bearer " + owner, "Idempotency-Key", "key-of-a-test-2");
        Reply shown = tender.send("POST", tender.url("/me/code"), null, once);
        assertThat(shown.field("seed")).isNotEmpty();
        Reply again = tender.send("POST", tender.url("/me/code"), null, once);
        assertThat(again.status()).isEqualTo(409);
        assertThat(again.text()).doesNotContain(shown.field("seed"));
    }

    @Test
    void theJournalSaysWhoAndWhatInWordsAndHoldsAgainstAnEndKeptElsewhere() {
        account("mara", "operator");
        JsonNode newest = tender.get("/journal?limit=1").json().path("items").get(0);
        assertThat(newest.path("who").asText()).isEqualTo("mara");
        assertThat(newest.path("what").asText()).isEqualTo("password changed: mara");
        assertThat(newest.path("actor").asText()).startsWith("operator:");
        JsonNode head = tender.post("/journal/verify", null).json().path("head");
        account("joss", "auditor");
        Reply held = tender.post(
                "/journal/verify",
                Map.of(
                        "number",
                        head.path("number").asLong(),
                        "hash",
                        head.path("hash").asText()));
        assertThat(held.json().path("headHolds").asBoolean()).isTrue();
        assertThat(tender.post(
                                "/journal/verify",
                                Map.of("number", head.path("number").asLong(), "hash", "00".repeat(32)))
                        .json()
                        .path("headHolds")
                        .asBoolean())
                .isFalse();
    }

    @Test
    void theEndOfTheJournalIsWrittenDownElsewhere() throws Exception {
        tender.close();
        Path kept = folder.resolve("heads");
        start(Map.of("TENDER_JOURNAL_HEAD_FILE", kept.toString()));
        tender.until(
                "/me", r -> java.nio.file.Files.exists(kept) && kept.toFile().length() > 60);
        String[] line = java.nio.file.Files.readAllLines(kept).get(0).split("[ :]");
        Map<String, Object> head =
                Map.of("number", Long.parseLong(line[line.length - 2]), "hash", line[line.length - 1]);
        assertThat(tender.post("/journal/verify", head).json().path("headHolds").asBoolean())
                .isTrue();
        database.tamper("alter table journal disable trigger journal_append_only;"
                + "update journal set hash = repeat('0', 64) where number = " + head.get("number"));
        Reply changed = tender.post("/journal/verify", head);
        assertThat(changed.json().path("headHolds").asBoolean()).isFalse();
        assertThat(changed.json().path("whole").asBoolean()).isFalse();
    }

    @Test
    void theStaffsPageLimitsGuessersAndNotWhoeverHasTheLink() {
        URI collect = URI.create(tender.service.staffUrl() + "/collect");
        Map<String, Object> guess = Map.of("token", "A".repeat(43), "passphrase", "no-such-words-here");
        for (int i = 0; i < 20; i++) {
            assertThat(tender.send("POST", collect, guess, Map.of("X-Forwarded-For", "203.0.113.9"))
                            .status())
                    .isEqualTo(404);
        }
        assertThat(tender.send("POST", collect, guess, Map.of("X-Forwarded-For", "203.0.113.9"))
                        .status())
                .isEqualTo(429);
        assertThat(tender.send("POST", collect, guess, Map.of("X-Forwarded-For", "203.0.113.10"))
                        .status())
                .isEqualTo(404);
        clock.move(Duration.ofMinutes(11));
        assertThat(tender.send("POST", collect, guess, Map.of("X-Forwarded-For", "203.0.113.9"))
                        .status())
                .isEqualTo(404);
    }
}
