package tender.service;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import tender.service.settings.Settings;
import tender.service.settings.SettingsReader;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** A node on free ports over a test database, and calls to it as its owner. */
final class RunningService implements AutoCloseable {
    static final String PASSWORD = "owner-password-for-tests";
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Duration PATIENCE = Duration.ofSeconds(40);

    /** An answer: status, body, headers. */
    record Reply(int status, JsonNode json, String text, HttpResponse<byte[]> raw) {
        String field(String name) {
            return json.path(name).asText();
        }
    }

    /** Writing calls that change no record: they ask, or order what leaves its own entry when it is done. */
    private static final Pattern QUIET = Pattern.compile(
            "/sign-in|/me/fresh|/me/code|/journal/verify|/walks|/explain/.*|/inspections|/findings/preview"
                    + "|/gateways/[^/]+/changes/preview|/change-sets/preview|/gateways(/[^/]+)?/(read|recognise)|/vantage/.*|/trials/reported|/device-descriptions/[^/]+/check|/departures/[^/]+/check"
                    + "|/gateways/[^/]+/instructions/send");

    final Service service;
    private final Optional<TestDatabase> database;
    private final HttpClient http = HttpClient.newHttpClient();
    private final Map<String, String> passwords = new HashMap<>();
    private String token;

    private RunningService(Service service, Optional<TestDatabase> database) {
        this.service = service;
        this.database = database;
    }

    static RunningService start(TestDatabase database, Path folder, SmallOffice office, Map<String, String> more)
            throws Exception {
        return start(database, folder, office, more, Clock.systemUTC());
    }

    static RunningService start(
            TestDatabase database, Path folder, SmallOffice office, Map<String, String> more, Clock clock)
            throws Exception {
        Map<String, String> env = new HashMap<>(database.settings());
        env.putAll(Map.of(
                "TENDER_DATA_FOLDER", folder.toString(),
                "TENDER_HTTP_PORT", "0",
                "TENDER_STAFF_PORT", "0",
                "TENDER_CALLABLE_LOCAL", "127.10.0.0/16",
                "TENDER_WATCH_SECONDS", "1",
                "TENDER_PASSWORD_MEMORY", "64"));
        if (office != null) {
            env.put("TENDER_RESOLVER_ADDRESS", "127.0.0.1:" + office.names().port());
        }
        env.putAll(more);
        RunningService running = new RunningService(
                Service.start(SettingsReader.read(Optional.empty(), env), clock).orElseThrow(), Optional.of(database));
        if (Files.exists(folder.resolve("first-password"))) {
            running.takeOver(Files.readString(folder.resolve("first-password")).strip());
        } else {
            running.signIn("owner", PASSWORD);
        }
        return running;
    }

    /** The same node again, nobody signed in. */
    static RunningService restarted(Settings settings, Clock clock) throws Exception {
        return new RunningService(Service.start(settings, clock).orElseThrow(), Optional.empty());
    }

    private void takeOver(String first) {
        signIn("owner", first);
        post("/me/password", Map.of("old", first, "fresh", PASSWORD));
        passwords.put(token, PASSWORD);
    }

    Reply signIn(String name, String password) {
        Reply reply =
                send("POST", url("/sign-in"), Map.of("name", name, "password", password, "forClient", true), Map.of());
        passwords.put(reply.field("token"), password);
        token = reply.field("token");
        return reply;
    }

    void use(String otherToken) {
        token = otherToken;
    }

    String token() {
        return token;
    }

    URI url(String path) {
        return URI.create(service.url() + "/api/v1" + path);
    }

    Reply get(String path) {
        return sendFresh("GET", path, null, Map.of());
    }

    Reply post(String path, Object body) {
        return sendFresh("POST", path, body, Map.of());
    }

    Reply delete(String path) {
        return sendFresh("DELETE", path, null, Map.of());
    }

    /** Proves anew who one is where the call asks for it, as the client does. */
    private Reply sendFresh(String method, String path, Object body, Map<String, String> more) {
        Map<String, String> headers = new HashMap<>(bearer());
        headers.putAll(more);
        Reply reply = send(method, url(path), body, headers);
        if (reply.status() == 403 && reply.field("code").equals("not-fresh") && passwords.containsKey(token)) {
            send("POST", url("/me/fresh"), Map.of("password", passwords.get(token)), bearer());
            reply = send(method, url(path), body, headers);
        }
        return reply;
    }

    /** Changes what is at a path, as it is now. */
    Reply patch(String path, Object body) {
        String version = get(path).raw().headers().firstValue("ETag").orElseThrow();
        return sendFresh("PATCH", path, body, Map.of("If-Match", version));
    }

    /** Orders a change and waits until it is settled. */
    Reply change(String path, Object order) {
        Reply ordered = post(path, order);
        if (ordered.status() != 202) {
            throw new AssertionError(ordered.text());
        }
        return until(
                "/changes/" + ordered.json().path("change").path("id").asText(),
                r -> !r.field("state").equals("ordered") && !r.field("state").equals("writing"));
    }

    Map<String, String> bearer() {
        return Map.of("Authorization", "Bearer " + token);
    }

    Reply send(String method, URI url, Object body, Map<String, String> headers) {
        boolean writes = !method.equals("GET")
                && url.getPath().startsWith("/api/v1/")
                && !QUIET.matcher(url.getPath().substring("/api/v1".length())).matches();
        long before = writes ? entries() : 0;
        Reply reply = sent(method, url, body, headers);
        boolean changed = writes && reply.status() < 300 && !dry(body) && !headers.containsKey("Idempotency-Key");
        boolean nothingDone = Stream.of("prepared", "issued")
                .map(reply.json()::path)
                .anyMatch(list -> list.isArray() && list.isEmpty());
        if (changed && !nothingDone && entries() == before && before >= 0) {
            throw new AssertionError(method + " " + url.getPath() + " left no entry in the journal: " + reply.text());
        }
        return reply;
    }

    private static boolean dry(Object body) {
        return body instanceof Map<?, ?> m && Boolean.TRUE.equals(m.get("dryRun"));
    }

    /** How many the journal has; -1 while the database cannot be asked. */
    private long entries() {
        try {
            return database.map(d -> d.number("select count(*) from journal")).orElse(-1L);
        } catch (IllegalStateException e) {
            return -1;
        }
    }

    private Reply sent(String method, URI url, Object body, Map<String, String> headers) {
        try {
            byte[] content = body == null
                    ? new byte[0]
                    : body instanceof byte[] raw
                            ? raw
                            : body instanceof String s ? s.getBytes() : JSON.writeValueAsBytes(body);
            HttpRequest.Builder request = HttpRequest.newBuilder(url)
                    .timeout(Duration.ofSeconds(30))
                    .method(method, HttpRequest.BodyPublishers.ofByteArray(content));
            headers.forEach(request::header);
            HttpResponse<byte[]> response = http.send(request.build(), HttpResponse.BodyHandlers.ofByteArray());
            String text = new String(response.body(), java.nio.charset.StandardCharsets.UTF_8);
            JsonNode json =
                    text.startsWith("{") || text.startsWith("[") ? JSON.readTree(text) : JSON.createObjectNode();
            return new Reply(response.statusCode(), json, text, response);
        } catch (IOException e) {
            throw new IllegalStateException(method + " " + url, e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException(e);
        }
    }

    /** Asks until the answer is as wanted, or fails with the last one. */
    Reply until(String path, Predicate<Reply> wanted) {
        Instant end = Instant.now().plus(PATIENCE);
        Reply last = get(path);
        while (!wanted.test(last)) {
            if (Instant.now().isAfter(end)) {
                throw new AssertionError(path + " stayed " + last.text());
            }
            LockSupport.parkNanos(Duration.ofMillis(50).toNanos());
            last = get(path);
        }
        return last;
    }

    /** Adds the site and the office's router, accepts it, and waits until it was read. */
    String addRouter(SmallOffice office) throws IOException {
        post("/sites", Map.of("name", "pier-two", "networks", Map.of("office", "10.20.4.0/24")));
        Reply added = post(
                "/gateways",
                Map.of(
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
        if (added.status() != 201) {
            throw new AssertionError(added.text());
        }
        String id = added.field("id");
        post("/gateways/" + id + "/accept", Map.of("identity", added.field("identity")));
        until("/gateways/" + id, r -> r.json().path("listeners").size() == 1);
        return id;
    }

    void addPerson(String handle, String... devices) {
        post("/people", Map.of("handle", handle, "name", "Person " + handle));
        for (String device : devices) {
            post(
                    "/people/" + handle + "/devices",
                    Map.of("name", device, "kind", device.equals("phone") ? "phone" : "laptop"));
        }
    }

    /** Issues a profile and waits until the gateway shows it. */
    Reply issue(String person, String device) {
        Reply issued = post("/profiles", Map.of("person", person, "device", device, "gateway", "pier2"));
        if (issued.status() != 202) {
            throw new AssertionError(issued.text());
        }
        return until(
                "/profiles/" + issued.json().path("profile").path("id").asText(),
                r -> !r.field("state").equals("writing"));
    }

    Reply trial(String label) {
        Reply started = post("/trials", Map.of("profile", label));
        return started.status() != 202
                ? started
                : until(
                        "/trials/" + started.field("id"),
                        r -> r.field("state").equals("ended")
                                || r.field("state").equals("failed"));
    }

    @Override
    public void close() throws IOException {
        service.close();
    }
}
