package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.profile.WireGuardFile;
import tender.standins.demo.AdminKey;
import tender.standins.device.SshDevice;
import tender.standins.nas.Nas;
import tender.standins.nas.NasFolder;
import tender.standins.office.SmallOffice;

/**
 * Two nodes on one database, both reading, issuing, changing settings and delivering revocation lists at forty gateways, while
 * one node is killed three times and the database once. Afterwards records and gateways agree.
 */
class TwoNodesTest {
    private static final int ROUTERS = 34;
    private static final int STORAGES = 6;
    private static final Duration CALL = Duration.ofSeconds(60);
    private static final Duration PATIENCE = Duration.ofSeconds(150);

    @TempDir
    Path folder;

    private final HttpClient http = HttpClient.newHttpClient();
    private final List<SmallOffice> routers = new ArrayList<>();
    private final List<Nas> storages = new ArrayList<>();
    private final Map<String, String> gateways = new HashMap<>();
    private Tender first;
    private Second second;

    /** Another node of the same installation, as a process of its own. */
    private final class Second {
        private final Path data = folder.resolve("second");
        private Process process;

        void start() throws IOException {
            Files.deleteIfExists(data.resolve("address"));
            ProcessBuilder builder =
                    new ProcessBuilder(Shell.ROOT.resolve("bin/tender-service").toString());
            builder.environment().putAll(first.environment());
            builder.environment().put("TENDER_DATA_FOLDER", data.toString());
            builder.environment()
                    .put(
                            "TENDER_MASTER_KEY_FILE",
                            folder.resolve("first/data/master-key").toString());
            process = builder.redirectErrorStream(true)
                    .redirectOutput(ProcessBuilder.Redirect.appendTo(
                            folder.resolve("second.log").toFile()))
                    .start();
            Shell.until("the second node to start", Duration.ofSeconds(60), () -> {
                try {
                    return Files.exists(data.resolve("address")) && Files.size(data.resolve("address")) > 0;
                } catch (IOException e) {
                    return false;
                }
            });
        }

        String address() throws IOException {
            return Files.readAllLines(data.resolve("address")).get(0);
        }

        void kill() throws InterruptedException {
            process.destroyForcibly().waitFor();
        }
    }

    private record Reply(int status, String text) {
        JsonNode json() throws IOException {
            return Tender.JSON.readTree(text);
        }
    }

    private Reply call(String node, String method, String path, Object body) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(node + "/api/v1" + path))
                .timeout(CALL)
                .header("Authorization", "Bearer " + first.token())
                .header("Content-Type", "application/json")
                .header("Idempotency-Key", UUID.randomUUID().toString());
        HttpResponse<String> reply = http.send(
                request.method(
                                method,
                                body == null
                                        ? HttpRequest.BodyPublishers.noBody()
                                        : HttpRequest.BodyPublishers.ofString(Tender.JSON.writeValueAsString(body)))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        return new Reply(reply.statusCode(), reply.body());
    }

    private JsonNode get(String path) throws Exception {
        Reply reply = call(first.address(), "GET", path, null);
        assertThat(reply.status()).as(path + ": " + reply.text()).isEqualTo(200);
        return reply.json();
    }

    /** An authority's revocation list, in PEM. */
    private String list(String authority) throws Exception {
        HttpResponse<byte[]> reply = http.send(
                HttpRequest.newBuilder(URI.create(first.address() + "/api/v1/authorities/" + authority + "/list"))
                        .header("Authorization", "Bearer " + first.token())
                        .build(),
                HttpResponse.BodyHandlers.ofByteArray());
        return "-----BEGIN X509 CRL-----\n"
                + Base64.getMimeEncoder(64, "\n".getBytes(StandardCharsets.US_ASCII))
                        .encodeToString(reply.body())
                + "\n-----END X509 CRL-----\n";
    }

    /** Makes a call at one node or the other until it has had its effect, as somebody in front of it would. */
    private Reply persistently(int turn, String path, Object body) throws Exception {
        for (int attempt = 0; attempt < 200; attempt++) {
            try {
                String node = (turn + attempt) % 2 == 0 ? first.address() : second.address();
                Reply reply = call(node, "POST", path, body);
                if (reply.status() < 500) {
                    return reply;
                }
            } catch (IOException | IndexOutOfBoundsException e) {
                LockSupport.parkNanos(20_000_000); // that node is down
            }
            LockSupport.parkNanos(200_000_000);
        }
        throw new AssertionError("no node took " + path);
    }

    private Tender.Server database(Path at) throws Exception {
        Files.createDirectories(at);
        String port = Shell.run(
                        Map.of("FAST", "1"),
                        Duration.ofSeconds(90),
                        List.of(Shell.ROOT.resolve("scripts/postgres").toString(), "start", at.toString()))
                .out()
                .strip();
        return new Tender.Server("jdbc:postgresql://127.0.0.1:" + port + "/", at);
    }

    private void gateway(String name, String address, int port, Path key, Map<String, Object> more) throws Exception {
        Map<String, Object> request = new HashMap<>(Map.of(
                "name",
                name,
                "site",
                "pier-two",
                "address",
                address,
                "port",
                port,
                "user",
                SmallOffice.USER,
                "key",
                Files.readString(key)));
        request.putAll(more);
        Reply added = persistently(gateways.size(), "/gateways", request);
        assertThat(added.status()).as(added.text()).isEqualTo(201);
        String id = added.json().path("id").asText();
        gateways.put(name, id);
        Reply accepted = persistently(
                gateways.size(),
                "/gateways/" + id + "/accept",
                Map.of("identity", added.json().path("identity").asText()));
        assertThat(accepted.status()).as(accepted.text()).isEqualTo(202);
    }

    private String storageName(int i) {
        return "nas" + i;
    }

    /** A storage device whose OpenVPN listener believes an authority of Tender's and checks its list. */
    private void storage(int i, String authority, String list) throws Exception {
        Path at = folder.resolve(storageName(i));
        NasFolder.layOut(at);
        Files.delete(at.resolve("etc/vpn/l2tp.conf"));
        Files.writeString(at.resolve("etc/vpn/keys/ours.pem"), authority);
        Files.writeString(at.resolve("etc/vpn/keys/list.pem"), list);
        Files.writeString(
                at.resolve("etc/vpn/openvpn.conf"),
                Files.readString(at.resolve("etc/vpn/openvpn.conf"))
                        .replaceAll("(?m)^ca .*", "ca /etc/vpn/keys/ours.pem\ncrl-verify /etc/vpn/keys/list.pem")
                        .replaceAll("(?m)^auth-user-pass-verify .*\n", "")
                        .replace("verify-client-cert none\n", "")
                        .replace("comp-lzo yes\n", ""));
        storages.add(Nas.start(new SshDevice.Place(
                at,
                folder.resolve(storageName(i) + "-key"),
                "127.10.78." + i,
                0,
                SmallOffice.USER,
                AdminKey.at(folder.resolve("keeper-key")))));
    }

    private static String person(String gateway) {
        return "of-" + gateway;
    }

    private static String label(String gateway) {
        return person(gateway) + "-phone-" + gateway;
    }

    /** One gateway's share of the work: issued to, changed, read; at a storage device somebody is withdrawn again. */
    private void work(int turn, String gateway, boolean isRouter) throws Exception {
        String id = gateways.get(gateway);
        persistently(turn, "/people", Map.of("handle", person(gateway), "name", "Person of " + gateway));
        persistently(
                turn,
                "/people/" + person(gateway) + "/devices",
                Map.of("name", "phone", "kind", "phone", "system", "any"));
        persistently(turn, "/gateways/" + id + "/read", null);
        Reply issued = persistently(
                turn + 1, "/profiles", Map.of("person", person(gateway), "device", "phone", "gateway", gateway));
        assertThat(issued.status()).as(issued.text()).isIn(201, 202, 409);
        assertThat(call(first.address(), "GET", "/profiles/labelled/" + label(gateway), null)
                        .status())
                .as(issued.text())
                .isIn(200, 503); // 503 while the database is down
        if (isRouter) {
            persistently(
                    turn,
                    "/gateways/" + id + "/changes",
                    Map.of(
                            "changes",
                            List.of(Map.of(
                                    "change",
                                    "put-forward",
                                    "forward",
                                    Map.of(
                                            "transport", "tcp",
                                            "port", "8080",
                                            "to", "10.20.4.20",
                                            "toPort", "80")))));
        } else {
            String profile =
                    get("/profiles/labelled/" + label(gateway)).path("id").asText();
            Reply withdrawn = persistently(turn, "/profiles/" + profile + "/withdraw", Map.of());
            assertThat(withdrawn.status()).as(withdrawn.text()).isIn(200, 202, 409);
        }
        persistently(turn + 1, "/gateways/" + id + "/read", null);
    }

    @Test
    void twoNodesWorkAtFortyGatewaysThroughKillsAndNothingIsLostOrDoneTwice() throws Exception {
        Path pg = folder.resolve("postgres");
        Tender.Server server = database(pg);
        try {
            for (int i = 1; i <= ROUTERS; i++) {
                routers.add(SmallOffice.start(folder.resolve("router" + i), "127.10.76." + i));
            }
            first = new Tender(
                    Files.createDirectories(folder.resolve("first")),
                    routers.get(0),
                    Map.of("TENDER_WATCH_SECONDS", "2"),
                    server);
            second = new Second();
            second.start();
            run(pg);
        } finally {
            if (second != null) {
                second.kill();
            }
            if (first != null) {
                first.close();
            }
            for (Nas nas : storages) {
                nas.close();
            }
            for (SmallOffice office : routers) {
                office.close();
            }
            Shell.run(Shell.ROOT.resolve("scripts/postgres").toString(), "stop", pg.toString());
        }
    }

    private void run(Path pg) throws Exception {
        persistently(0, "/sites", Map.of("name", "pier-two", "networks", Map.of("office", "10.20.4.0/24")));
        Reply authority = persistently(0, "/authorities", Map.of("name", "skerrivane"));
        assertThat(authority.status()).as(authority.text()).isEqualTo(201);
        String list = list(authority.json().path("id").asText());
        AdminKey.at(folder.resolve("keeper-key"));
        for (int i = 1; i <= STORAGES; i++) {
            storage(i, authority.json().path("certificate").asText(), list);
        }
        for (int i = 1; i <= ROUTERS; i++) {
            SmallOffice office = routers.get(i - 1);
            gateway("pier" + i, office.address(), office.router().sshPort(), office.keyFile(), Map.of());
        }
        for (int i = 1; i <= STORAGES; i++) {
            gateway(
                    storageName(i),
                    "127.10.78." + i,
                    storages.get(i - 1).sshPort(),
                    folder.resolve("keeper-key"),
                    Map.of("kind", "nas", "description", "office-nas", "endpoint", "127.10.78." + i));
        }
        settled(
                "all gateways to be read",
                "select name || ': ' || coalesce(read_problem, '') || (select string_agg(j.state || j.note, ' ') from job j where payload = g.id::text) from gateway g where read_at is null");

        ExecutorService people = Executors.newFixedThreadPool(6);
        List<Future<?>> all = new ArrayList<>();
        int turn = 0;
        for (String gateway : List.copyOf(gateways.keySet())) {
            int mine = turn++;
            all.add(people.submit(() -> {
                work(mine, gateway, !gateway.startsWith("nas"));
                return null;
            }));
        }
        for (int kill = 1; kill <= 3; kill++) {
            int before = kill * ROUTERS / 5;
            Shell.until("work to be under way", PATIENCE, () -> issued() >= before);
            second.kill();
            if (kill == 2) {
                Shell.need(Shell.ROOT.resolve("scripts/postgres").toString(), "crash", pg.toString());
            }
            second.start();
        }
        for (Future<?> one : all) {
            one.get(PATIENCE.toSeconds(), TimeUnit.SECONDS);
        }
        people.shutdown();
        settled(
                "all work to be done",
                "select kind || ' ' || state || ': ' || note from job where every_millis is null and state in ('waiting',"
                        + " 'running') union all select kind || ' due: ' || coalesce(problem, '') from desired_resource"
                        + " where observed_generation < generation");
        assertAgree();
    }

    /** Waits until a query gives nothing; fails with what it gives. */
    private void settled(String what, String query) {
        try {
            Shell.until(what, PATIENCE, () -> first.query(query).isEmpty());
        } catch (AssertionError e) {
            throw new AssertionError(e.getMessage() + "\n" + first.query(query), e);
        }
    }

    private int issued() {
        String n = first.query("select count(*) from profile");
        return n.matches("[0-9]+") ? Integer.parseInt(n) : 0; // the database may be away just now
    }

    private void assertAgree() throws Exception {
        assertThat(first.query("select state || ' ' || count(*) from profile where origin = 'issued' group by state"
                        + " order by state"))
                .as("one profile each, none failed")
                .isEqualTo("ready " + ROUTERS + "\nwithdrawn " + STORAGES);
        assertThat(first.query("select count(*) from journal where action = 'profile-issued'"))
                .isEqualTo(Integer.toString(ROUTERS + STORAGES));
        assertThat(
                        first.query(
                                "select state || ': ' || note from device_change"
                                        + " where state not in ('kept', 'failed') or state = 'failed' and note not like 'interrupted%'"))
                .as("a change is made, or brought back because its node died")
                .isEmpty();
        for (int i = 1; i <= ROUTERS; i++) {
            String gateway = "pier" + i;
            SmallOffice office = routers.get(i - 1);
            String keys =
                    first.query("select k.public_part from profile p join profile_listener l on l.profile_id = p.id"
                            + " join credential k on k.id = l.key_id join listener n on n.id = l.listener_id"
                            + " join gateway g on g.id = n.gateway_id where g.name = '" + gateway + "'"
                            + " and p.state = 'ready' order by 1");
            assertThat(WireGuardFile.read(Files.readString(office.tunnelFile())).file().peers().stream()
                            .map(p -> p.publicKey().orElseThrow().toString())
                            .sorted()
                            .toList())
                    .as(gateway + "'s peers, each once")
                    .isEqualTo(keys.lines().toList());
            // an order whose answer was lost with its node is given again, and then both of them are kept
            String changes = first.query("select coalesce(string_agg(c.state || ' ' || c.note, ', '), 'none')"
                    + " from device_change c join gateway g on g.id = c.gateway_id where g.name = '" + gateway + "'");
            boolean kept = changes.contains("kept ");
            Path forwards = office.tunnelFile().getParent().resolveSibling("forwards");
            assertThat(Files.readString(forwards).contains("8080"))
                    .as(gateway + "'s forward is there exactly if its change was kept: " + changes)
                    .isEqualTo(kept);
            assertThat(Files.list(office.tunnelFile().getParent())
                            .filter(p -> p.toString().endsWith(".lock")))
                    .isEmpty();
        }
        for (int i = 1; i <= STORAGES; i++) {
            String name = storageName(i);
            String serial = first.query("select c.serial from certificate c join profile p on p.id = c.profile_id"
                    + " where p.label like '" + label(name) + "%'");
            assertThat(serial).isNotEmpty();
            Path list = folder.resolve(name + "/etc/vpn/keys/list.pem");
            assertThat(Shell.need("openssl", "crl", "-in", list.toString(), "-noout", "-text"))
                    .as(name + "'s list names its withdrawn profile")
                    .containsIgnoringCase(serial);
            assertThat(Files.readString(list, StandardCharsets.UTF_8)).containsOnlyOnce("BEGIN X509 CRL");
        }
    }
}
