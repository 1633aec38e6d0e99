package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import tender.service.RunningService.Reply;
import tender.standins.demo.AdminKey;
import tender.standins.demo.DemoWorld;
import tender.store.testing.TestDatabase;

/** The demo company's offices, entered as {@code demo/office} enters them, with a service that manages them. */
final class DemoOffice implements AutoCloseable {
    private static final int TUNNEL_PORT = 51820;
    static final String RANGE = "127.12"; // beside a demo that may be running

    final DemoWorld world;
    final TestDatabase database;
    RunningService tender;
    private final Path folder;
    private final Map<String, String> ids = new HashMap<>();

    DemoOffice(Path folder) throws Exception {
        this.folder = folder;
        world = DemoWorld.start(
                new DemoWorld.Place(
                        folder.resolve("standins"),
                        RANGE,
                        0,
                        0,
                        TUNNEL_PORT,
                        new InetSocketAddress(InetAddress.getLoopbackAddress(), 0),
                        true,
                        Optional.empty()),
                AdminKey.at(folder.resolve("keeper-key")));
        database = TestDatabase.fresh();
        start();
        sites();
        devices();
        carried();
        troubles();
    }

    /** Starts the service, also after it was closed. */
    void start() throws Exception {
        tender = RunningService.start(
                database,
                folder.resolve("data"),
                null,
                Map.of(
                        "TENDER_RESOLVER_ADDRESS",
                        "127.0.0.1:" + world.names().port(),
                        "TENDER_CALLABLE_LOCAL",
                        RANGE + ".0.0/16",
                        "TENDER_GUARD_SECONDS",
                        "8",
                        "TENDER_NAMES_SECONDS",
                        "1"));
    }

    private void sites() {
        site("port-orrin", "office", "10.20.0.0/24");
        renumber("port-orrin", "servers", "10.20.1.0/24");
        site("dunmar-slip", "workshop", "10.20.2.0/24");
        site("pier-one", "office", "10.20.3.0/24");
        site("pier-two", "office", "10.20.4.0/24");
        site("pier-three", "office", "10.20.5.0/24");
        site("outer-isles", "isles", "10.20.6.0/24");
        site("winter-store", "store", "10.20.6.128/25");
        site("quay-office", "quay", "10.20.6.64/26");
    }

    /** Puts a network of a site, in place of the one of that name. */
    void renumber(String site, String network, String cidr) {
        Reply now = tender.get("/sites/named/" + site);
        Map<String, String> headers = new HashMap<>(tender.bearer());
        headers.put("If-Match", now.raw().headers().firstValue("ETag").orElseThrow());
        Reply put = tender.send(
                "PATCH", tender.url("/sites/" + now.field("id")), Map.of("networks", Map.of(network, cidr)), headers);
        assertThat(put.status()).as(put.text()).isEqualTo(200);
    }

    private void devices() throws Exception {
        gateway("pier2", "pier-two", Map.of());
        gateway("slip-front", "dunmar-slip", Map.of());
        gateway("slip-nas", "dunmar-slip", Map.of("kind", "nas", "description", "office-nas"));
        gateway("pier1", "pier-one", Map.of());
        gateway("pier3", "pier-three", Map.of());
        gateway(
                "orrin-fw",
                "port-orrin",
                Map.of("kind", "firewall", "connector", "https", "key", DemoWorld.FIREWALL_TOKEN));
        set("pier2", Map.of("factory", "changed"));
        set("slip-nas", Map.of("uplinks", List.of("behind:slip-front"), "factory", "still-work"));
        set("slip-front", Map.of("factory", "changed"));
        set("orrin-fw", Map.of("factory", "changed"));
        set("pier3", Map.of("factory", "changed", "endpoint", "your-server"));
        add("slip-spare", "dunmar-slip", Map.of());
    }

    private void carried() {
        Instant today = Instant.now().truncatedTo(ChronoUnit.DAYS);
        carried("hut-north", "outer-isles", Optional.of(today), Map.of());
        carried("hut-east", "outer-isles", Optional.of(today), Map.of("endpoint", "10.20.6.9"));
        carried(
                "hut-south",
                "outer-isles",
                Optional.of(today.minus(Duration.ofDays(12))),
                Map.of("endpoint", "198.51.100.23"));
        carried("hut-west", "outer-isles", Optional.of(today), Map.of("endpoint", "hut-west.skerrivane.example"));
        carried("hut-mid", "quay-office", Optional.of(today), Map.of("endpoint", "198.51.100.26"));
        carried("hut-far", "outer-isles", Optional.empty(), Map.of());
        carried("slip-yard", "dunmar-slip", Optional.of(today), Map.of("uplinks", List.of("behind:slip-front")));
        carried("hut-late", "outer-isles", Optional.of(today), Map.of("uplinks", List.of("fixed:198.51.100.27")));
        drop("hut-late", Map.of("/general.conf", "garbled on the way\n"), today);
        set("hut-mid", Map.of("joinedWith", "hut-north"));
    }

    private void troubles() throws Exception {
        tender.addPerson("mara", "phone", "laptop");
        tender.addPerson("ebba", "phone");
        tender.addPerson("wen", "tablet");
        tender.issue("mara", "phone");
        tender.issue("ebba", "phone");
        tender.post("/handouts", Map.of("profile", "mara-phone-pier2"));
        tender.post("/handouts", Map.of("profile", "ebba-phone-pier2"));
        Reply temporary = tender.change(
                changes("slip-nas"),
                Map.of("changes", List.of(listener("l2tp", "limit-total", "8")), "temporarySeconds", 43_200));
        assertThat(temporary.field("state")).as(temporary.text()).isEqualTo("active");
        tender.until(
                "/jobs/"
                        + tender.post("/profiles", Map.of("person", "wen", "device", "tablet", "gateway", "pier1"))
                                .json()
                                .findValue("jobId")
                                .asText(),
                r -> r.field("state").equals("done"));
        handOut("wen-tablet-pier1");
        tender.addPerson("tavin", "phone", "laptop");
        access("phone", Instant.now().plus(Duration.ofDays(7)));
        access("laptop", Instant.now().plusSeconds(3));
        Path tunnel = standin("pier1/tunnels/wg0.conf");
        Files.writeString(tunnel, Files.readString(tunnel).replaceAll("ListenPort = .*", "ListenPort = 51999"));
        read("pier1");
        tender.until("/findings?limit=200", r -> {
            Set<String> codes = codes(r);
            return codes.contains("endpoint-name-elsewhere pier1 wg0")
                    && codes.contains("endpoint-name-unknown hut-west wg0")
                    && codes.contains("not-active pier1 wg0")
                    && codes.contains("credential-expired tavin-laptop-pier3")
                    && codes.contains("read-failed hut-late");
        });
    }

    /** Hands out also what is not fit: what is wrong with it is what is to be found. */
    private void handOut(String label) {
        Reply prepared = tender.post("/handouts", Map.of("profile", label, "override", "made to be found"));
        assertThat(prepared.status()).as(prepared.text()).isEqualTo(201);
    }

    /** Tavin's, at pier three until then. */
    private void access(String device, Instant until) {
        Reply issued = tender.post(
                "/profiles",
                Map.of("person", "tavin", "device", device, "gateway", "pier3", "until", until.toString()));
        assertThat(issued.status()).as(issued.text()).isEqualTo(202);
        tender.until("/jobs/" + issued.field("jobId"), r -> r.field("state").equals("done"));
        handOut("tavin-" + device + "-pier3");
    }

    Path standin(String file) {
        return folder.resolve("standins").resolve(file);
    }

    String id(String gateway) {
        return ids.get(gateway);
    }

    String changes(String gateway) {
        return "/gateways/" + id(gateway) + "/changes";
    }

    static Map<String, Object> listener(String name, String setting, String value) {
        return Map.of("change", "set-listener", "listener", name, "values", Map.of(setting, value));
    }

    private void site(String name, String network, String cidr) {
        tender.post("/sites", Map.of("name", name, "timeZone", "Europe/Oslo", "networks", Map.of(network, cidr)));
    }

    private Reply add(String name, String site, Map<String, Object> more) throws Exception {
        Map<String, Object> request = new HashMap<>(Map.of(
                "name",
                name,
                "site",
                site,
                "address",
                world.addresses().get(name),
                "user",
                "keeper",
                "key",
                Files.readString(folder.resolve("keeper-key"))));
        request.put("port", world.sshPorts().getOrDefault(name, world.firewall().port()));
        request.putAll(more);
        return added(name, tender.post("/gateways", request));
    }

    private Reply added(String name, Reply added) {
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        ids.put(name, added.field("id"));
        return added;
    }

    private void gateway(String name, String site, Map<String, Object> more) throws Exception {
        add(name, site, more);
        accept(name);
    }

    /** Accepts the identity that a gateway shows and waits until it is read. */
    void accept(String gateway) {
        String path = "/gateways/" + id(gateway);
        Reply shown = tender.get(path);
        tender.post(path + "/accept", Map.of("identity", shown.field("identity")));
        tender.until(path, r -> !r.field("readAt").equals("null"));
    }

    private void carried(String name, String site, Optional<Instant> taken, Map<String, Object> said) {
        added(
                name,
                tender.post("/gateways", Map.of("name", name, "site", site, "kind", "router", "connector", "file")));
        taken.ifPresent(at -> {
            drop(name, files(standin("carried/" + name)), at);
            tender.until("/gateways/" + id(name), r -> !r.field("readAt").equals("null"));
        });
        Map<String, Object> values = new HashMap<>(said);
        values.put("factory", "changed");
        set(name, values);
    }

    /** Drops files and gives the job that reads them. */
    Reply drop(String gateway, Map<String, String> files, Instant taken) {
        Reply job =
                tender.post("/gateways/" + id(gateway) + "/dropped", Map.of("files", files, "taken", taken.toString()));
        assertThat(job.status()).as(job.text()).isEqualTo(202);
        return job;
    }

    static Map<String, String> files(Path root) {
        Map<String, String> out = new HashMap<>();
        try (Stream<Path> all = Files.walk(root)) {
            for (Path file : all.filter(Files::isRegularFile).toList()) {
                out.put("/" + root.relativize(file), Files.readString(file));
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out;
    }

    void set(String gateway, Map<String, Object> values) {
        Reply reply = tender.patch("/gateways/" + id(gateway), values);
        assertThat(reply.status()).as(reply.text()).isEqualTo(200);
    }

    /** Renews a profile and hands the new revision out. */
    void handOutAgain(String label, Map<String, Object> renewal) {
        for (JsonNode p : tender.get("/profiles").json().path("items")) {
            if (p.path("label").asText().equals(label)) {
                Reply renewed = tender.post("/profiles/" + p.path("id").asText() + "/renew", renewal);
                assertThat(renewed.status()).as(renewed.text()).isEqualTo(200);
                handOut(label);
            }
        }
    }

    /** Reads a gateway and waits for the end. */
    void read(String gateway) {
        Reply job = tender.post("/gateways/" + id(gateway) + "/read", null);
        tender.until("/jobs/" + job.field("id"), r -> !r.field("endedAt").equals("null"));
    }

    static Set<String> codes(Reply findings) {
        Set<String> out = new TreeSet<>();
        findings.json()
                .path("items")
                .forEach(f -> out.add(
                        f.path("code").asText() + " " + f.path("subject").asText()));
        return out;
    }

    Set<String> found() {
        return codes(tender.get("/findings?limit=200"));
    }

    /** Findings that one step fixes, worst first. */
    List<JsonNode> mendable() {
        List<JsonNode> out = new ArrayList<>();
        tender.get("/findings?limit=200").json().path("items").forEach(f -> {
            if (!f.path("oneStep").isNull()) {
                out.add(f);
            }
        });
        return out;
    }

    List<String> keys() {
        List<String> out = new ArrayList<>();
        tender.get("/findings?limit=200")
                .json()
                .path("items")
                .forEach(
                        f -> out.add(f.path("key").asText() + f.path("evidence").asText()));
        return out;
    }

    @Override
    public void close() throws Exception {
        tender.close();
        database.close();
        world.close();
    }
}
