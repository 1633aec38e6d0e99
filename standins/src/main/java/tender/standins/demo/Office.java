package tender.standins.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.Map;
import java.util.UUID;

/** Tender's API and the staff's page as somebody at the office calls them; an answer that is a problem is thrown in its words. */
final class Office {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final int LOOK_MILLIS = 50;
    private static final int LOOKS = 600;

    private final HttpClient http = HttpClient.newHttpClient();
    private final String console;
    private final String staff;
    private String token = "";

    Office(String console, String staff) {
        this.console = console;
        this.staff = staff;
    }

    void signIn(String name, String password) throws IOException {
        token = "";
        token = post("/sign-in", Map.of("name", name, "password", password, "forClient", true))
                .path("token")
                .asText();
    }

    JsonNode get(String path) throws IOException {
        return send(request(console + "/api/v1" + path).GET());
    }

    JsonNode post(String path, Map<String, ?> body) throws IOException {
        return send(request(console + "/api/v1" + path)
                .header("Idempotency-Key", UUID.randomUUID().toString())
                .POST(content(body)));
    }

    void patch(String path, Map<String, ?> body, int version) throws IOException {
        send(request(console + "/api/v1" + path)
                .header("If-Match", "\"" + version + "\"")
                .method("PATCH", content(body)));
    }

    /** Waits until a job has ended well. */
    void done(String job) throws IOException {
        for (int i = 0; i < LOOKS; i++) {
            JsonNode now = get("/jobs/" + job);
            switch (now.path("state").asText()) {
                case "done" -> {
                    return;
                }
                case "failed", "cancelled" ->
                    throw new IOException(
                            now.path("kind").asText() + ": " + now.path("note").asText());
                default -> pause();
            }
        }
        throw new IOException("job " + job + " does not end");
    }

    /** Collects what was handed out, as a person does with link and passphrase. */
    JsonNode collect(JsonNode prepared) throws IOException {
        String link = prepared.path("link").asText();
        return send(request(staff + "/collect")
                .POST(content(Map.of(
                        "token",
                        link.substring(link.indexOf('#') + 1),
                        "passphrase",
                        prepared.path("passphrase").asText()))));
    }

    private HttpRequest.Builder request(String url) {
        HttpRequest.Builder out = HttpRequest.newBuilder(URI.create(url)).header("Content-Type", "application/json");
        return token.isEmpty() ? out : out.header("Authorization", "Bearer " + token);
    }

    private static HttpRequest.BodyPublisher content(Map<String, ?> body) throws IOException {
        return HttpRequest.BodyPublishers.ofByteArray(JSON.writeValueAsBytes(body));
    }

    private JsonNode send(HttpRequest.Builder request) throws IOException {
        try {
            HttpResponse<byte[]> answer = http.send(request.build(), HttpResponse.BodyHandlers.ofByteArray());
            JsonNode said = answer.body().length == 0 ? JSON.createObjectNode() : JSON.readTree(answer.body());
            if (answer.statusCode() >= 300) {
                throw new IOException(
                        answer.request().method() + " " + answer.uri().getPath() + ": "
                                + said.path("detail").asText(Integer.toString(answer.statusCode())) + " "
                                + said.path("place").asText());
            }
            return said;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("interrupted", e);
        }
    }

    private static void pause() throws IOException {
        try {
            Thread.sleep(LOOK_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("interrupted", e);
        }
    }
}
