package tender.service.provision;

import io.javalin.config.JavalinConfig;
import io.javalin.http.Context;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tender.api.ProblemCode;
import tender.api.ProvisionApi;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;
import tender.io.provision.DeviceCall;
import tender.service.http.ApiFailure;
import tender.service.http.Costly;
import tender.service.http.Json;
import tender.service.http.Problems;
import tender.service.http.Source;
import tender.store.event.Events;
import tender.store.jdbc.Db;
import tender.store.jdbc.Tx;
import tender.store.provision.DeviceCalls;
import tender.store.provision.EnrolmentState;

/**
 * Where devices call, on the listener of the staff's page. Each call is signed by the device's key. What is passed on is sealed to that
 * key: nothing here can open it.
 */
public final class DeviceRoutes implements AutoCloseable {
    /** Said with an enrolment's id where something else waits for it. */
    static final String TOPIC = "delivery";

    /** What a device is told whose clock is off; the answer's date says by how much. */
    private static final String CLOCK = "the device's clock is more than five minutes off";

    private static final String PATH = "/device";
    private static final Pattern WAIT = Pattern.compile("(?:^|[,;\\s])wait=([0-9]{1,3})(?:$|[,;\\s])");
    /** Below the web server's own patience with a silent connection. */
    private static final int LONGEST_WAIT_SECONDS = 25;
    /** How old the note of when a device was heard may become: a call writes nothing but now and then. */
    private static final Duration SEEN_EACH = Duration.ofMinutes(1);

    private static final int MAX_HELD = 64;
    private static final int ANSWERING = 4;

    private final Db db;
    private final Clock clock;
    private final Source source;
    private final Enrolling enrolling;
    private final Waiters waiters = new Waiters();
    private final Events events;
    /** Answers those who waited, beside the thread that hears the news. */
    private final ExecutorService answering = Executors.newFixedThreadPool(ANSWERING, work -> {
        Thread thread = new Thread(work, "device-answers");
        thread.setDaemon(true);
        return thread;
    });

    public DeviceRoutes(Db db, Clock clock, Source source, Costly costly) {
        this.db = db;
        this.clock = clock;
        this.source = source;
        this.enrolling = new Enrolling(db, costly);
        this.events = Events.listen(db, this::heard);
    }

    public void add(JavalinConfig config) {
        config.routes.post(PATH, this::join);
        config.routes.get(PATH, this::poll);
        config.routes.post(PATH + "/report", this::report);
        config.routes.delete(PATH, this::leave);
    }

    private void heard(String message) {
        String[] words = message.split(" ", 2);
        if (words[0].equals(TOPIC)) {
            waiters.wake(UUID.fromString(words[1]));
        } else if (words[0].equals("reconnected")) {
            waiters.wakeAll();
        }
    }

    /** The call, signed for exactly this and now. */
    private DeviceCall call(Context context) {
        try {
            DeviceCall call = DeviceCall.read(context.header("Authorization"));
            if (!call.isFor(context.method().name(), context.path(), context.bodyAsBytes())) {
                throw refused("the device's proof was signed for another call");
            }
            if (!call.isOf(clock.instant())) {
                context.header(
                        "Date",
                        DateTimeFormatter.RFC_1123_DATE_TIME.format(
                                clock.instant().atOffset(ZoneOffset.UTC)));
                throw refused(CLOCK);
            }
            return call;
        } catch (MalformedException e) {
            throw refused("the device's proof " + e.what());
        }
    }

    private static ApiFailure refused(String words) {
        return new ApiFailure(ProblemCode.NOT_ALLOWED, words, "");
    }

    private DeviceCalls.Device device(Tx tx, DeviceCall call) {
        return DeviceCalls.device(tx, call.enrolment())
                .filter(d -> MessageDigest.isEqual(d.signingKey(), call.key().bytes()))
                .orElseThrow(
                        () -> refused("this device has not joined, or with another key; it needs a provisioning file"));
    }

    private void join(Context context) {
        DeviceCall call = call(context);
        ProvisionApi.Join request = Json.read(context.bodyAsBytes(), ProvisionApi.Join.class);
        Enrolling.Asked asked = new Enrolling.Asked(
                call.enrolment(),
                call.key(),
                sealingKey(request),
                Fields.given("token", request.token()),
                request.person(),
                request.code(),
                Fields.title("device", request.device()),
                Fields.title("system", request.system()));
        Enrolling.Joined joined = enrolling.join(asked, Source.counted(source.of(context)), clock.instant());
        write(
                context,
                new ProvisionApi.Joined(joined.enrolment().toString(), joined.device(), EnrolmentState.JOINING.word()));
    }

    private static byte[] sealingKey(ProvisionApi.Join request) {
        try {
            byte[] key = Base64.getUrlDecoder().decode(Fields.required("sealingKey", request.sealingKey()));
            if (key.length == 32) {
                return key;
            }
        } catch (IllegalArgumentException e) {
            // said below
        }
        throw new MalformedException("key", "sealingKey", "is no key of X25519 in base64url");
    }

    /** What waits for a device; with {@code Prefer: wait=N} (RFC 7240) and the {@code ETag} of what it has, as soon as that is different. */
    private void poll(Context context) {
        DeviceCall call = call(context);
        String has = Optional.ofNullable(context.header("If-None-Match"))
                .map(t -> t.replaceAll("^\"|\"$", ""))
                .orElse("");
        int seconds = wait(context);
        // before it is looked, so that nothing is missed
        CompletableFuture<Boolean> changed = waiters.add(call.enrolment(), call.key());
        DeviceCalls.Device device;
        try {
            device = db.inTransaction(tx -> seen(tx, call));
        } catch (RuntimeException e) {
            waiters.remove(call.enrolment(), call.key(), changed);
            throw e;
        }
        boolean nothingNew = device.etag().equals(has) && !has.isEmpty();
        if (seconds == 0 || !(nothingNew || device.state() == EnrolmentState.JOINING)) {
            waiters.remove(call.enrolment(), call.key(), changed);
            answer(context, call, device, has);
            return;
        }
        context.future(() -> changed.completeOnTimeout(false, seconds, TimeUnit.SECONDS)
                .thenAcceptAsync(
                        different -> {
                            waiters.remove(call.enrolment(), call.key(), changed);
                            DeviceCalls.Device now = different ? db.inTransaction(tx -> device(tx, call)) : device;
                            answer(context, call, now, has);
                        },
                        answering)
                .exceptionally(e -> {
                    Problems.answer(e.getCause() instanceof Exception x ? x : new IllegalStateException(e), context);
                    return null;
                }));
    }

    private static int wait(Context context) {
        Matcher asked =
                WAIT.matcher(Optional.ofNullable(context.header("Prefer")).orElse(""));
        return asked.find() ? Math.min(LONGEST_WAIT_SECONDS, Integer.parseInt(asked.group(1))) : 0;
    }

    private DeviceCalls.Device seen(Tx tx, DeviceCall call) {
        DeviceCalls.Device device = device(tx, call);
        Instant now = clock.instant();
        if (Duration.between(device.seenAt(), now).compareTo(SEEN_EACH) > 0) {
            DeviceCalls.seen(tx, call.enrolment(), now);
        }
        return device;
    }

    private void answer(Context context, DeviceCall call, DeviceCalls.Device device, String has) {
        context.header("Cache-Control", "no-store").header("ETag", "\"" + device.etag() + "\"");
        if (!has.isEmpty() && device.etag().equals(has)) {
            context.status(304);
            return;
        }
        List<ProvisionApi.Sealed> sealed = device.state() == EnrolmentState.JOINED
                ? db.inTransaction(tx -> DeviceCalls.deliveries(tx, call.enrolment())).stream()
                        .map(d -> new ProvisionApi.Sealed(
                                d.profileId().toString(),
                                d.revision(),
                                d.position(),
                                Base64.getEncoder().encodeToString(d.sealed())))
                        .toList()
                : List.of();
        write(context, new ProvisionApi.Waiting(device.state().word(), device.problem(), sealed));
    }

    private void report(Context context) {
        DeviceCall call = call(context);
        ProvisionApi.Report request = Json.read(context.bodyAsBytes(), ProvisionApi.Report.class);
        Fields.range("held", request.held().size(), 0, MAX_HELD);
        Instant now = clock.instant();
        db.run(tx -> {
            device(tx, call);
            for (ProvisionApi.Held h : request.held()) {
                DeviceCalls.report(
                        tx,
                        call.enrolment(),
                        new DeviceCalls.Report(
                                id(h.profile()),
                                h.revision(),
                                h.works(),
                                Fields.title(
                                        "found",
                                        h.found().filter(f -> !f.isBlank()).orElse("-"))),
                        now);
            }
            request.held().forEach(h -> Events.say(tx, "profile", h.profile())); // what is held is judged anew
        });
        context.status(204);
    }

    private static UUID id(String text) {
        try {
            return UUID.fromString(text);
        } catch (IllegalArgumentException | NullPointerException e) {
            throw new MalformedException("id", "held", "names no profile");
        }
    }

    private void leave(Context context) {
        DeviceCall call = call(context);
        db.run(tx -> {
            device(tx, call);
            DeviceCalls.left(tx, call.enrolment());
            Events.say(tx, "enrolment", call.enrolment());
        });
        context.status(204);
    }

    private static void write(Context context, Object body) {
        context.contentType("application/json").result(Json.write(body));
    }

    @Override
    public void close() {
        events.close();
        waiters.end();
        answering.shutdown();
    }
}
