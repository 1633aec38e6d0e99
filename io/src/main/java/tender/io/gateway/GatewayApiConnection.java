package tender.io.gateway;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import tender.core.backup.Snapshot;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.device.SharedClientSettings;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.wire.MalformedException;
import tender.core.wireguard.StatusDump;

/** A session over the gateway API. The configuration is one document with a revision that writes must name. */
final class GatewayApiConnection implements ManagementConnection, PlanRun.Writer {
    private static final String FILE = "configuration.json";

    /** What a gateway API says it can do; words of {@link Capability}, unknown ones left aside. */
    record About(String name, List<String> capabilities) {}

    record PeerSync(String holder, long fence, List<Change> changes) {}

    record Seconds(long seconds) {}

    record Time(Instant time) {}

    record People(List<Connected> sessions) {}

    record Lines(List<String> lines) {}

    record Said(String message) {}

    /** @param file in OpenVPN's own words, its parts inline */
    record ListenerSettings(String name, String file) {}

    record ClientSettingsAnswer(List<ListenerSettings> listeners) {}

    private final HttpClient client;
    private final String base;
    private final Target target;
    private final Set<Capability> capabilities = EnumSet.noneOf(Capability.class);
    private Optional<String> revision = Optional.empty();

    GatewayApiConnection(HttpClient client, String base, Target target) {
        this.client = client;
        this.base = base;
        this.target = target;
        About about = get("", About.class);
        for (Capability c : Capability.values()) {
            if (about.capabilities().contains(c.word()) && !(c.changes() && target.readOnly())) {
                capabilities.add(c);
            }
        }
    }

    @Override
    public Set<Capability> capabilities() {
        return Set.copyOf(capabilities);
    }

    private void need(Capability capability) {
        if (!capabilities.contains(capability)) {
            boolean readOnly = target.readOnly();
            throw new GatewayFailure(
                    readOnly ? GatewayFailure.Kind.READ_ONLY : GatewayFailure.Kind.NOT_CAPABLE,
                    target.host() + (readOnly ? " is managed for reading only" : " cannot " + capability.word()),
                    null);
        }
    }

    private HttpRequest.Builder to(String path) {
        String token =
                new String(target.signIn().secret().reveal(RevealSecret.TO_SIGN_IN), StandardCharsets.UTF_8).strip();
        if (!token.matches("[\\x21-\\x7e]{1,500}")) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.BAD_KEY, "the token is one line of printable characters", null);
        }
        return HttpRequest.newBuilder(URI.create(base + path)).header("Authorization", "Bearer " + token);
    }

    private HttpResponse<byte[]> send(HttpRequest request) {
        HttpResponse<byte[]> response;
        try {
            response = Limited.send(client, request);
        } catch (GatewayFailure e) {
            throw e.getCause() instanceof IOException io ? HttpsConnector.failure(target, io) : e;
        }
        if (response.statusCode() / 100 == 2) {
            return response;
        }
        throw switch (response.statusCode()) {
            case 401, 403 ->
                new GatewayFailure(GatewayFailure.Kind.REFUSED, target.host() + " refuses this token", null);
            case 409, 412 ->
                new GatewayFailure(
                        GatewayFailure.Kind.CHANGED_MEANWHILE,
                        target.host() + ": the configuration was changed by someone else; nothing was written",
                        null);
            case 423 ->
                new GatewayFailure(GatewayFailure.Kind.LOCKED, target.host() + " is held by someone else", null);
            default ->
                new GatewayFailure(
                        GatewayFailure.Kind.COMMAND_FAILED,
                        target.host() + " answered " + response.statusCode() + saying(response.body()),
                        null);
        };
    }

    /** A device's own words, made printable and short. */
    private static String saying(byte[] body) {
        try {
            String text = OfficeJson.read(body, Said.class).message();
            String plain =
                    text == null ? "" : text.replaceAll("\\p{Cntrl}+", " ").strip();
            return plain.isEmpty() ? "" : ": " + plain.substring(0, Math.min(200, plain.length()));
        } catch (MalformedException e) {
            return "";
        }
    }

    private <T> T get(String path, Class<T> type) {
        return OfficeJson.read(send(to(path).GET().build()).body(), type);
    }

    private void post(String path, Object body) {
        send(to(path).header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofByteArray(OfficeJson.write(body)))
                .build());
    }

    @Override
    public Snapshot readAll() {
        HttpResponse<byte[]> response = send(to("configuration").GET().build());
        revision = response.headers().firstValue("ETag");
        TreeMap<String, byte[]> files = new TreeMap<>(Map.of(FILE, response.body()));
        if (capabilities.contains(Capability.CLIENT_SETTINGS)) {
            get("client-settings", ClientSettingsAnswer.class)
                    .listeners()
                    .forEach(m -> files.put(
                            SharedClientSettings.gatewayApiPath(m.name()),
                            m.file().getBytes(StandardCharsets.ISO_8859_1)));
        }
        return new Snapshot(files);
    }

    @Override
    public Device device(Snapshot configuration, Instant now) {
        Device device = get("device", Device.class);
        return capabilities.contains(Capability.CLOCK)
                ? device.withClockOffset(Optional.of(Duration.between(now, clock())))
                : device;
    }

    @Override
    public StatusDump status() {
        return new StatusDump(List.of());
    }

    @Override
    public List<Connected> connected() {
        return capabilities.contains(Capability.SESSIONS)
                ? get("sessions", People.class).sessions()
                : List.of();
    }

    @Override
    public byte[] export() {
        need(Capability.EXPORT);
        return send(to("client-files").GET().build()).body();
    }

    private record Asked(String request) {}

    @Override
    public byte[] request(String listener) {
        need(Capability.REQUEST);
        String said = get("request?listener=" + URLEncoder.encode(listener, StandardCharsets.UTF_8), Asked.class)
                .request();
        return PemText.read(said == null ? "" : said).blocks().stream()
                .findFirst()
                .orElseThrow(() -> new MalformedException("request", "", target.host() + " gave no request in PEM"))
                .der();
    }

    private record PutAccount(String name, String password) {}

    private record Accounts(String holder, long fence, List<PutAccount> put, List<String> drop) {}

    @Override
    public void accounts(List<Account> put, List<String> drop, Hold hold) {
        need(Capability.ACCOUNTS);
        post(
                "accounts",
                new Accounts(
                        hold.holder(),
                        hold.fence(),
                        put.stream()
                                .map(a -> new PutAccount(a.name(), a.password().revealText(RevealSecret.TO_WRITE_FILE)))
                                .toList(),
                        drop));
    }

    @Override
    public List<String> log(int lines) {
        need(Capability.LOG);
        return DescribedDevice.tail(String.join("\n", get("log", Lines.class).lines()), lines);
    }

    @Override
    public Instant clock() {
        need(Capability.CLOCK);
        return get("clock", Time.class).time();
    }

    private void setClock(Instant now) {
        need(Capability.SET_CLOCK);
        post("clock", new Time(now));
    }

    @Override
    public byte[] tunnel(String listener) {
        throw noFiles();
    }

    @Override
    public byte[] revocationLists(String path) {
        throw noFiles();
    }

    @Override
    public Applied apply(GatewayPlan plan, Hold hold) {
        return PlanRun.run(plan, hold, this);
    }

    @Override
    public void settings(GatewayPlan.Settings settings, Hold hold) {
        change(settings.read(), settings.device(), settings.changes(), hold);
    }

    @Override
    public Applied.Peers peers(GatewayPlan.ListenerPeers peers, Hold hold) {
        throw noFiles();
    }

    @Override
    public void list(GatewayPlan.ListFile file, Hold hold) {
        throw noFiles();
    }

    @Override
    public void reload() {
        need(Capability.APPLY);
        post("apply", Map.of());
    }

    /** A gateway behind the gateway API restarts what its device needs to. */
    @Override
    public void reload(GatewayPlan.Reload reload) {
        if (reload.everything() || reload.listener().isPresent()) {
            reload();
        }
    }

    void change(Snapshot read, Device device, List<Change> changes, Hold hold) {
        need(Capability.CHANGE);
        send(to("changes")
                .header("Content-Type", "application/json")
                .header("If-Match", revision.orElse("*"))
                .POST(HttpRequest.BodyPublishers.ofByteArray(
                        OfficeJson.write(new PeerSync(hold.holder(), hold.fence(), changes))))
                .build());
        for (Change change : changes) {
            if (change.setsClock()) {
                setClock(Instant.now());
            }
        }
    }

    @Override
    public void undo(Snapshot before, Optional<Snapshot> after, Hold hold) {
        need(Capability.CHANGE);
        HttpResponse<byte[]> response = send(to("configuration").GET().build());
        JsonNode now = OfficeJson.read(response.body(), JsonNode.class);
        JsonNode made = after.map(GatewayApiConnection::document).orElse(now);
        JsonNode undone = JsonUndo.of(document(before), made, now).orElse(now);
        if (!undone.equals(now)) {
            send(to("configuration")
                    .header("Content-Type", "application/json")
                    .header("If-Match", response.headers().firstValue("ETag").orElse("*"))
                    .PUT(HttpRequest.BodyPublishers.ofByteArray(OfficeJson.write(undone)))
                    .build());
        }
    }

    private static JsonNode document(Snapshot snapshot) {
        return OfficeJson.read(snapshot.files().get(FILE), JsonNode.class);
    }

    @Override
    public void arm(Duration after) {
        need(Capability.ROLLBACK);
        post("rollback", new Seconds(after.toSeconds()));
    }

    @Override
    public void disarm() {
        need(Capability.ROLLBACK);
        send(to("rollback").DELETE().build());
    }

    private GatewayFailure noFiles() {
        return new GatewayFailure(
                GatewayFailure.Kind.NOT_CAPABLE, target.host() + " keeps no files that Tender could write", null);
    }

    @Override
    public void close() {
        // connections are the client's
    }
}
