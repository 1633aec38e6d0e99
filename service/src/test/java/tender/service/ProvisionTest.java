package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.credential.RevealSecret;
import tender.core.provision.SealingKey;
import tender.core.provision.SigningKey;
import tender.io.provision.DeliveredProfile;
import tender.io.provision.DeviceCall;
import tender.io.provision.ProvisioningFile;
import tender.service.RunningService.Reply;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Devices join with provisioning files, and what is for them arrives sealed. */
class ProvisionTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final SecureRandom RANDOM = new SecureRandom();

    @TempDir
    Path folder;

    private TestDatabase database;
    private SmallOffice office;
    private RunningService tender;

    @BeforeEach
    void open() throws Exception {
        database = TestDatabase.fresh();
        office = SmallOffice.start(folder.resolve("office"), "127.10.110.1");
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        tender.addRouter(office);
        tender.addPerson("mara", "phone", "laptop");
        tender.addPerson("joss", "laptop");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        office.close();
        database.close();
    }

    /** A device, as the client is one. */
    private final class Device {
        private final SigningKey key = SigningKey.generate(RANDOM);
        private final SealingKey sealing = SealingKey.generate(RANDOM);
        private final UUID enrolment = UUID.randomUUID();
        private String etag = "";

        private HttpResponse<byte[]> send(
                String method, String path, Map<String, Object> body, Map<String, String> more, Instant at) {
            try {
                byte[] bytes = body == null ? new byte[0] : JSON.writeValueAsBytes(body);
                HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(tender.service.staffUrl() + path))
                        .header("Authorization", DeviceCall.sign(key, enrolment, method, path, at, bytes))
                        .method(method, HttpRequest.BodyPublishers.ofByteArray(bytes));
                more.forEach(request::header);
                return HttpClient.newHttpClient().send(request.build(), HttpResponse.BodyHandlers.ofByteArray());
            } catch (Exception e) {
                throw new IllegalStateException(e);
            }
        }

        Answer join(String file, Map<String, Object> more) {
            return join(file, more, Instant.now());
        }

        Answer join(String file, Map<String, Object> more, Instant at) {
            Map<String, Object> body = new HashMap<>(Map.of(
                    "token",
                    ProvisioningFile.read(file).file().token().revealText(RevealSecret.TO_HAND_OUT),
                    "device",
                    "laptop",
                    "system",
                    "Linux 6",
                    "sealingKey",
                    Base64.getUrlEncoder().withoutPadding().encodeToString(sealing.publicBytes())));
            body.putAll(more);
            return Answer.of(send("POST", "/device", body, Map.of(), at));
        }

        /** Waits until what is for it is different from what it has. */
        Answer poll(int wait) {
            Map<String, String> headers = etag.isEmpty()
                    ? Map.of("Prefer", "wait=" + wait)
                    : Map.of("Prefer", "wait=" + wait, "If-None-Match", "\"" + etag + "\"");
            HttpResponse<byte[]> response = send("GET", "/device", null, headers, Instant.now());
            response.headers().firstValue("ETag").ifPresent(t -> etag = t.replace("\"", ""));
            return Answer.of(response);
        }

        /** Polls until as many profiles wait for it. */
        List<DeliveredProfile> until(int profiles) {
            Instant end = Instant.now().plus(Duration.ofSeconds(30));
            while (Instant.now().isBefore(end)) {
                Answer answer = poll(5);
                if (answer.status() == 200 && answer.json().path("profiles").size() == profiles) {
                    return opened(answer);
                }
            }
            throw new AssertionError("there are not " + profiles + " profiles");
        }

        List<DeliveredProfile> opened(Answer answer) {
            List<DeliveredProfile> out = new ArrayList<>();
            for (JsonNode p : answer.json().path("profiles")) {
                out.add(DeliveredProfile.read(sealing.open(
                                DeliveredProfile.place(
                                        enrolment,
                                        UUID.fromString(p.path("profile").asText()),
                                        p.path("revision").asInt()),
                                Base64.getDecoder().decode(p.path("sealed").asText()))
                        .orElseThrow()));
            }
            return out;
        }
    }

    private record Answer(int status, JsonNode json) {
        static Answer of(HttpResponse<byte[]> response) {
            try {
                return new Answer(
                        response.statusCode(),
                        response.body().length == 0 ? JSON.createObjectNode() : JSON.readTree(response.body()));
            } catch (java.io.IOException e) {
                throw new IllegalStateException(e);
            }
        }

        String detail() {
            return status + " " + json.path("detail").asText();
        }
    }

    private Reply create(Map<String, Object> more) {
        Map<String, Object> body =
                new HashMap<>(Map.of("devices", List.of("mara/laptop"), "gateways", List.of("pier2")));
        body.putAll(more);
        Reply made = tender.post("/provisions", body);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        return made;
    }

    private static String file(Reply made) {
        return made.json().at("/files/0/file").asText();
    }

    @Test
    void aDeviceJoinsGetsItsProfileAndEveryChangeOfIt() throws Exception {
        Reply made = create(Map.of());
        Device mara = new Device();
        assertThat(mara.join(file(made), Map.of()).json().path("device").asText())
                .isEqualTo("laptop");

        DeliveredProfile first = mara.until(1).get(0);
        assertThat(first.label()).isEqualTo("mara-laptop-pier2");
        assertThat(first.file().revealText(RevealSecret.TO_COMPARE)).contains("PrivateKey", SmallOffice.NAME);
        assertThat(mara.poll(0).status()).as("nothing is new").isEqualTo(304);
        assertThat(List.of(open("not-handed-out"), open("unproven")))
                .as("it has said nothing yet")
                .isEqualTo(List.of(1, 1));

        CompletableFuture<Answer> waiting = CompletableFuture.supplyAsync(() -> mara.poll(20));
        String id = tender.get("/profiles?text=mara-laptop")
                .json()
                .at("/items/0/id")
                .asText();
        assertThat(tender.post("/profiles/" + id + "/renew", Map.of()).status()).isEqualTo(200);
        Answer second = waiting.get(15, TimeUnit.SECONDS);
        assertThat(mara.opened(second).get(0).revision()).isEqualTo(2);

        mara.send(
                "POST",
                "/device/report",
                Map.of("held", List.of(Map.of("profile", id, "revision", 2, "works", true, "found", "connects"))),
                Map.of(),
                Instant.now());
        JsonNode shown = tender.get("/enrolments?person=mara").json().at("/items/0");
        assertThat(List.of(
                        shown.path("state").asText(),
                        shown.path("current").asInt(),
                        shown.path("proven").asInt()))
                .isEqualTo(List.of("joined", 1, 1));

        assertThat(open("not-handed-out"))
                .as("what a device holds is handed out")
                .isZero();
        assertThat(open("unproven")).as("what it connects with is proven").isZero();
        assertThat(tender.get("/enrolments?behind=true&text=lap").json().path("items"))
                .isEmpty();
        assertThat(tender.get("/enrolments?text=lap&limit=1").json().path("items"))
                .hasSize(1);

        tender.post("/profiles/" + id + "/renew", Map.of());
        tender.until("/enrolments?behind=true", r -> r.json().path("items").size() == 1);
        tender.post("/profiles/" + id + "/withdraw", Map.of());
        assertThat(mara.until(0)).isEmpty();
        database.expect("select count(*) from delivery", 0);
        assertThat(tender.get("/journal?action=device-joined").json().path("items"))
                .hasSize(1);
    }

    private int open(String what) {
        return tender.get("/profiles?open=" + what).json().path("items").size();
    }

    @Test
    void eachRefusalSaysWhichItIs() {
        String file = file(create(Map.of()));
        Device mara = new Device();
        assertThat(mara.join(file, Map.of("token", "x".repeat(43))).detail()).startsWith("404 no provisioning file");
        assertThat(mara.join(file, Map.of(), Instant.now().minus(Duration.ofMinutes(10)))
                        .detail())
                .startsWith("403 the device's clock");
        assertThat(mara.join(file, Map.of()).status()).isEqualTo(200);
        assertThat(mara.join(file, Map.of()).status())
                .as("cut off, and once more")
                .isEqualTo(200);
        assertThat(new Device().join(file, Map.of()).detail())
                .startsWith("403 the provisioning file was used by another device");

        Reply withdrawn = create(Map.of("devices", List.of("mara/phone")));
        tender.post("/provisions/" + withdrawn.json().at("/files/0/id").asText() + "/withdraw", null);
        assertThat(new Device().join(file(withdrawn), Map.of()).detail())
                .startsWith("403 the provisioning file was withdrawn");

        Reply ended = create(Map.of("devices", List.of("joss/laptop")));
        database.tamper("update provision set ends_at = now() - interval '1 minute' where id = '"
                + ended.json().at("/files/0/id").asText() + "'");
        assertThat(new Device().join(file(ended), Map.of()).detail()).startsWith("403 the provisioning file ended");

        Device stranger = new Device();
        assertThat(stranger.poll(0).detail()).startsWith("403 this device has not joined");
        HttpResponse<byte[]> replayed = mara.send("GET", "/device", Map.of("x", 1), Map.of(), Instant.now());
        assertThat(replayed.statusCode()).as("signed over its body").isEqualTo(200);
    }

    @Test
    void aTeamsFileLetsEachMemberInByTheirOwnCode() {
        tender.post("/people/mara", Map.of("team", "crew"));
        database.tamper("insert into team (id, name) values (gen_random_uuid(), 'crew') on conflict do nothing");
        database.tamper("update person set team_id = (select id from team where name = 'crew')");
        Reply made = create(Map.of("devices", List.of(), "team", "crew"));
        JsonNode codes = made.json().at("/files/0/codes");
        assertThat(codes.size()).isEqualTo(2);
        String file = file(made);
        assertThat(new Device().join(file, Map.of("person", "mara")).detail()).startsWith("401 the code is missing");
        assertThat(new Device()
                        .join(
                                file,
                                Map.of(
                                        "person",
                                        "mara",
                                        "code",
                                        codes.path("joss").asText()))
                        .detail())
                .startsWith("401 handle or code is wrong");
        assertThat(new Device()
                        .join(
                                file,
                                Map.of(
                                        "person",
                                        "nobody",
                                        "code",
                                        codes.path("joss").asText()))
                        .detail())
                .startsWith("401 handle or code is wrong");
        Device mara = new Device();
        assertThat(mara.join(
                                file,
                                Map.of(
                                        "person",
                                        "mara",
                                        "code",
                                        codes.path("mara").asText().toUpperCase(),
                                        "device",
                                        "new-one"))
                        .status())
                .isEqualTo(200);
        assertThat(mara.until(1).get(0).label()).isEqualTo("mara-new-one-pier2");
        Device joss = new Device();
        assertThat(joss.join(
                                file,
                                Map.of(
                                        "person",
                                        "joss",
                                        "code",
                                        codes.path("joss").asText()))
                        .status())
                .isEqualTo(200);
        assertThat(joss.until(1).get(0).label()).isEqualTo("joss-laptop-pier2");
    }

    @Test
    void whoKnowsADevicesNumberAloneDoesNotEndItsWaiting() throws Exception {
        Device mara = new Device();
        mara.join(file(create(Map.of())), Map.of());
        mara.until(1);
        CompletableFuture<Answer> waiting = CompletableFuture.supplyAsync(() -> mara.poll(4));
        SigningKey other = SigningKey.generate(RANDOM);
        HttpClient stranger = HttpClient.newHttpClient();
        for (int i = 0; i < 20; i++) {
            HttpResponse<byte[]> refused = stranger.send(
                    HttpRequest.newBuilder(URI.create(tender.service.staffUrl() + "/device"))
                            .header(
                                    "Authorization",
                                    DeviceCall.sign(
                                            other, mara.enrolment, "GET", "/device", Instant.now(), new byte[0]))
                            .header("Prefer", "wait=20")
                            .build(),
                    HttpResponse.BodyHandlers.ofByteArray());
            assertThat(refused.statusCode()).isEqualTo(403);
        }
        assertThat(waiting).as("it still waits").isNotDone();
        assertThat(waiting.get().status()).as("its own time is over").isEqualTo(304);
        mara.send("DELETE", "/device", null, Map.of(), Instant.now());
        tender.until("/journal?action=device-left", r -> r.json().path("items").size() == 1);
    }

    @Test
    void aTeamsFileTakesThePlaceOfADeviceThatHasJoined() {
        Device before = new Device();
        before.join(file(create(Map.of("devices", List.of("joss/laptop")))), Map.of());
        before.until(1);
        database.tamper("insert into team (id, name) values (gen_random_uuid(), 'crew')");
        database.tamper("update person set team_id = (select id from team where name = 'crew')");
        Reply made = create(Map.of("devices", List.of(), "team", "crew"));
        Device after = new Device();
        after.join(
                file(made),
                Map.of(
                        "person",
                        "joss",
                        "code",
                        made.json().at("/files/0/codes/joss").asText()));
        assertThat(after.until(1).get(0).label()).isEqualTo("joss-laptop-pier2");
        assertThat(before.poll(0).json().path("state").asText()).isEqualTo("ended");
    }

    @Test
    void guessingCodesIsStopped() {
        Reply made = create(Map.of("code", true));
        for (int i = 0; i < 8; i++) {
            assertThat(new Device()
                            .join(file(made), Map.of("code", "aaaa-bbbb-cccc-ddd" + i))
                            .status())
                    .isEqualTo(401);
        }
        assertThat(new Device()
                        .join(
                                file(made),
                                Map.of(
                                        "code",
                                        made.json().at("/files/0/codes/mara").asText()))
                        .status())
                .isEqualTo(429);
    }

    @Test
    void aDeviceOfWhoLeavesIsEndedAndToldSo() {
        Device mara = new Device();
        mara.join(file(create(Map.of())), Map.of());
        mara.until(1);
        tender.post("/people/mara/leave", Map.of());
        Answer ended = mara.poll(10);
        assertThat(ended.json().path("state").asText()).isEqualTo("ended");
        assertThat(ended.json().path("profiles")).isEmpty();

        Device again = new Device();
        assertThat(again.join(file(create(Map.of())), Map.of()).status())
                .as("a new start")
                .isEqualTo(200);
        assertThat(again.until(1).get(0).revision()).isEqualTo(1);
    }

    @Test
    void aDeviceThatJoinsAnewTakesThePlaceOfWhatItWas() {
        Device before = new Device();
        before.join(file(create(Map.of())), Map.of());
        before.until(1);
        Device after = new Device();
        after.join(file(create(Map.of("gateways", List.of()))), Map.of());
        assertThat(after.until(1)).hasSize(1);
        assertThat(before.poll(0).json().path("state").asText()).isEqualTo("ended");
    }

    @Test
    void nothingIsMadeWhereThereIsNothingToIssueOrNobody() {
        assertThat(tender.post("/provisions", Map.of("devices", List.of("mara/laptop")))
                        .text())
                .contains("has no profile yet: name the gateways");
        assertThat(tender.post("/provisions", Map.of("devices", List.of("mara/none"), "gateways", List.of("pier2")))
                        .status())
                .isEqualTo(404);
        assertThat(tender.post("/provisions", Map.of("devices", List.of())).status())
                .isEqualTo(400);
        assertThat(tender.post(
                                "/provisions",
                                Map.of(
                                        "devices", List.of("mara/laptop"),
                                        "gateways", List.of("pier2"),
                                        "services", List.of("ftp://x")))
                        .status())
                .isEqualTo(400);
        Reply rehearsed = create(Map.of("dryRun", true));
        assertThat(rehearsed.json().at("/files/0/file").isMissingNode()
                        || rehearsed.json().at("/files/0/file").isNull())
                .isTrue();
        database.expect("select count(*) from provision", 0);
    }

    @Test
    void theKeyThatSignsStaysTheSameAcrossARestart() throws Exception {
        String signer = create(Map.of()).field("signer");
        tender.close();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of(), Clock.systemUTC());
        Reply after = create(Map.of("devices", List.of("mara/phone")));
        assertThat(after.field("signer")).isEqualTo(signer);
        assertThat(ProvisioningFile.read(file(after)).signer().fingerprint()).isEqualTo(signer);
        assertThat(Optional.of(after.text()))
                .hasValueSatisfying(t -> assertThat(t).contains("an address of this machine alone"));
    }
}
