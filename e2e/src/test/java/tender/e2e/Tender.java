package tender.e2e;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import tender.standins.office.SmallOffice;

/** The real thing as processes: a service with a database of its own, and the client's binary signed in to it. */
final class Tender implements AutoCloseable {
    static final ObjectMapper JSON = new ObjectMapper();
    private static final String PASSWORD = "owner-password-for-tests";

    private final Path folder;
    private final Map<String, String> env = new HashMap<>();
    private final String databaseName = "e" + UUID.randomUUID().toString().replace("-", "");
    private final Server server;
    private Process process;

    Tender(Path folder, SmallOffice office) throws IOException {
        this(folder, office, Map.of());
    }

    /** @param more settings beside the usual ones, or in their place */
    Tender(Path folder, SmallOffice office, Map<String, String> more) throws IOException {
        this(folder, office, more, Server.OF_ALL_TESTS);
    }

    /** A PostgreSQL server: its address up to the database's name, and the folder with its roles' passwords. */
    record Server(String url, Path folder) {
        static final Server OF_ALL_TESTS = new Server(
                System.getenv("TENDER_TEST_DATABASE"), Path.of(System.getenv("TENDER_TEST_DATABASE_FOLDER")));

        String passwordFile(String name) {
            return folder.resolve(name).toString();
        }
    }

    Tender(Path folder, SmallOffice office, Map<String, String> more, Server server) throws IOException {
        this.folder = folder;
        this.server = server;
        psql("postgres", "create database " + databaseName + " owner tender_owner");
        env.put("TENDER_DATA_FOLDER", folder.resolve("data").toString());
        env.put("TENDER_DATABASE_URL", server.url() + databaseName);
        env.put("TENDER_DATABASE_PASSWORD_FILE", server.passwordFile("password"));
        env.put("TENDER_DATABASE_OWNER", "tender_owner");
        env.put("TENDER_DATABASE_OWNER_PASSWORD_FILE", server.passwordFile("owner-password"));
        env.put("COLUMNS", "300"); // tests read what tables say, whole
        env.put("TENDER_HTTP_PORT", "0");
        env.put("TENDER_STAFF_PORT", "0");
        env.put("TENDER_CALLABLE_LOCAL", "127.10.0.0/16,10.211.0.0/16,10.212.0.0/16,10.213.0.0/16");
        env.put("TENDER_RESOLVER_ADDRESS", "127.0.0.1:" + office.names().port());
        env.put("TENDER_WATCH_SECONDS", "1");
        env.put("TENDER_PASSWORD_MEMORY", "64");
        env.put("TENDER_CONFIG", folder.resolve("client").toString());
        Path password = Files.writeString(folder.resolve("owner-password"), PASSWORD + "\n");
        env.put("TENDER_PASSWORD_FILE", password.toString());
        env.putAll(more);
        start();
        String first = Files.readString(folder.resolve("data/first-password")).strip();
        client("sign-in", address(), "--name", "owner", "--password-fd", "0<" + first);
        client("operator", "password", "--old-fd", "3<" + first, "--new-fd", "4<" + PASSWORD);
    }

    void start() throws IOException {
        Files.deleteIfExists(folder.resolve("data/address"));
        ProcessBuilder builder =
                new ProcessBuilder(Shell.ROOT.resolve("bin/tender-service").toString());
        builder.environment().putAll(env);
        process = builder.redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(log().toFile()))
                .start();
        Shell.until("the service to start, see " + log(), Duration.ofSeconds(40), () -> {
            try {
                return Files.exists(folder.resolve("data/address")) && Files.size(folder.resolve("data/address")) > 0;
            } catch (IOException e) {
                return false;
            }
        });
    }

    long pid() {
        return process.pid();
    }

    /** Whether the process that was started last still runs. */
    boolean runs() {
        return process.isAlive();
    }

    String databaseName() {
        return databaseName;
    }

    /** The token that the client signed in with. */
    String token() throws IOException {
        return Files.readAllLines(folder.resolve("client/account")).get(1);
    }

    /** As a power cut would. */
    void kill() throws InterruptedException {
        process.destroyForcibly().waitFor();
    }

    Path log() {
        return folder.resolve("service.log");
    }

    String address() throws IOException {
        return Files.readAllLines(folder.resolve("data/address")).get(0);
    }

    String password() {
        return PASSWORD;
    }

    Map<String, String> environment() {
        return env;
    }

    /** Tells the client where the service is after a restart on another port. */
    void moved() throws IOException {
        Path account = folder.resolve("client/account");
        List<String> lines = Files.readAllLines(account);
        Files.writeString(account, address() + "\n" + lines.get(1) + "\n");
    }

    Shell.Result tryClient(String... words) {
        List<String> command = new ArrayList<>(List.of("bash", "-c"));
        StringBuilder line = new StringBuilder("exec " + Shell.ROOT.resolve("bin/tender"));
        for (String word : words) {
            int secret = word.matches("[0-9]<.*") ? 1 : 0;
            line.append(
                    secret == 1
                            ? " " + word.charAt(0) + " " + word.charAt(0) + "<<<" + quoted(word.substring(2))
                            : " " + quoted(word));
        }
        command.add(line.toString());
        return Shell.run(env, Duration.ofSeconds(60), command);
    }

    private static String quoted(String word) {
        return "'" + word.replace("'", "'\\''") + "'";
    }

    String client(String... words) {
        Shell.Result result = tryClient(words);
        if (result.code() != 0) {
            throw new AssertionError(
                    "tender " + String.join(" ", words) + " ended with " + result.code() + ":\n" + result.out());
        }
        return result.out();
    }

    JsonNode json(String... words) throws IOException {
        List<String> all = new ArrayList<>(List.of(words));
        all.add("--json");
        all.add("--quiet");
        return JSON.readTree(client(all.toArray(String[]::new)));
    }

    /** Adds the site and the router, accepts it, and adds a person. */
    void addRouter(SmallOffice office, String person, String device) throws IOException {
        client("site", "add", "pier-two", "--network", "office=10.20.4.0/24");
        JsonNode gateway = json(
                "gateway",
                "add",
                "pier2",
                "--site",
                "pier-two",
                "--address",
                office.address(),
                "--port",
                Integer.toString(office.router().sshPort()),
                "--user",
                SmallOffice.USER,
                "--key-file",
                office.keyFile().toString());
        client("gateway", "accept", "pier2", gateway.path("identity").asText());
        client("person", "add", person, "--name", "Person " + person);
        client("device", "add", person, device, "--kind", device);
    }

    /** Hands a profile out, collects it with the client, and gives the file's path. */
    Path collect(String label) throws IOException {
        JsonNode prepared = json("handout", "prepare", label);
        String out = client(
                "handout",
                "collect",
                "--quiet",
                "--out",
                folder.toString(),
                "--link-fd",
                "3<" + prepared.path("link").asText(),
                "--passphrase-fd",
                "4<" + prepared.path("passphrase").asText());
        return Path.of(out.strip());
    }

    String psql(String database, String sql) {
        String url = server.url().replace("jdbc:", "") + database;
        return Shell.run(
                        Map.of("PGPASSWORD", firstLine(), "PGUSER", "tender_admin"),
                        Duration.ofSeconds(30),
                        List.of("psql", "-v", "ON_ERROR_STOP=1", "-Atqc", sql, url))
                .out();
    }

    String query(String sql) {
        return psql(databaseName, sql).strip();
    }

    /** The password of a role of the server that all tests share. */
    static Path passwordFile(String name) {
        return Server.OF_ALL_TESTS.folder().resolve(name);
    }

    private String firstLine() {
        try {
            return Files.readAllLines(server.folder().resolve("admin-password")).get(0);
        } catch (IOException e) {
            throw new IllegalStateException("run ./test", e);
        }
    }

    @Override
    public void close() throws InterruptedException {
        process.destroy();
        if (!process.waitFor(15, java.util.concurrent.TimeUnit.SECONDS)) {
            process.destroyForcibly();
        }
        psql("postgres", "drop database " + databaseName + " with (force)");
    }
}
