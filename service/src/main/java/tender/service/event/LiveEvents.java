package tender.service.event;

import io.javalin.http.sse.SseClient;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import java.util.function.BiConsumer;
import tender.service.http.Caller;
import tender.service.http.Role;
import tender.service.http.Route;
import tender.store.event.Events;
import tender.store.finding.KeptFindings;
import tender.store.jdbc.Db;
import tender.store.job.Jobs;
import tender.store.secret.KeyRotations;
import tender.store.trial.Trials;

/**
 * Passes what any node says to this node's browsers and to whoever waits here. Browsers get topic and id, nothing else. Each
 * stream has a queue and a thread of its own, both bounded: one that does not read is dropped and delays nobody.
 */
public final class LiveEvents implements AutoCloseable {
    /** Said when a sign-in ends; its streams are closed. */
    public static final String SIGNED_OUT = "signed-out";

    /** Said after the connection to the database was lost: anything may have been said meanwhile. */
    public static final String RECONNECTED = "reconnected";

    /** The stream's row in the table of routes. */
    public static final Route ROUTE = Route.get(
            "/events",
            Set.of(Role.OWNER, Role.OPERATOR, Role.AUDITOR),
            "What changed, as a stream of server-sent events: topic and id",
            null,
            call -> {
                throw new IllegalStateException("a stream is opened, not answered");
            });

    static final int QUEUE = 256;
    private static final Duration STALLED = Duration.ofSeconds(5);
    private static final Duration QUIET = Duration.ofSeconds(20);
    static final int PER_SIGN_IN = 6;
    static final int AT_ONCE = 200;
    private static final List<String> INTERNAL = List.of(
            SIGNED_OUT,
            RECONNECTED,
            Jobs.ADDED,
            Trials.WAITING,
            KeptFindings.WANTED,
            KeptFindings.JUDGED,
            KeyRotations.TOPIC);

    private final Set<Stream> streams = ConcurrentHashMap.newKeySet();
    private final List<BiConsumer<String, String>> waiting = new CopyOnWriteArrayList<>();
    private final Events events;

    public LiveEvents(Db db) {
        events = Events.listen(db, this::heard);
    }

    private record Said(String event, Object data) {}

    private static final Said EVERYTHING = new Said("changed", Map.of("topic", "*", "id", ""));

    /** One browser's stream. */
    private final class Stream {
        private final SseClient client;
        private final String signIn;
        private final BlockingQueue<Said> queue = new ArrayBlockingQueue<>(QUEUE);
        private volatile long writingSince;
        private final Thread sender = new Thread(this::send, "live-events");

        Stream(SseClient client, String signIn) {
            this.client = client;
            this.signIn = signIn;
            sender.setDaemon(true);
        }

        private void send() {
            try {
                while (!client.terminated()) {
                    Said next = queue.poll(QUIET.toMillis(), TimeUnit.MILLISECONDS);
                    writingSince = System.nanoTime();
                    if (next == null) {
                        client.sendComment("quiet"); // shows whether anybody still reads
                    } else {
                        client.sendEvent(next.event(), next.data());
                    }
                    writingSince = 0;
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            } finally {
                streams.remove(this);
                client.close();
            }
        }

        /** One that cannot follow hears that anything may have changed; one that does not read at all is dropped. */
        void say(Said said) {
            long since = writingSince;
            if (since != 0 && System.nanoTime() - since > STALLED.toNanos()) {
                end();
            } else if (!queue.offer(said)) {
                queue.clear();
                queue.offer(EVERYTHING);
            }
        }

        void end() {
            streams.remove(this);
            sender.interrupt(); // also out of a write that nobody reads
        }

        void awaitEnd() {
            try {
                sender.join(STALLED.toMillis());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }

    /** A browser follows: it hears topics and ids until its sign-in ends. */
    public void opened(SseClient client, Caller caller) {
        String signIn = caller.signInId().toString();
        long own = streams.stream().filter(s -> s.signIn.equals(signIn)).count();
        if (own >= PER_SIGN_IN || streams.size() >= AT_ONCE) {
            client.sendEvent("full", "{}");
            client.close();
            return;
        }
        Stream stream = new Stream(client, signIn);
        client.keepAlive();
        client.onClose(stream::end);
        streams.add(stream);
        stream.say(new Said("hello", "{}"));
        stream.sender.start();
    }

    /** Streams that are open now. */
    public int open() {
        return streams.size();
    }

    /** Calls back with each topic and id on the listening thread; must be quick. */
    public void whenHeard(BiConsumer<String, String> callback) {
        waiting.add(callback);
    }

    private void heard(String message) {
        int space = message.indexOf(' ');
        String topic = message.substring(0, space);
        String id = message.substring(space + 1);
        waiting.forEach(w -> w.accept(topic, id));
        if (topic.equals(SIGNED_OUT)) {
            streams.stream().filter(s -> s.signIn.equals(id)).forEach(Stream::end);
        } else if (!INTERNAL.contains(topic)) {
            Said said = new Said("changed", Map.of("topic", topic, "id", id));
            streams.forEach(s -> s.say(said));
        }
    }

    @Override
    public void close() {
        events.close();
        List<Stream> open = List.copyOf(streams);
        open.forEach(Stream::end);
        open.forEach(Stream::awaitEnd); // the web listener stops next and takes their requests back
    }
}
