package tender.io.alert;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;

/** Posts JSON to an address; what comes back is not read, and no redirect is followed. */
public final class WebCall {
    private static final Duration LIMIT = Duration.ofSeconds(10);

    private final HttpClient client = HttpClient.newBuilder()
            .connectTimeout(LIMIT)
            .followRedirects(HttpClient.Redirect.NEVER)
            .build();

    /** Throws where the other side does not answer with success. */
    public void post(URI to, byte[] json) throws IOException {
        try {
            HttpResponse<Void> answer = client.send(
                    HttpRequest.newBuilder(to)
                            .timeout(LIMIT)
                            .header("Content-Type", "application/json")
                            .POST(HttpRequest.BodyPublishers.ofByteArray(json))
                            .build(),
                    HttpResponse.BodyHandlers.discarding());
            if (answer.statusCode() / 100 != 2) {
                throw new IOException(to.getHost() + " answered " + answer.statusCode());
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("stopped", e);
        }
    }
}
