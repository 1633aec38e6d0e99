package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;
import tender.store.testing.TestDatabase;

/** Connections of one source: bounded while they are open, and forgotten when they are closed, whoever closes them. */
class ManyConnectionsTest {
    private static final int BOUND = 512;

    @TempDir
    Path folder;

    private SmallOffice office;
    private TestDatabase database;
    private RunningService tender;
    private URI console;

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.93.1");
        database = TestDatabase.fresh();
        tender = RunningService.start(database, folder.resolve("data"), office, Map.of());
        console = tender.url("/health");
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        database.close();
        office.close();
    }

    private Socket connection() throws Exception {
        Socket socket = new Socket(console.getHost(), console.getPort());
        socket.setSoTimeout((int) Duration.ofSeconds(10).toMillis());
        return socket;
    }

    /** What is answered: the status line, or nothing where the connection is closed at once. */
    private String asked(Socket socket, String more) throws Exception {
        socket.getOutputStream()
                .write(("GET " + console.getPath() + " HTTP/1.1\r\nHost: tender.example\r\n" + more + "\r\n")
                        .getBytes(StandardCharsets.US_ASCII));
        byte[] start = socket.getInputStream().readNBytes("HTTP/1.1 200".length());
        return new String(start, StandardCharsets.US_ASCII);
    }

    @Test
    void thousandsOneAfterTheOtherAreServedWhoeverClosesThem() throws Exception {
        for (int i = 0; i < 2 * BOUND + 100; i++) {
            try (Socket socket = connection()) {
                switch (i % 3) {
                    case 0 ->
                        assertThat(asked(socket, "Connection: close\r\n"))
                                .as("connection " + i)
                                .isEqualTo("HTTP/1.1 200");
                    case 1 ->
                        assertThat(asked(socket, "")).as("connection " + i).isEqualTo("HTTP/1.1 200");
                    default -> socket.setSoLinger(true, 0); // gone without a word
                }
            }
        }
    }

    @Test
    void whatIsOpenAtOnceIsBounded() throws Exception {
        List<Socket> held = new ArrayList<>();
        try {
            for (int i = 0; i < BOUND + 40; i++) {
                held.add(connection());
            }
            assertThat(held.stream().filter(this::isClosedByTheService).count()).isGreaterThanOrEqualTo(30);
        } finally {
            for (Socket socket : held) {
                socket.close();
            }
        }
        tender.until("/health", r -> r.status() == 200);
    }

    private boolean isClosedByTheService(Socket socket) {
        try {
            socket.setSoTimeout(20);
            return socket.getInputStream().read() < 0;
        } catch (java.net.SocketTimeoutException e) {
            return false;
        } catch (java.io.IOException e) {
            return true;
        }
    }
}
