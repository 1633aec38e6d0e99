package tender.service;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.HttpURLConnection;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;

/** Reads a node's event stream as a browser does. */
final class EventReader implements AutoCloseable {
    private final HttpURLConnection connection;
    private final BlockingQueue<String> lines = new LinkedBlockingQueue<>();

    private EventReader(HttpURLConnection connection) {
        this.connection = connection;
        Thread thread = new Thread(this::read, "event-reader");
        thread.setDaemon(true);
        thread.start();
    }

    static EventReader open(RunningService service) throws IOException {
        HttpURLConnection connection =
                (HttpURLConnection) service.url("/events").toURL().openConnection();
        connection.setRequestProperty("Accept", "text/event-stream");
        connection.setRequestProperty("Authorization", "Bearer " + service.token());
        EventReader reader = new EventReader(connection);
        reader.await("{}");
        return reader;
    }

    private void read() {
        try (BufferedReader in =
                new BufferedReader(new InputStreamReader(connection.getInputStream(), StandardCharsets.UTF_8))) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                lines.add(line);
            }
        } catch (IOException e) {
            lines.add("closed");
        }
        lines.add("closed");
    }

    /** The next line that holds a text. */
    String await(String text) {
        try {
            for (String line = lines.poll(15, TimeUnit.SECONDS);
                    line != null;
                    line = lines.poll(15, TimeUnit.SECONDS)) {
                if (line.contains(text)) {
                    return line;
                }
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        throw new AssertionError("no event with " + text);
    }

    @Override
    public void close() {
        connection.disconnect();
    }
}
