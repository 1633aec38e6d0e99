package tender.standins.demo;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Stream;

/**
 * What Skerrivane Ferries' administrator did when Tender was new: entered the sites and the staff, added the gateways, took their
 * client files over, issued the others, handed them out. Arguments: the demo's folder, the console's address, the staff's
 * address, the file of the staff; places of the devices as {@link tender.standins.Main} takes them.
 */
public final class Filling {
    private static final int AT_ONCE = 6;

    private final Path data;
    private final Office office;
    private final String range;
    private final int sshPort;
    private final int apiPort;
    private final ExecutorService workers = Executors.newFixedThreadPool(AT_ONCE, task -> {
        Thread thread = new Thread(task, "filling");
        thread.setDaemon(true); // whoever fails ends the whole
        return thread;
    });

    private Filling(Path data, Office office) {
        this.data = data;
        this.office = office;
        Map<String, String> env = System.getenv();
        this.range = env.getOrDefault("STANDINS_RANGE", "127.10");
        this.sshPort = Integer.parseInt(env.getOrDefault("STANDINS_SSH_PORT", "2204"));
        this.apiPort = Integer.parseInt(env.getOrDefault("STANDINS_GATEWAY_API_PORT", "8414"));
    }

    public static void main(String[] args) throws Exception {
        Path data = Path.of(args[0]);
        Office office = new Office(args[1], args[2]);
        owner(data, office);
        Filling filling = new Filling(data, office);
        filling.company(Files.readString(Path.of(args[3])));
        say("the gateways: backed up and read");
        filling.gateways();
        say("profiles: issued, imported and tried");
        filling.profiles();
        say("handouts, and people who connect");
        filling.handouts();
    }

    /** Signs the owner in and changes the first password to one that is kept in a file for whoever looks at the demo. */
    private static void owner(Path data, Office office) throws IOException {
        String first = Files.readString(data.resolve("first-password")).strip();
        byte[] random = new byte[15];
        new SecureRandom().nextBytes(random);
        String fresh = Base64.getUrlEncoder().encodeToString(random);
        Files.writeString(
                Files.createFile(
                        data.resolve("owner-password"),
                        PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"))),
                fresh + "\n");
        office.signIn("owner", first);
        office.post("/me/password", Map.of("old", first, "fresh", fresh));
        office.signIn("owner", fresh);
    }

    /** For whoever waits. */
    private static void say(String what) {
        System.out.println(what);
    }

    private interface Step {
        void run() throws Exception;
    }

    /** All at once; the first that fails is thrown. */
    private void all(List<Step> steps) throws Exception {
        List<Future<Void>> running = new ArrayList<>();
        for (Step step : steps) {
            Callable<Void> call = () -> {
                step.run();
                return null;
            };
            running.add(workers.submit(call));
        }
        for (Future<Void> one : running) {
            try {
                one.get();
            } catch (ExecutionException e) {
                throw e.getCause() instanceof Exception cause ? cause : e;
            }
        }
    }

    private void company(String people) throws Exception {
        site("port-orrin", "Port Orrin, head office", Map.of("office", "10.20.0.0/24", "servers", "10.20.1.0/24"));
        site("dunmar-slip", "Dunmar Slip, workshop", Map.of("workshop", "10.20.2.0/24"));
        site("pier-one", "Pier one", Map.of("office", "10.20.3.0/24"));
        site("pier-two", "Pier two", Map.of("office", "10.20.4.0/24"));
        site("pier-three", "Pier three", Map.of("office", "10.20.5.0/24"));
        office.post("/people/import", Map.of("csv", people));
    }

    private void site(String name, String title, Map<String, String> networks) throws IOException {
        office.post("/sites", Map.of("name", name, "title", title, "timeZone", "Europe/Oslo", "networks", networks));
    }

    private void gateways() throws Exception {
        all(List.of(
                () -> ssh("pier2", "pier-two", "4.1", "router", "plain-router", Map.of()),
                () -> ssh("pier1", "pier-one", "3.1", "router", "plain-router", Map.of()),
                () -> ssh("pier3", "pier-three", "5.1", "router", "plain-router", Map.of()),
                () -> {
                    ssh("slip-front", "dunmar-slip", "2.1", "router", "plain-router", Map.of());
                    ssh(
                            "slip-nas",
                            "dunmar-slip",
                            "2.5",
                            "nas",
                            "office-nas",
                            Map.of("uplinks", List.of("behind:slip-front")));
                },
                this::firewall));
    }

    private void ssh(String name, String site, String at, String kind, String description, Map<String, Object> more)
            throws IOException {
        accepted(
                office.post(
                        "/gateways",
                        Map.of(
                                "name", name,
                                "site", site,
                                "kind", kind,
                                "address", range + "." + at,
                                "port", sshPort,
                                "user", DemoWorld.USER,
                                "key", Files.readString(data.resolve("standins/keeper-key")),
                                "description", description)),
                more);
    }

    private void firewall() throws IOException {
        accepted(
                office.post(
                        "/gateways",
                        Map.of(
                                "name", "orrin-fw",
                                "site", "port-orrin",
                                "kind", "firewall",
                                "connector", "https",
                                "address", range + ".0.1",
                                "port", apiPort,
                                "user", "api",
                                "key", DemoWorld.FIREWALL_TOKEN)),
                Map.of());
    }

    /** The host key was compared with the device's own: it is accepted, the gateway is backed up and read. */
    private void accepted(JsonNode gateway, Map<String, Object> more) throws IOException {
        String path = "/gateways/" + gateway.path("id").asText();
        JsonNode job = office.post(
                path + "/accept", Map.of("identity", gateway.path("identity").asText()));
        office.done(job.path("id").asText());
        Map<String, Object> set = new HashMap<>(more);
        set.put("factory", "changed");
        office.patch(path, set, office.get(path).path("version").asInt());
    }

    private String id(String gateway) throws IOException {
        return office.get("/gateways/named/" + gateway).path("id").asText();
    }

    private void profiles() throws Exception {
        all(List.of(
                () -> issue("pier2", "masters"),
                () -> issue("pier1", "engineers"),
                () -> issue("pier3", "ticket-desk"),
                () -> {
                    take("slip-nas");
                    take("orrin-fw");
                }));
        all(List.of(
                () -> prove("mara-phone-pier2"),
                () -> prove("ebba-phone-pier2"),
                () -> prove("joss-tablet-pier2"),
                () -> prove("ilse-laptop-pier1"),
                () -> prove("yara-phone-pier1"),
                () -> prove("odd-laptop-pier1"),
                () -> prove("nils-laptop-pier3"),
                () -> backups("pier2", "orrin-fw", "slip-nas", "pier1")));
    }

    private void issue(String gateway, String team) throws IOException {
        office.done(office.post("/profiles/many", Map.of("gateway", gateway, "team", team))
                .path("jobId")
                .asText());
    }

    /** Takes over the client files that a gateway exports. */
    private void take(String gateway) throws IOException {
        office.post("/gateways/" + id(gateway) + "/imports", Map.of());
    }

    private void prove(String profile) throws IOException {
        office.post("/trials", Map.of("profile", profile, "measure", false));
    }

    private void backups(String... gateways) throws IOException {
        for (String reason : List.of("weekly", "before the update")) {
            for (String gateway : gateways) {
                office.post("/gateways/" + id(gateway) + "/backups", Map.of("reason", reason));
            }
        }
    }

    /** Those of whom a file is needed here, and two who wait; that the others got theirs is told with the month behind it. */
    private void handouts() throws Exception {
        List<String> collected = List.of(
                "mara-phone-pier2",
                "ebba-phone-pier2",
                "tavin-phone-pier2",
                "ilse-laptop-pier1",
                "yara-phone-pier1",
                "nils-laptop-pier3");
        Map<String, JsonNode> prepared = new ConcurrentHashMap<>();
        all(Stream.concat(collected.stream(), Stream.of("bram-laptop-pier1", "hale-laptop-orrin-fw"))
                .<Step>map(label -> () -> prepared.put(label, handedOut(label)))
                .toList());
        Path connected = data.resolve("standins/connected");
        for (String label : collected) {
            JsonNode file = office.collect(prepared.get(label));
            put(
                    connected.resolve(file.path("fileName").asText()),
                    file.path("file").asText());
        }
        regular(connected, "orrin-fw staff corin-laptop 10.99.0.6");
        regular(connected, "orrin-fw staff liv-laptop 10.99.0.7");
        regular(connected, "orrin-fw phones freya-phone 10.99.0.130");
        regular(connected, "slip-nas openvpn petra-laptop 10.99.2.6");
        regular(connected, "slip-nas openvpn signe-laptop 10.99.2.7");
        office.post("/monitors", Map.of("everySeconds", 900));
    }

    private JsonNode handedOut(String profile) throws IOException {
        JsonNode prepared = office.post("/handouts", Map.of("profile", profile));
        office.post("/handouts/" + prepared.path("handout").path("id").asText() + "/sent", Map.of());
        return prepared;
    }

    /** Somebody at work whose device is not simulated. */
    private static void regular(Path connected, String words) throws IOException {
        put(connected.resolve(words.split(" ")[2] + ".regular"), words + "\n");
    }

    /** Readable for the stand-ins, which run as a user of their own. */
    private static void put(Path file, String content) throws IOException {
        Path fresh = file.resolveSibling(file.getFileName() + ".new");
        Files.writeString(fresh, content);
        Files.setPosixFilePermissions(fresh, PosixFilePermissions.fromString("rw-r--r--"));
        Files.move(fresh, file, StandardCopyOption.ATOMIC_MOVE);
    }
}
