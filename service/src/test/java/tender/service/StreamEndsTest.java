package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.locks.LockSupport;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.store.testing.TestDatabase;

/** However a stream of events ends, nothing of it runs on. */
class StreamEndsTest {
    @TempDir
    Path folder;

    private TestDatabase database;
    private RunningService tender;

    @BeforeEach
    void start() throws Exception {
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder, null, Map.of());
    }

    @AfterEach
    void stop() throws Exception {
        tender.close();
        database.close();
    }

    @Test
    void aReaderWhoGoesAwayLeavesNothingRunning() throws Exception {
        List<Socket> sockets = List.of(open(), open(), open());
        sockets.get(0).setSoLinger(true, 0); // a reset
        sockets.get(0).close();
        sockets.get(1).shutdownOutput();
        sockets.get(1).close();
        person("Ida Strand");
        person("Jon Vik");
        awaitSenders(1);
        sockets.get(2).close();
        person("Kari Holm");
        person("Lars Berg");
        awaitSenders(0);
    }

    @Test
    void aStreamWhoseSignInEndsLeavesNothingRunning() throws Exception {
        try (Socket socket = open()) {
            tender.post("/sign-out", null);
            assertThat(socket.getInputStream().readAllBytes()).isNotNull();
            awaitSenders(0);
        }
    }

    @Test
    void aServiceThatStopsLeavesNothingRunning() throws Exception {
        try (Socket one = open();
                Socket two = open()) {
            tender.service.close();
            awaitSenders(0);
            assertThat(one.getInputStream().readAllBytes()).isNotNull();
            assertThat(two.getInputStream().readAllBytes()).isNotNull();
        }
    }

    private void person(String name) {
        assertThat(tender.post(
                                "/people",
                                Map.of("handle", name.toLowerCase(Locale.ROOT).replace(' ', '-'), "name", name))
                        .status())
                .isEqualTo(201);
    }

    private Socket open() throws Exception {
        Socket socket = new Socket(
                InetAddress.getLoopbackAddress(), tender.url("/events").getPort());
        socket.setSoTimeout(20_000);
        OutputStream out = socket.getOutputStream();
        out.write(
                ("GET /api/v1/events HTTP/1.1\r\nHost: localhost\r\nAccept: text/event-stream\r\nAuthorization: Bearer "
                                + tender.token() + "\r\n\r\n")
                        .getBytes(StandardCharsets.US_ASCII));
        StringBuilder read = new StringBuilder();
        while (read.indexOf("hello") < 0) {
            int next = socket.getInputStream().read();
            assertThat(next).as("the stream says hello: " + read).isNotNegative();
            read.append((char) next);
        }
        return socket;
    }

    private static void awaitSenders(int count) {
        Instant until = Instant.now().plus(Duration.ofSeconds(10));
        while (senders().size() != count && Instant.now().isBefore(until)) {
            LockSupport.parkNanos(10_000_000);
        }
        assertThat(senders()).as("threads that still send events").hasSize(count);
    }

    private static List<Thread> senders() {
        return Thread.getAllStackTraces().keySet().stream()
                .filter(t -> t.getName().equals("live-events"))
                .toList();
    }
}
