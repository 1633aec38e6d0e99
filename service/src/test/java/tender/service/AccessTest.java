package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.eatthepath.otp.TimeBasedOneTimePasswordGenerator;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.service.RunningService.Reply;
import tender.service.http.Gate;
import tender.store.testing.TestDatabase;

/** Who may do what, and what hostile input gets. */
class AccessTest {
    @TempDir
    static Path folder;

    private static TestDatabase database;
    private static RunningService tender;
    private static String owner;

    @BeforeAll
    static void open() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder, null, Map.of());
        owner = tender.token();
    }

    @AfterAll
    static void close() throws Exception {
        tender.close();
        database.close();
    }

    @BeforeEach
    void asOwner() {
        tender.use(owner);
    }

    @Test
    void theFirstPasswordIsGoodForChangingItOnly() {
        tender.post("/operators", Map.of("name", "newcomer", "role", "owner", "password", "first-password-x"));
        tender.signIn("newcomer", "first-password-x");

        assertThat(tender.get("/gateways").field("code")).isEqualTo("password-change-needed");
        assertThat(tender.get("/me").json().path("mustChangePassword").asBoolean())
                .isTrue();
        assertThat(tender.post("/me/password", Map.of("old", "first-password-x", "fresh", "short"))
                        .status())
                .isEqualTo(400);
        assertThat(tender.post("/me/password", Map.of("old", "first-password-x", "fresh", "long-enough-now"))
                        .status())
                .isEqualTo(204);
        assertThat(tender.get("/gateways").status()).isEqualTo(200);
    }

    @Test
    void theCookieIsForThisPageAloneAndWritesMustComeFromIt() {
        String origin = tender.service.url().toString();
        Reply signedIn = tender.send(
                "POST",
                tender.url("/sign-in"),
                Map.of("name", "owner", "password", RunningService.PASSWORD),
                Map.of("Origin", origin));
        String cookie = signedIn.raw().headers().firstValue("Set-Cookie").orElseThrow();
        assertThat(cookie).contains("HttpOnly", "SameSite=Strict", "Path=/").startsWith("tender=");
        assertThat(signedIn.json().path("token").isNull()).isTrue();
        String value = cookie.substring(0, cookie.indexOf(';'));

        Map<String, Object> person = Map.of("handle", "byform", "name", "By form");
        assertThat(tender.send("GET", tender.url("/me"), null, Map.of("Cookie", value))
                        .status())
                .isEqualTo(200);
        assertThat(tender.send(
                                "POST",
                                tender.url("/people"),
                                person,
                                Map.of("Cookie", value, "Origin", "https://evil.example"))
                        .status())
                .isEqualTo(403);
        assertThat(tender.send("POST", tender.url("/people"), person, Map.of("Cookie", value))
                        .status())
                .isEqualTo(403);
        assertThat(tender.send("POST", tender.url("/people"), person, Map.of("Cookie", value, "Origin", origin))
                        .status())
                .isEqualTo(201);
        assertThat(tender.send("GET", tender.url("/me"), null, Map.of("Authorization", "Bearer " + value.substring(7)))
                        .status())
                .as("a cookie is no token")
                .isEqualTo(401);
        tender.send("POST", tender.url("/sign-out"), null, Map.of("Cookie", value, "Origin", origin));
        assertThat(tender.send("GET", tender.url("/me"), null, Map.of("Cookie", value))
                        .status())
                .isEqualTo(401);
    }

    @Test
    void everyAnswerCarriesTheHeadersThatKeepAPageToItself() {
        for (URI url : new URI[] {
            tender.url("/health"),
            URI.create(tender.service.url() + "/"),
            URI.create(tender.service.staffUrl() + "/"),
            tender.url("/nothing")
        }) {
            var headers = tender.send("GET", url, null, Map.of()).raw().headers();
            assertThat(headers.firstValue("Content-Security-Policy").orElse(""))
                    .contains("default-src 'none'", "frame-ancestors 'none'")
                    .doesNotContain("unsafe");
            assertThat(headers.firstValue("X-Content-Type-Options")).contains("nosniff");
            assertThat(headers.firstValue("Referrer-Policy")).contains("no-referrer");
        }
    }

    @Test
    void signInIsLimitedPerAccountAndUnknownNamesLookLikeWrongPasswords() {
        Reply unknown = tender.signIn("nobody-here", "wrong-password-x");
        assertThat(unknown.field("code")).isEqualTo("wrong-sign-in");
        tender.use(owner);
        tender.post("/operators", Map.of("name", "guessed", "role", "auditor", "password", "first-password-g"));
        for (int i = 0; i < 10; i++) {
            assertThat(tender.signIn("guessed", "wrong-password-" + i).status()).isEqualTo(401);
        }
        assertThat(tender.signIn("guessed", "first-password-g").status()).isEqualTo(429);
        database.execute("select 1");
        assertThat(tender.signIn("owner", RunningService.PASSWORD).status())
                .as("others are not locked out")
                .isEqualTo(200);
        owner = tender.token();
    }

    @Test
    void theSecondFactorIsAskedForOnceItIsOn() throws Exception {
        tender.post("/operators", Map.of("name", "careful", "role", "operator", "password", "first-password-c"));
        tender.signIn("careful", "first-password-c");
        tender.post("/me/password", Map.of("old", "first-password-c", "fresh", "second-password-c"));
        byte[] seed = org.bouncycastle.util.encoders.Base32.decode(
                tender.post("/me/code", null).field("seed"));
        TimeBasedOneTimePasswordGenerator codes = new TimeBasedOneTimePasswordGenerator();
        SecretKeySpec key = new SecretKeySpec(seed, codes.getAlgorithm());
        assertThat(tender.post("/me/code/confirm", Map.of("code", "000000x")).status())
                .isEqualTo(401);
        assertThat(tender.signIn("careful", "second-password-c").status())
                .as("not on yet")
                .isEqualTo(200);
        String code = codes.generateOneTimePasswordString(key, Instant.now());
        assertThat(tender.post("/me/code/confirm", Map.of("code", code)).status())
                .isEqualTo(204);

        assertThat(tender.signIn("careful", "second-password-c").field("code")).isEqualTo("code-needed");
        Map<String, Object> signIn =
                Map.of("name", "careful", "password", "second-password-c", "forClient", true, "code", "123");
        assertThat(tender.send("POST", tender.url("/sign-in"), signIn, Map.of()).status())
                .isEqualTo(401);
        Map<String, Object> right = Map.of(
                "name",
                "careful",
                "password",
                "second-password-c",
                "forClient",
                true,
                "code",
                codes.generateOneTimePasswordString(key, Instant.now().plusSeconds(30)));
        assertThat(tender.send("POST", tender.url("/sign-in"), right, Map.of()).status())
                .isEqualTo(200);
        assertThat(tender.send("POST", tender.url("/sign-in"), right, Map.of()).status())
                .as("a code counts once")
                .isEqualTo(401);
    }

    @Test
    void aTokenCanBeRevoked() {
        tender.signIn("owner", RunningService.PASSWORD);
        String other = tender.token();
        JsonNode tokens = tender.get("/me/tokens").json().path("items");
        String id = "";
        for (JsonNode token : tokens) {
            id = token.path("thisOne").asBoolean() ? token.path("id").asText() : id;
        }
        tender.use(owner);
        assertThat(tender.send("DELETE", tender.url("/me/tokens/" + id), null, tender.bearer())
                        .status())
                .isEqualTo(204);
        tender.use(other);
        assertThat(tender.get("/me").status()).isEqualTo(401);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "/people | {\"handle\":\"a;reboot\",\"name\":\"x\"} | handle",
                "/people | {\"handle\":\"ok\"} | name",
                "/people | {\"handle\":7,\"name\":\"x\"} | handle",
                "/people | {\"handle\":\"ok\",\"name\":\"x\",\"RECOGNISABLE\":1} | ''",
                "/people | [1,2] | ''",
                "/people | {\"handle\": | line 1",
                "/people | not json RECOGNISABLE | line 1",
                "/people | {\"handle\":\"ok\",\"handle\":\"ok\",\"name\":\"x\"} | line 1",
                "/sites | {\"name\":\"s\",\"networks\":{\"office\":\"10.0.0.1/24\"}} | networks.office",
                "/sites | {\"name\":\"s\",\"timeZone\":\"RECOGNISABLE/x\"} | timeZone",
                "/people/import | {\"csv\":\"handle,name,mail,team,device,kind,system\\nok,x,,,phone,RECOGNISABLE,\"} | line 2.kind",
                "/gateways | {\"name\":\"g\",\"site\":\"s\",\"address\":\"$(RECOGNISABLE)\",\"user\":\"u\",\"key\":\"k\"} | address",
                "/gateways | {\"name\":\"g\",\"site\":\"s\",\"address\":\"192.0.2.1\",\"port\":99999,\"user\":\"u\",\"key\":\"k\"} | port",
                "/handouts | {\"profile\":\"x\",\"hours\":100000} | hours"
            })
    void badInputNamesTheFieldAndNeverTheValue(String path, String body, String place) {
        Reply reply = tender.send("POST", tender.url(path), body, tender.bearer());

        assertThat(reply.status()).as(reply.text()).isEqualTo(400);
        assertThat(reply.field("code")).isEqualTo("malformed");
        assertThat(reply.field("place")).isEqualTo(place);
        assertThat(reply.text())
                .doesNotContain("RECOGNISABLE")
                .doesNotContain("Exception")
                .doesNotContain("at tender");
    }

    @Test
    void hostileBodiesAreRefusedAndTheServiceGoesOn() {
        String deep = "{\"handle\":" + "[".repeat(5_000) + "]".repeat(5_000) + "}";
        String broken = "{\"handle\":\"\u0000\",\"name\":\"x\"}";
        byte[] notUtf8 = {'{', '"', 'h', (byte) 0xff, (byte) 0xfe, '"', '}'};
        byte[] large = new byte[7 * 1024 * 1024];

        assertThat(tender.send("POST", tender.url("/people"), deep, tender.bearer())
                        .status())
                .isEqualTo(400);
        assertThat(tender.send("POST", tender.url("/people"), broken, tender.bearer())
                        .status())
                .isEqualTo(400);
        assertThat(tender.send("POST", tender.url("/people"), notUtf8, tender.bearer())
                        .status())
                .isEqualTo(400);
        assertThat(tender.send("POST", tender.url("/people"), large, tender.bearer())
                        .status())
                .isEqualTo(413);
        assertThat(tender.get("/people?limit=0").field("place")).isEqualTo("limit");
        assertThat(tender.get("/people?after=%00%00").status()).isEqualTo(400);
        assertThat(tender.get("/gateways/not-an-id").field("place")).isEqualTo("id");
        assertThat(tender.get("/health").field("state")).isEqualTo("serving");
        assertThat(tender.send("GET", URI.create(tender.service.url() + "/assets/..%2f..%2fetc"), null, Map.of())
                        .status())
                .isIn(400, 404);
    }

    @Test
    void everyRefusalIsAProblemDocument() {
        byte[] large = new byte[20_000];
        List<Reply> refusals = List.of(
                tender.send("GET", tender.url("/nothing"), null, tender.bearer()),
                tender.send("POST", tender.url("/handouts//withdraw"), "{}", tender.bearer()),
                tender.send("PUT", tender.url("/people"), "{}", tender.bearer()),
                tender.send("POST", tender.url("/sign-in"), large, Map.of()),
                tender.send("POST", tender.url("/people"), new byte[7 * 1024 * 1024], tender.bearer()),
                tender.send("POST", URI.create(tender.service.staffUrl() + "/collect"), large, Map.of()),
                tender.send("POST", URI.create(tender.service.staffUrl() + "/collect"), "no json", Map.of()),
                tender.send("POST", URI.create(tender.service.staffUrl() + "/other"), "{}", Map.of()),
                tender.send("GET", tender.url("/events"), null, Map.of("Accept", "text/event-stream")),
                tender.send("GET", tender.url("/people?after=AA"), null, tender.bearer()),
                tender.send("GET", tender.url("/search?text=a%00b"), null, tender.bearer()),
                tender.send("GET", tender.url("/sites/named/a%00b"), null, tender.bearer()));
        for (Reply reply : refusals) {
            assertThat(reply.status()).as(reply.text()).isBetween(400, 499);
            assertThat(reply.raw().headers().firstValue("Content-Type").orElse(""))
                    .as(reply.raw().uri() + " " + reply.text())
                    .startsWith("application/problem+json");
            assertThat(reply.field("code")).isNotEmpty();
            assertThat(reply.json().path("status").asInt()).isEqualTo(reply.status());
        }
    }

    @Test
    void aRepeatedCreatingCallIsAnsweredOnceAndAnotherUnderItsKeyIsRefused() {
        Map<String, String> headers = Map.of("Authorization", "Bearer " + owner, "Idempotency-Key", "key-for-a-test-1");
        Map<String, Object> person = Map.of("handle", "twice", "name", "Twice");
        Reply first = tender.send("POST", tender.url("/people"), person, headers);
        Reply second = tender.send("POST", tender.url("/people"), person, headers);

        assertThat(second.status()).isEqualTo(first.status()).isEqualTo(201);
        assertThat(second.field("id")).isEqualTo(first.field("id"));
        assertThat(tender.send("POST", tender.url("/people"), Map.of("handle", "other", "name", "Other"), headers)
                        .status())
                .isEqualTo(409);
        assertThat(tender.post("/people", person).field("code")).isEqualTo("conflict");
    }

    @Test
    void aChangeNeedsTheVersionThatWasRead() {
        tender.post("/people", Map.of("handle", "versioned", "name", "One"));
        URI url = tender.url("/people/versioned");
        assertThat(tender.send("PATCH", url, Map.of("name", "Two"), tender.bearer())
                        .status())
                .isEqualTo(428);
        Map<String, String> first = Map.of("Authorization", "Bearer " + owner, "If-Match", "\"1\"");
        assertThat(tender.send("PATCH", url, Map.of("name", "Two"), first)
                        .json()
                        .path("name")
                        .asText())
                .isEqualTo("Two");
        assertThat(tender.send("PATCH", url, Map.of("name", "Three"), first).status())
                .isEqualTo(412);
    }

    @Test
    void listsArePagedByCursorWithoutGapsOrRepeats() {
        StringBuilder csv = new StringBuilder("handle,name,mail,team,device,kind,system\n");
        for (int i = 0; i < 1_000; i++) {
            csv.append("many")
                    .append(i)
                    .append(",\"Name, ")
                    .append(i)
                    .append("\",,team")
                    .append(i % 5)
                    .append(",phone,phone,\n");
        }
        assertThat(tender.post("/people/import", Map.of("csv", csv.toString(), "dryRun", true))
                        .json()
                        .path("people")
                        .asInt())
                .isEqualTo(1_000);
        tender.post("/people/import", Map.of("csv", csv.toString()));
        Set<String> seen = new HashSet<>();
        String after = "";
        do {
            JsonNode page = tender.get("/people?limit=150" + after).json();
            page.path("items")
                    .forEach(
                            p -> assertThat(seen.add(p.path("handle").asText())).isTrue());
            after = page.path("next").isNull()
                    ? null
                    : "&after=" + page.path("next").asText();
        } while (after != null);

        assertThat(seen.stream().filter(h -> h.startsWith("many"))).hasSize(1_000);
        assertThat(tender.get("/search?text=Name,%2077").json().path("items").size())
                .isGreaterThan(1);
    }

    @Test
    void theOpenApiDocumentDescribesExactlyTheRoutes() {
        JsonNode paths = tender.send("GET", tender.url("/openapi.json"), null, Map.of())
                .json()
                .path("paths");
        Set<String> described = new TreeSet<>();
        paths.fieldNames()
                .forEachRemaining(path -> paths.path(path)
                        .fieldNames()
                        .forEachRemaining(verb -> described.add(verb.toUpperCase() + " " + path)));
        Set<String> routes = new TreeSet<>();
        tender.service.routes().forEach(r -> routes.add(r.verb().name() + " " + Gate.PREFIX + r.path()));

        assertThat(described).isEqualTo(routes);
        JsonNode issue = paths.path("/api/v1/profiles")
                .path("post")
                .path("requestBody")
                .path("content")
                .path("application/json")
                .path("schema")
                .path("properties");
        assertThat(issue.fieldNames()).toIterable().contains("person", "device", "gateway", "publicKey");
    }

    /** The console's types are made from a copy; {@code scripts/types} makes both anew. */
    @Test
    void theConsoleKnowsTheOpenApiDocumentAsItIs() throws Exception {
        Path copy = Path.of("../console/openapi.json");
        ObjectMapper mapper = new ObjectMapper()
                .enable(SerializationFeature.INDENT_OUTPUT)
                .enable(SerializationFeature.ORDER_MAP_ENTRIES_BY_KEYS);
        Object document = mapper.readValue(
                tender.send("GET", tender.url("/openapi.json"), null, Map.of()).text(), Object.class);
        String text = mapper.writeValueAsString(document) + "\n";
        if (System.getenv("TENDER_OPENAPI_WRITE") != null) {
            Files.writeString(copy, text);
        }

        assertThat(text).as("run scripts/types").isEqualTo(Files.readString(copy));
    }

    @Test
    void theFirstPasswordIsGoneOnceItIsChanged() throws Exception {
        assertThat(folder.resolve("first-password")).doesNotExist();
        assertThat(Files.getPosixFilePermissions(folder.resolve("master-key"))).hasSize(2);
    }

    @Test
    void aDatabaseThatIsGoneGivesAProblemAndComesBack() throws Exception {
        try (TestDatabase other = TestDatabase.fresh();
                RunningService fragile = RunningService.start(other, folder.resolve("fragile"), null, Map.of())) {
            other.execute("alter database " + other.name() + " allow_connections false");
            other.execute(
                    "select pg_terminate_backend(pid) from pg_stat_activity where datname = '" + other.name() + "'");
            Reply gone = fragile.get("/people");
            assertThat(gone.status()).isEqualTo(503);
            assertThat(gone.field("code")).isEqualTo("unavailable");
            other.execute("alter database " + other.name() + " allow_connections true");

            fragile.until("/people", r -> r.status() == 200);
        }
    }
}
