package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
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
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.LockSupport;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.standins.office.SmallOffice;

/** Strangers and the least trusted, all at once, against a service with half a gigabyte: it goes on answering everyone else. */
class StrangersTest {
    /** Alone on the machine they take a quarter of a second; other tests run beside this one. */
    private static final Duration SOON = Duration.ofSeconds(5);

    @TempDir
    Path folder;

    /** One for all tests: each address may have 512 connections, and those that lie idle count. */
    private static final HttpClient HTTP =
            HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

    private SmallOffice office;
    private Tender tender;
    private String console;
    private String staff;

    /** Asks for the staff's page and for /me over and over while something goes on, and keeps the slowest answer. */
    private final class Watcher implements AutoCloseable {
        private final AtomicBoolean over = new AtomicBoolean();
        private final AtomicLong slowest = new AtomicLong();
        private final List<String> wrong = new ArrayList<>();
        private final Thread thread = new Thread(this::watch);
        private int asked;

        Watcher() {
            thread.start();
        }

        private void watch() {
            while (!over.get()) {
                time(staff + "/", Map.of());
                time(console + "/api/v1/me", Map.of("Authorization", "Bearer " + token()));
                LockSupport.parkNanos(50_000_000);
            }
        }

        private void time(String url, Map<String, String> headers) {
            long began = System.nanoTime();
            try {
                int status = send("GET", url, null, headers).statusCode();
                if (status != 200) {
                    wrong.add(url + " " + status);
                }
            } catch (IOException | InterruptedException e) {
                wrong.add(url + " " + e);
            }
            asked++;
            slowest.accumulateAndGet((System.nanoTime() - began) / 1_000_000, Math::max);
        }

        @Override
        public void close() throws Exception {
            over.set(true);
            thread.join();
            System.out.println(
                    "measured: while strangers try, the slowest of " + asked + " answers took " + slowest + " ms");
            assertThat(wrong).isEmpty();
            assertThat(asked).isGreaterThan(3);
            assertThat(Duration.ofMillis(slowest.get())).isLessThan(SOON);
            assertThat(tender.runs()).isTrue();
        }
    }

    @BeforeEach
    void open() throws Exception {
        office = SmallOffice.start(folder.resolve("office"), "127.10.87.1");
        tender = new Tender(folder, office, Map.of("TENDER_PASSWORD_MEMORY", "19456"));
        console = tender.address();
        staff = Files.readAllLines(folder.resolve("data/address")).get(1);
        for (int i = 0; i < 30; i++) { // what a service takes for its first answers is no stranger's doing
            send("GET", staff + "/", null, Map.of());
            send("GET", console + "/api/v1/me", null, Map.of("Authorization", "Bearer " + token()));
        }
    }

    @AfterEach
    void close() throws Exception {
        tender.close();
        office.close();
    }

    private String token() {
        try {
            return tender.token();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private HttpResponse<String> send(String method, String url, String body, Map<String, String> headers)
            throws IOException, InterruptedException {
        return HTTP.send(request(method, url, body, headers), HttpResponse.BodyHandlers.ofString());
    }

    private static HttpRequest request(String method, String url, String body, Map<String, String> headers) {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(url))
                .timeout(Duration.ofSeconds(90))
                .method(
                        method,
                        body == null ? HttpRequest.BodyPublishers.noBody() : HttpRequest.BodyPublishers.ofString(body));
        headers.forEach(request::header);
        return request.build();
    }

    /** Sends all at once and gives how often each status came back. */
    private Map<Integer, Integer> allAtOnce(List<HttpRequest> requests) {
        List<CompletableFuture<HttpResponse<String>>> sent = requests.stream()
                .map(r -> HTTP.sendAsync(r, HttpResponse.BodyHandlers.ofString())
                        // an idle connection that is closed in the moment it is used again: any client calls anew
                        .exceptionallyCompose(e -> HTTP.sendAsync(r, HttpResponse.BodyHandlers.ofString())))
                .toList();
        Map<Integer, Integer> out = new TreeMap<>();
        sent.forEach(f -> out.merge(f.join().statusCode(), 1, Integer::sum));
        return out;
    }

    @Test
    void fourHundredSignInsAtOnce() throws Exception {
        List<HttpRequest> all = new ArrayList<>();
        for (int i = 0; i < 400; i++) {
            all.add(request(
                    "POST",
                    console + "/api/v1/sign-in",
                    "{\"name\":\"owner\",\"password\":\"wrong-password-" + i + "\",\"forClient\":true}",
                    Map.of()));
        }
        Map<Integer, Integer> came;
        try (Watcher watcher = new Watcher()) {
            came = allAtOnce(all);
        }
        assertThat(came.keySet()).isSubsetOf(401, 429, 503);
        assertThat(came.get(503)).as(came.toString()).isGreaterThan(100);
        assertThat(came.getOrDefault(401, 0)).as("guesses that were looked at").isLessThanOrEqualTo(10);
    }

    @Test
    void threeHundredBodiesThatTrickle() throws Exception {
        for (String page : List.of(staff + "/collect", console + "/api/v1/sign-in")) {
            URI url = URI.create(page);
            List<Socket> open = new ArrayList<>();
            try (Watcher watcher = new Watcher()) {
                for (int i = 0; i < 300; i++) {
                    Socket socket = new Socket();
                    socket.connect(new InetSocketAddress(url.getHost(), url.getPort()), 2_000);
                    open.add(socket);
                    socket.getOutputStream()
                            .write(("POST " + url.getPath() + " HTTP/1.1\r\nHost: " + url.getAuthority()
                                            + "\r\nContent-Length: 2000\r\n\r\n{")
                                    .getBytes(StandardCharsets.US_ASCII));
                }
                for (int step = 0; step < 4; step++) {
                    for (Socket socket : open) {
                        trickle(socket.getOutputStream());
                    }
                    LockSupport.parkNanos(Duration.ofMillis(700).toNanos());
                }
                // a body has ten seconds in all, however it trickles
                Socket one = open.get(0);
                one.setSoTimeout(20_000);
                String answer = new String(one.getInputStream().readNBytes(60), StandardCharsets.US_ASCII);
                assertThat(answer).contains(" 408 ");
            } finally {
                for (Socket socket : open) {
                    socket.close();
                }
            }
        }
    }

    private static void trickle(OutputStream out) {
        try {
            out.write(' ');
        } catch (IOException e) {
            // it was closed, which is what it is about
        }
    }

    /** Archives in an archive, each of which unpacks to much. */
    private static String bomb() throws IOException {
        byte[] zeros = new byte[6 * 1024 * 1024];
        ByteArrayOutputStream inner = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(inner)) {
            for (int i = 0; i < 5; i++) {
                zip.putNextEntry(new ZipEntry("zeros" + i));
                zip.write(zeros);
            }
        }
        ByteArrayOutputStream outer = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(outer)) {
            for (int i = 0; i < 446; i++) {
                zip.putNextEntry(new ZipEntry("inner" + i + ".zip"));
                zip.write(inner.toByteArray());
            }
        }
        return Base64.getEncoder().encodeToString(outer.toByteArray());
    }

    @Test
    void twentyUploadsOfABombAtOnce() throws Exception {
        String body = "{\"files\":[{\"name\":\"bomb.zip\",\"content\":\"" + bomb() + "\"}]}";
        List<HttpRequest> all = new ArrayList<>();
        for (int i = 0; i < 20; i++) {
            all.add(request(
                    "POST", console + "/api/v1/inspections", body, Map.of("Authorization", "Bearer " + token())));
        }
        long began = System.nanoTime();
        Map<Integer, Integer> came;
        try (Watcher watcher = new Watcher()) {
            came = allAtOnce(all);
        }
        assertThat(came.keySet()).isSubsetOf(200, 503);
        assertThat(came.getOrDefault(200, 0)).isPositive();
        assertThat(Duration.ofNanos(System.nanoTime() - began)).isLessThan(Duration.ofSeconds(40));
    }

    @Test
    void threeHundredVantagesThatWaitAndAStreamThatNobodyReads() throws Exception {
        tender.client("operator", "add", "quay", "--role", "vantage", "--password-fd", "3<first-password-quay");
        String first = signIn("quay", "first-password-quay");
        send(
                "POST",
                console + "/api/v1/me/password",
                "{\"old\":\"first-password-quay\",\"fresh\":\"second-password-quay\"}",
                Map.of("Authorization", "Bearer " + first));
        URI url = URI.create(console);
        List<HttpRequest> all = new ArrayList<>();
        for (int i = 0; i < 300; i++) {
            all.add(request(
                    "POST", console + "/api/v1/vantage/next", "{}", Map.of("Authorization", "Bearer " + first)));
        }
        try (Socket stalled = new Socket()) {
            stalled.setReceiveBufferSize(1_024);
            stalled.connect(new InetSocketAddress(url.getHost(), url.getPort()));
            stalled.getOutputStream()
                    .write(("GET /api/v1/events HTTP/1.1\r\nHost: " + url.getAuthority()
                                    + "\r\nAccept: text/event-stream\r\nAuthorization: Bearer " + token() + "\r\n\r\n")
                            .getBytes(StandardCharsets.US_ASCII));
            HttpResponse<java.io.InputStream> live = HTTP.send(
                    request(
                            "GET",
                            console + "/api/v1/events",
                            null,
                            Map.of("Accept", "text/event-stream", "Authorization", "Bearer " + token())),
                    HttpResponse.BodyHandlers.ofInputStream());
            StringBuilder heard = new StringBuilder();
            Thread reader = new Thread(() -> {
                try (java.io.InputStream in = live.body()) {
                    for (int b = in.read(); b >= 0; b = in.read()) {
                        synchronized (heard) {
                            heard.append((char) b);
                        }
                    }
                } catch (IOException e) {
                    // the service ends
                }
            });
            reader.setDaemon(true);
            reader.start();
            Map<Integer, Integer> came;
            try (Watcher watcher = new Watcher()) {
                // far more than a stalled stream's queue and its buffers take
                tender.query(
                        "select count(pg_notify('tender', 'finding ' || repeat('x', 1000) || n)) from generate_series(1, 3000) n");
                came = allAtOnce(all);
            }
            assertThat(came.keySet()).isSubsetOf(200, 503);
            tender.query("select pg_notify('tender', 'person the-last-one')");
            Shell.until("the stream that is read to hear on", Duration.ofSeconds(10), () -> {
                synchronized (heard) {
                    return heard.indexOf("the-last-one") > 0;
                }
            });
        }
    }

    private String signIn(String name, String password) throws Exception {
        return Tender.JSON
                .readTree(send(
                                "POST",
                                console + "/api/v1/sign-in",
                                "{\"name\":\"" + name + "\",\"password\":\"" + password + "\",\"forClient\":true}",
                                Map.of())
                        .body())
                .path("token")
                .asText();
    }
}
