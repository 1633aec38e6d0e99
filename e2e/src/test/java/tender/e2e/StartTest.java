package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** How {@code ./start} fails and what it does when asked twice: the last line says cause and fix, and nothing is left running. */
class StartTest {
    private static final Duration PATIENCE = Duration.ofMinutes(3);

    @TempDir
    Path folder;

    private final Map<String, String> env =
            new java.util.HashMap<>(Map.of("TENDER_HTTP_PORT", "0", "TENDER_STAFF_PORT", "0"));

    @AfterEach
    void stop() {
        Shell.run(Map.of(), PATIENCE, List.of("./stop", "--data", data().toString()));
    }

    private Path data() {
        return folder.resolve("data");
    }

    private Shell.Result start() {
        return Shell.run(env, PATIENCE, List.of("./start", "--data", data().toString()));
    }

    private static String lastLine(Shell.Result result) {
        return result.out().strip().lines().reduce("", (a, b) -> b);
    }

    private void nothingIsLeft() {
        assertThat(data().resolve("postgres/pg/postmaster.pid")).doesNotExist();
        assertThat(data().resolve("service.pid")).doesNotExist();
    }

    @Test
    void aBusyPortIsToldBeforeAnythingBegins() throws Exception {
        try (ServerSocket busy = new ServerSocket(0, 1, InetAddress.getByName("127.0.0.1"))) {
            env.put("TENDER_HTTP_PORT", Integer.toString(busy.getLocalPort()));

            Shell.Result result = start();

            assertThat(result.code()).isNotZero();
            assertThat(lastLine(result)).contains("port " + busy.getLocalPort() + " is in use", "TENDER_HTTP_PORT=");
            nothingIsLeft();
        }
    }

    @Test
    void aServiceThatCannotStartSaysWhyWithoutAStackAndTakesItsDatabaseDown() throws Exception {
        Files.createDirectories(data());
        Files.writeString(data().resolve("tender.properties"), "no.such.setting = 1\n");

        Shell.Result result = start();

        assertThat(result.code()).isNotZero();
        assertThat(lastLine(result))
                .startsWith("start: the service does not start: ")
                .contains("no.such.setting");
        assertThat(result.out()).doesNotContain("\tat tender.");
        nothingIsLeft();
    }

    /** The port that is busy keeps it from going on. */
    @Test
    void aDemoThatWasInterruptedIsMadeAnewAndOnlyThat() throws Exception {
        try (ServerSocket busy = new ServerSocket(0, 1, InetAddress.getByName("127.0.0.1"))) {
            env.put("TENDER_HTTP_PORT", Integer.toString(busy.getLocalPort()));
            Path left = Files.createDirectories(data().resolve("client")).resolve("account");
            Files.writeString(left, "half of it\n");
            List<String> demo = List.of("./start", "--demo", "--data", data().toString());

            assertThat(Shell.run(env, PATIENCE, demo).out()).doesNotContain("made anew");
            assertThat(left).as("nobody was filling it").exists();
            Files.writeString(data().resolve("seeding"), "");
            assertThat(Shell.run(env, PATIENCE, demo).out()).contains("interrupted", "made anew");
            assertThat(left).doesNotExist();
        }
    }

    @Test
    void whatRunsAlreadyIsToldAndLeftAlone() {
        Shell.Result first = start();
        assertThat(first.code()).as(first.out()).isZero();
        String console = first.out().replaceAll("(?s).*console +(http[^\\s]+).*", "$1");

        Shell.Result second = start();

        assertThat(second.code()).as(second.out()).isZero();
        assertThat(second.out()).contains("runs on this data folder already: " + console);
        assertThat(Shell.run(Map.of(), PATIENCE, List.of("./stop", "--data", data().toString()))
                        .out())
                .contains("stopped service", "stopped the database");
        nothingIsLeft();
    }

    /** A copy of this checkout as it is built, at a path with a blank in it. */
    private Path copy() throws Exception {
        Path copy = Files.createDirectories(folder.resolve("my files/tender"));
        String leaveOut = "--exclude=./.data --exclude=node_modules --exclude=test-classes --exclude=surefire-reports";
        Shell.Result copied = Shell.run(
                Map.of("TO", copy.toString()),
                PATIENCE,
                List.of("bash", "-c", "tar " + leaveOut + " -cf - . | tar -xf - -C \"$TO\""));
        assertThat(copied.code()).as(copied.out()).isZero();
        return copy;
    }

    private Shell.Result startOf(Path copy) {
        return Shell.run(env, PATIENCE, List.of(copy.resolve("start").toString(), "--data", data().toString()));
    }

    /** A program that stands before the real one. */
    private void instead(String name, String script) throws Exception {
        Path program = Files.createDirectories(folder.resolve("instead")).resolve(name);
        Files.writeString(program, "#!/bin/sh\n" + script + "\n");
        assertThat(program.toFile().setExecutable(true)).isTrue();
        env.put("PATH", folder.resolve("instead") + ":" + System.getenv("PATH"));
    }

    @Test
    void itStartsFromAPathWithABlank() throws Exception {
        Shell.Result result = startOf(copy());

        assertThat(result.code()).as(result.out()).isZero();
        assertThat(result.out()).contains("console  ").doesNotContain("building");
    }

    @Test
    void aBuildWithoutANetworkSaysThat() throws Exception {
        Path copy = copy();
        Files.delete(copy.resolve(".build/stamp"));
        instead("mvn", "echo '[ERROR] Could not transfer artifact x:y:pom:1 from/to central: Unknown host'; exit 1");

        Shell.Result result = startOf(copy);

        assertThat(result.code()).isNotZero();
        assertThat(lastLine(result)).contains("the build failed", "cannot be reached", "check the network");
        nothingIsLeft();
    }

    @Test
    void aNodeThatIsTooOldIsToldWhereTheConsoleHasToBeBuilt() throws Exception {
        Path copy = copy();
        instead("node", "case $1 in -v) echo v12.22.0 ;; *) echo 12 ;; esac");
        instead("apt-get", "exit 0");
        assertThat(startOf(copy).code()).as("what is shipped needs none").isZero();
        stop();

        Files.writeString(copy.resolve("console/src/lib/format.ts"), "// changed here\n");
        Shell.Result result = startOf(copy);

        assertThat(result.code()).isNotZero();
        assertThat(lastLine(result)).contains("node v12.22.0 is too old", "18 or later");
        nothingIsLeft();
    }

    @Test
    void tooLittleMemoryIsToldBeforeAnythingBegins() throws Exception {
        instead("awk", "case $* in *MemAvailable*) echo 512 ;; *) exec /usr/bin/awk \"$@\" ;; esac");

        Shell.Result result = start();

        assertThat(result.code()).isNotZero();
        assertThat(lastLine(result)).contains("less than 700 MB of memory are free");
        nothingIsLeft();
    }
}
