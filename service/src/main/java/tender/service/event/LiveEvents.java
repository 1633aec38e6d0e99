package tender.service.event;

import io.javalin.http.sse.SseClient;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import tender.service.http.Caller;
import tender.store.event.Events;
import tender.store.jdbc.Db;

/** Passes what any node says to this node's browsers and to whoever waits here. Browsers get topic and id, nothing else. */
public final class LiveEvents implements AutoCloseable {
    /** Said when a sign-in ends; its streams are closed. */
    public static final String SIGNED_OUT = "signed-out";
    /** Said when a job was added. */
    public static final String JOB_ADDED = "job-added";

    private static final List<String> INTERNAL = List.of(SIGNED_OUT, JOB_ADDED);

    private final Map<SseClient, UUID> browsers = new ConcurrentHashMap<>();
    private final List<Consumer<String>> waiting = new CopyOnWriteArrayList<>();
    private final Events events;

    public LiveEvents(Db db) {
        events = Events.listen(db, this::heard);
    }

    public void opened(SseClient client, Caller caller) {
        client.keepAlive();
        client.onClose(() -> browsers.remove(client));
        browsers.put(client, caller.signInId());
        client.sendEvent("hello", "{}");
    }

    /** Calls back with each topic on the listening thread; must be quick. */
    public void whenHeard(Consumer<String> callback) {
        waiting.add(callback);
    }

    private void heard(String message) {
        int space = message.indexOf(' ');
        String topic = message.substring(0, space);
        String id = message.substring(space + 1);
        waiting.forEach(w -> w.accept(topic));
        if (topic.equals(SIGNED_OUT)) {
            browsers.forEach((client, signIn) -> {
                if (signIn.toString().equals(id)) {
                    client.close();
                }
            });
        } else if (!INTERNAL.contains(topic)) {
            browsers.keySet().forEach(client -> client.sendEvent("changed", Map.of("topic", topic, "id", id)));
        }
    }

    @Override
    public void close() {
        events.close();
        browsers.keySet().forEach(SseClient::close);
    }
}
