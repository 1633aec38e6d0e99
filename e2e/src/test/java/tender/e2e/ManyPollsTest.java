package tender.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.provision.SigningKey;
import tender.standins.office.SmallOffice;

/** Five thousand devices that wait for something new, while somebody uses the console. */
class ManyPollsTest {
    private static final int DEVICES = 5_000;
    private static final int CHANGED_AT_ONCE = 100;
    private static final long MOST_KIB = 512 * 1024;
    private static final String PEOPLE = """
            with n as (select i, ('00000000-0000-4000-8000-' || lpad(i::text, 12, '0'))::uuid as id from generate_series(1, %d) as i),
            l as (select id from listener limit 1),
            h as (insert into person (id, handle, name, mail, created_at) select id, 'crew' || i, 'Crew ' || i, '', now() from n),
            d as (insert into device (id, person_id, name, kind, system) select id, id, 'laptop', 'laptop', '' from n),
            k as (insert into credential (id, kind, purpose, public_part, custody, state, created_at)
                  select id, 'TUNNEL_KEY_PAIR', 'p', 'pk' || i, 'HELD', 'CREATED', now() from n),
            p as (insert into profile (id, device_id, label, origin, state, created_at)
                  select id, id, 'crew' || i || '-laptop', 'issued', 'ready', now() from n)
            insert into profile_listener (profile_id, position, listener_id, key_id, reach, full_tunnel)
            select n.id, 0, l.id, n.id, '{}', false from n, l""";

    @TempDir
    Path folder;

    private final List<Device> devices = new ArrayList<>();
    private final AtomicInteger answers = new AtomicInteger();
    private final AtomicBoolean over = new AtomicBoolean();
    private final AtomicLong changedAt = new AtomicLong();
    private final AtomicReference<String> failed = new AtomicReference<>("");
    private HttpClient http;
    private String staff;

    /** One that waits, and counts each revision that it is given. */
    private final class Device {
        private final UUID id;
        private final SigningKey key = SigningKey.generate(new SecureRandom());
        private volatile String etag = "one";
        private final AtomicInteger given = new AtomicInteger();
        private volatile long nanos;

        Device(int number) {
            this.id = UUID.fromString("00000000-0000-4000-8000-%012d".formatted(number));
        }

        CompletableFuture<HttpResponse<byte[]>> call(int wait) {
            return http.sendAsync(
                    HttpRequest.newBuilder(URI.create(staff + "/device"))
                            .header("Authorization", SignedJson.proof(key, id, "GET", "/device"))
                            .header("If-None-Match", "\"" + etag + "\"")
                            .header("Prefer", "wait=" + wait)
                            .build(),
                    HttpResponse.BodyHandlers.ofByteArray());
        }

        void stay() {
            if (over.get()) {
                return;
            }
            call(25).whenComplete((response, failure) -> {
                if (failure != null || response.statusCode() >= 400) {
                    if (!over.get()) {
                        given.addAndGet(1_000); // a failed call is seen below
                        failed.set(
                                failure != null
                                        ? failure.toString()
                                        : new String(response.body(), StandardCharsets.UTF_8));
                    }
                } else if (response.statusCode() == 200) {
                    nanos = System.nanoTime() - changedAt.get();
                    given.incrementAndGet();
                    etag = response.headers().firstValue("ETag").orElseThrow().replace("\"", "");
                    answers.incrementAndGet();
                    stay();
                } else {
                    stay();
                }
            });
        }
    }

    private void insert(Connection db) throws SQLException {
        try (var statement = db.createStatement()) {
            statement.execute(PEOPLE.formatted(DEVICES));
        }
        try (PreparedStatement one = db.prepareStatement(
                        "insert into enrolment (id, person_id, device_id, device_name, system, signing_key, sealing_key, joined_at, seen_at, etag, state)"
                                + " values (?, ?, ?, 'laptop', '', ?, ?, now(), now(), 'one', 'joined')");
                PreparedStatement waiting = db.prepareStatement(
                        "insert into delivery (enrolment_id, profile_id, revision, position, sealed, made_at) values (?, ?, 1, 0, ?, now())")) {
            byte[] sealed = new byte[2_000];
            for (int i = 1; i <= DEVICES; i++) {
                Device device = new Device(i);
                devices.add(device);
                one.setObject(1, device.id);
                one.setObject(2, device.id);
                one.setObject(3, device.id);
                one.setBytes(4, device.key.verifying().bytes());
                one.setBytes(5, new byte[32]);
                one.addBatch();
                waiting.setObject(1, device.id);
                waiting.setObject(2, device.id);
                waiting.setBytes(3, sealed);
                waiting.addBatch();
            }
            one.executeBatch();
            waiting.executeBatch();
        }
        try (var statement = db.createStatement()) {
            statement.execute("analyze");
        }
    }

    /** As the service does when a listener changed: what waits is another revision, and who waits is told. */
    private void change(Connection db, List<Device> some, String tag) throws SQLException {
        db.setAutoCommit(false);
        try (PreparedStatement newer =
                        db.prepareStatement("update delivery set revision = revision + 1 where enrolment_id = ?");
                PreparedStatement tagged = db.prepareStatement("update enrolment set etag = ? where id = ?");
                PreparedStatement told = db.prepareStatement("select pg_notify('tender', 'delivery ' || ?)")) {
            for (Device d : some) {
                newer.setObject(1, d.id);
                newer.addBatch();
                tagged.setString(1, tag);
                tagged.setObject(2, d.id);
                tagged.addBatch();
            }
            newer.executeBatch();
            tagged.executeBatch();
            for (Device d : some) {
                told.setString(1, d.id.toString());
                told.execute();
            }
        }
        changedAt.set(System.nanoTime());
        db.commit();
        db.setAutoCommit(true);
    }

    private static long at(long[] nanos, double part) {
        long[] sorted = nanos.clone();
        Arrays.sort(sorted);
        return TimeUnit.NANOSECONDS.toMillis(sorted[(int) Math.min(sorted.length - 1, sorted.length * part)]);
    }

    private long[] overview(Tender tender, int times) throws Exception {
        long[] out = new long[times];
        for (int i = 0; i < times; i++) {
            long from = System.nanoTime();
            HttpResponse<Void> response = http.send(
                    HttpRequest.newBuilder(URI.create(tender.address() + "/api/v1/overview"))
                            .header("Authorization", "Bearer " + tender.token())
                            .build(),
                    HttpResponse.BodyHandlers.discarding());
            assertThat(response.statusCode()).isEqualTo(200);
            out[i] = System.nanoTime() - from;
        }
        return out;
    }

    private static long residentKib(long pid) throws IOException {
        return Files.readAllLines(Path.of("/proc/" + pid + "/status")).stream()
                .filter(l -> l.startsWith("VmRSS:"))
                .mapToLong(l -> Long.parseLong(l.replaceAll("\\D", "")))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void eachChangeReachesItsDeviceOnceWhileTheConsoleIsUsed() throws Exception {
        ExecutorService few = Executors.newFixedThreadPool(2);
        http = HttpClient.newBuilder()
                .executor(few)
                .version(HttpClient.Version.HTTP_1_1)
                .build();
        try (SmallOffice office = SmallOffice.start(folder.resolve("office"), "127.10.112.1");
                Tender tender = new Tender(folder, office, Map.of("TENDER_TRUSTED_PROXY", "127.0.0.1/32"));
                Connection db = DriverManager.getConnection(
                        tender.environment().get("TENDER_DATABASE_URL"),
                        "tender_owner",
                        Files.readString(Tender.passwordFile("owner-password")).strip())) {
            tender.addRouter(office, "mara", "phone");
            staff = Files.readAllLines(folder.resolve("data/address")).get(1);
            insert(db);

            long[] alone = polls();
            devices.forEach(Device::stay);
            Shell.until("all devices to wait", Duration.ofSeconds(180), () -> connections() >= DEVICES);
            long[] console = overview(tender, 100);

            change(db, devices.subList(0, CHANGED_AT_ONCE), "two");
            Shell.until("those few to be told", Duration.ofSeconds(60), () -> answers.get() == CHANGED_AT_ONCE);
            long[] told = devices.subList(0, CHANGED_AT_ONCE).stream()
                    .mapToLong(d -> d.nanos)
                    .toArray();
            change(db, devices, "three");
            long began = System.nanoTime();
            long[] meanwhile = overview(tender, 20);
            Shell.until(
                    "everybody to be told", Duration.ofSeconds(180), () -> answers.get() >= CHANGED_AT_ONCE + DEVICES);
            long all = TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - began);
            long resident = residentKib(tender.pid());
            over.set(true);

            System.out.printf(
                    "measured: %d devices wait; a poll alone p50 %d ms, p99 %d ms; %d told p99 %d ms after a change, all of them within %d ms; overview p50 %d ms, p99 %d ms, meanwhile p99 %d ms; service %d MiB%n",
                    DEVICES,
                    at(alone, 0.5),
                    at(alone, 0.99),
                    CHANGED_AT_ONCE,
                    at(told, 0.99),
                    all,
                    at(console, 0.5),
                    at(console, 0.99),
                    at(meanwhile, 0.99),
                    resident / 1024);
            for (int i = 0; i < DEVICES; i++) {
                assertThat(devices.get(i).given.get()).as("device %d", i).isEqualTo(i < CHANGED_AT_ONCE ? 2 : 1);
            }
            assertThat(resident).as("resident KiB of the service").isLessThan(MOST_KIB);
        } finally {
            few.shutdownNow();
        }
    }

    /** Each device asks once whether there is something new, some at a time. */
    private long[] polls() throws Exception {
        long[] out = new long[DEVICES];
        Semaphore atOnce = new Semaphore(4);
        List<CompletableFuture<Void>> all = new ArrayList<>();
        for (int i = 0; i < DEVICES; i++) {
            int at = i;
            atOnce.acquire();
            long from = System.nanoTime();
            all.add(devices.get(i)
                    .call(0)
                    .thenAccept(response -> {
                        assertThat(response.statusCode()).isEqualTo(304);
                        out[at] = System.nanoTime() - from;
                    })
                    .whenComplete((r, e) -> atOnce.release()));
        }
        CompletableFuture.allOf(all.toArray(CompletableFuture[]::new)).get(120, TimeUnit.SECONDS);
        return out;
    }

    private int connections() {
        String port = "%04X".formatted(URI.create(staff).getPort());
        try {
            List<String> all = new ArrayList<>(Files.readAllLines(Path.of("/proc/net/tcp")));
            all.addAll(Files.readAllLines(Path.of("/proc/net/tcp6")));
            return (int) all.stream()
                    .filter(l -> l.strip().matches("\\d+: [0-9A-F]{8,32}:" + port + " [0-9A-F:]+ 01 .*"))
                    .count();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }
}
