package tender.standins.firewall;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.network.IpAddress;
import tender.standins.device.Faults;
import tender.standins.device.Journal;
import tender.standins.device.RollbackTimer;
import tender.standins.listener.Regulars;

/**
 * A firewall on loopback behind the gateway API: HTTPS with a self-signed certificate and a token, one JSON document
 * as its configuration, which takes effect when it is applied.
 */
public final class Firewall implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Firewall.class);
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final int MAX_BODY = 4 * 1024 * 1024;

    /** Where a firewall lives and listens; a port of 0 takes a free one. */
    public record Place(Path folder, String address, int port, String token) {}

    private final Place place;
    private final HttpsServer server;
    private final Faults faults = new Faults();
    private final Journal journal = new Journal();
    private final RollbackTimer rollback;
    private final Regulars regulars = new Regulars();
    private final FirewallKeys keys;
    private final FirewallListeners listeners;
    private volatile JsonNode running;
    private long highestFence;

    private Firewall(Place place) throws IOException, GeneralSecurityException {
        this.place = place;
        this.running = written();
        this.rollback = new RollbackTimer(place.folder(), this, this::reload);
        InetAddress address =
                InetAddress.getByAddress(IpAddress.parse(place.address()).toBytes());
        this.keys = new FirewallKeys(place.folder(), Instant.now());
        this.listeners = new FirewallListeners(address, keys, faults, journal);
        listeners.reload(running);
        this.server = HttpsServer.create(new InetSocketAddress(address, place.port()), 0);
        server.setHttpsConfigurator(new HttpsConfigurator(
                OwnCertificate.at(place.folder().resolveSibling(place.folder().getFileName() + ".p12"))));
        server.setExecutor(Executors.newFixedThreadPool(4, task -> {
            Thread thread = new Thread(task, "firewall");
            thread.setDaemon(true);
            return thread;
        }));
        server.createContext("/gateway-api/v1/", this::answer);
        server.start();
    }

    public static Firewall start(Place place) throws IOException, GeneralSecurityException {
        return new Firewall(place);
    }

    public int port() {
        return server.getAddress().getPort();
    }

    public Faults faults() {
        return faults;
    }

    public Regulars regulars() {
        return regulars;
    }

    private Path file() {
        return place.folder().resolve("configuration.json");
    }

    private JsonNode written() throws IOException {
        return JSON.readTree(Files.readAllBytes(file()));
    }

    private static String revision(byte[] content) {
        try {
            return "\""
                    + HexFormat.of()
                            .formatHex(MessageDigest.getInstance("SHA-256").digest(content), 0, 8) + "\"";
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }

    private void answer(HttpExchange x) throws IOException {
        try (x) {
            byte[] given = String.valueOf(x.getRequestHeaders().getFirst("Authorization"))
                    .getBytes(StandardCharsets.UTF_8);
            if (!MessageDigest.isEqual(given, ("Bearer " + place.token()).getBytes(StandardCharsets.UTF_8))) {
                send(x, 401, said("the token is not known"));
                return;
            }
            String path = x.getRequestURI().getPath().substring("/gateway-api/v1/".length());
            faults.beforeOperation.accept(x.getRequestMethod() + " " + path);
            byte[] body = x.getRequestBody().readNBytes(MAX_BODY);
            try {
                route(x, x.getRequestMethod() + " " + path, body);
            } catch (ApiFault e) {
                send(x, e.status(), said(e.getMessage()));
            } catch (IOException | RuntimeException e) {
                LOG.warn("{} {}", x.getRequestMethod(), path, e);
                send(x, 400, said("not understood"));
            }
        }
    }

    private synchronized void route(HttpExchange x, String call, byte[] body) throws IOException {
        switch (call) {
            case "GET " -> send(x, 200, about());
            case "GET configuration" -> {
                byte[] content = Files.readAllBytes(file());
                x.getResponseHeaders().add("ETag", revision(content));
                raw(x, 200, content);
            }
            case "PUT configuration" -> {
                expect(x.getRequestHeaders().getFirst("If-Match"), Files.readAllBytes(file()));
                write(JSON.readTree(body));
                journal.say("configuration put");
                send(x, 200, said("written"));
            }
            case "GET device" -> send(x, 200, Configuration.device(written(), running));
            case "POST changes" -> {
                change(x.getRequestHeaders().getFirst("If-Match"), JSON.readTree(body));
                send(x, 200, said("written"));
            }
            case "POST apply" -> {
                if (faults.reloadFails) {
                    journal.say("apply failed");
                    throw new ApiFault(500, "apply failed: settings left as they were");
                }
                reload();
                send(x, 200, said("active"));
            }
            case "GET clock" ->
                send(
                        x,
                        200,
                        JSON.createObjectNode()
                                .put(
                                        "time",
                                        Instant.now().plus(faults.clockAhead).toString()));
            case "POST clock" -> {
                faults.clockAhead = Duration.between(
                        Instant.now(),
                        Instant.parse(JSON.readTree(body).path("time").asText()));
                send(x, 200, said("set"));
            }
            case "GET sessions" -> {
                send(x, 200, sessions());
            }
            case "GET log" -> {
                ObjectNode out = JSON.createObjectNode();
                ArrayNode lines = out.putArray("lines");
                journal.text().lines().forEach(lines::add);
                send(x, 200, out);
            }
            case "GET client-settings" -> send(x, 200, keys.clientSettings(running));
            case "GET request" -> send(x, 200, request(x.getRequestURI().getQuery()));
            case "POST accounts" -> {
                accounts(JSON.readTree(body));
                send(x, 200, said("written and active"));
            }
            case "GET client-files" -> raw(x, 200, Files.readAllBytes(FirewallClients.archive(place.folder())));
            case "POST rollback" -> {
                rollback.arm(JSON.readTree(body).path("seconds").asLong());
                send(x, 200, said("armed"));
            }
            case "DELETE rollback" -> {
                rollback.disarm();
                send(x, 200, said("called off"));
            }
            default -> throw new ApiFault(404, "there is no such call");
        }
    }

    private static JsonNode about() {
        ObjectNode out = JSON.createObjectNode().put("name", "1");
        ArrayNode can = out.putArray("capabilities");
        for (String word : new String[] {
            "read",
            "change",
            "add-listener",
            "apply",
            "sessions",
            "log",
            "clock",
            "set-clock",
            "export",
            "client-settings",
            "request",
            "accounts",
            "rollback"
        }) {
            can.add(word);
        }
        return out;
    }

    private void change(String expected, JsonNode body) throws IOException {
        long fence = body.path("fence").asLong();
        if (fence < highestFence) {
            throw new ApiFault(423, "a later writer holds the configuration");
        }
        byte[] content = Files.readAllBytes(file());
        expect(expected, content);
        highestFence = fence;
        ObjectNode changed = (ObjectNode) JSON.readTree(content);
        for (JsonNode one : body.path("changes")) {
            keep(one);
            Configuration.apply(changed, one);
        }
        write(changed);
        journal.say(body.path("changes").size() + " changes written by "
                + body.path("holder").asText());
    }

    private static void expect(String expected, byte[] content) {
        if (expected != null && !expected.equals("*") && !expected.equals(revision(content))) {
            throw new ApiFault(412, "the configuration is another by now");
        }
    }

    /** What a change brings that is no part of the configuration. */
    private void keep(JsonNode change) throws IOException {
        String listener = change.path("listener").asText();
        switch (change.path("change").asText()) {
            case "use-certificate" ->
                keys.use(
                        listener,
                        change.path("certificate").asText(),
                        change.path("authority").asText(),
                        change.path("revocations").asText());
            case "put-revocations" ->
                keys.revoke(listener, change.path("revocations").asText());
            default -> {
                // stands in the configuration alone
            }
        }
    }

    private JsonNode sessions() {
        ObjectNode out = JSON.createObjectNode();
        ArrayNode all = out.putArray("sessions");
        Stream.concat(listeners.connected().stream(), regulars.connected().stream())
                .forEach(c -> all.addObject()
                        .put("listener", c.listener())
                        .put("name", c.name())
                        .put("endpoint", c.endpoint())
                        .put("received", c.received())
                        .put("sent", c.sent())
                        .put("since", c.since().toString())
                        .putArray("addresses")
                        .add(c.address()));
        return out;
    }

    private JsonNode request(String query) throws IOException {
        String name = query != null && query.startsWith("listener=") ? query.substring("listener=".length()) : "";
        for (JsonNode l : written().path("listeners")) {
            if (l.path("name").asText().equals(name)) {
                String says = l.path("values").path("server-names").asText(name).split("\\s*,\\s*")[0];
                return JSON.createObjectNode().put("request", keys.request(name, says));
            }
        }
        throw new ApiFault(404, "there is no such listener");
    }

    /** Accounts for callers alone; they never get any right on the firewall itself. */
    private void accounts(JsonNode body) throws IOException {
        long fence = body.path("fence").asLong();
        if (fence < highestFence) {
            throw new ApiFault(423, "a later writer holds the configuration");
        }
        ObjectNode changed = (ObjectNode) written();
        for (JsonNode a : body.path("put")) {
            Configuration.putAccount(changed, a.path("name").asText());
        }
        for (JsonNode name : body.path("drop")) {
            Configuration.dropAccount(changed, name.asText());
        }
        highestFence = fence;
        keys.passwords(body.path("put"), body.path("drop"));
        write(changed);
        journal.say(
                body.path("put").size() + " accounts set, " + body.path("drop").size() + " dropped");
        reload();
    }

    private void write(JsonNode configuration) throws IOException {
        Path fresh = place.folder().resolve("configuration.json.new");
        Files.write(fresh, JSON.writerWithDefaultPrettyPrinter().writeValueAsBytes(configuration));
        Files.move(fresh, file(), StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    private void reload() {
        try {
            running = written();
            listeners.reload(running);
            journal.say("configuration active");
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static JsonNode said(String message) {
        return JSON.createObjectNode().put("message", message);
    }

    private static void send(HttpExchange x, int status, JsonNode body) throws IOException {
        raw(x, status, JSON.writeValueAsBytes(body));
    }

    private static void raw(HttpExchange x, int status, byte[] content) throws IOException {
        x.getResponseHeaders().add("Content-Type", "application/json");
        x.sendResponseHeaders(status, content.length);
        x.getResponseBody().write(content);
    }

    @Override
    public void close() {
        server.stop(0);
        rollback.close();
        try {
            listeners.close();
        } catch (IOException e) {
            LOG.warn("listeners do not close: {}", e.getMessage());
        }
    }
}
