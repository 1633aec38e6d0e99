package tender.client.command;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.HttpURLConnection;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import tender.api.Page;
import tender.api.Problem;
import tender.api.ProblemCode;
import tender.api.WatchApi;

/** Calls to the service. Uses the plain connection class, which starts far sooner than the newer client. */
public final class Calls {
    private static final int CONNECT_MILLIS = 5_000;
    private static final int READ_MILLIS = 60_000;
    private static final Duration POLL = Duration.ofMillis(120);

    private final String base;
    private final Optional<String> token;

    public Calls(String service, Optional<String> token) {
        this.base = service.replaceAll("/+$", "");
        this.token = token;
    }

    public static Calls signedIn() {
        Account account = Account.require();
        return new Calls(account.service(), Optional.of(account.token()));
    }

    /** What came back. */
    public record Reply(int status, byte[] body, Optional<String> version) {}

    public <T> T get(String path, Class<T> type) {
        return Json.read(send("GET", path, null).body(), type);
    }

    public Reply getVersioned(String path) {
        return send("GET", path, null);
    }

    public <T> T post(String path, Object body, Class<T> type) {
        Reply reply = send("POST", path, body);
        return type == null ? null : Json.read(reply.body(), type);
    }

    public void delete(String path) {
        send("DELETE", path, null);
    }

    public byte[] download(String path, Object body) {
        return send("POST", path, body).body();
    }

    /** A change of what was read as {@code version}. The plain class knows no PATCH, so this one call uses the newer client. */
    public <T> T patch(String path, Object body, String version, Class<T> type) {
        HttpRequest request = HttpRequest.newBuilder(URI.create(base + "/api/v1" + path))
                .timeout(Duration.ofMillis(READ_MILLIS))
                .header("Authorization", "Bearer " + token.orElse(""))
                .header("If-Match", version)
                .method("PATCH", HttpRequest.BodyPublishers.ofByteArray(Json.write(body)))
                .build();
        try {
            HttpResponse<byte[]> response =
                    HttpClient.newHttpClient().send(request, HttpResponse.BodyHandlers.ofByteArray());
            if (response.statusCode() >= 400) {
                throw new CallFailure(problem(response.statusCode(), response.body()));
            }
            return Json.read(response.body(), type);
        } catch (IOException e) {
            throw CallFailure.of(ProblemCode.UNAVAILABLE, "no answer from " + base);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw CallFailure.of(ProblemCode.UNAVAILABLE, "interrupted while waiting");
        }
    }

    /** A path with the parameters that are given. */
    public static String query(String path, Map<String, Optional<String>> given) {
        String parameters = given.entrySet().stream()
                .filter(e -> e.getValue().isPresent())
                .map(e -> e.getKey() + "=" + URLEncoder.encode(e.getValue().get(), StandardCharsets.UTF_8))
                .collect(Collectors.joining("&"));
        return parameters.isEmpty() ? path : path + "?" + parameters;
    }

    /** All pages of a list, up to a number of items. */
    public <T> List<T> list(String path, Class<T> item, int most) {
        List<T> out = new ArrayList<>();
        Optional<String> after = Optional.empty();
        do {
            String query = (path.contains("?") ? "&" : "?") + "limit=" + Math.min(Page.MAX_LIMIT, most - out.size());
            Page<T> page = Json.page(
                    send("GET", path + query + after.map(a -> "&after=" + a).orElse(""), null)
                            .body(),
                    item);
            out.addAll(page.items());
            after = page.next();
        } while (after.isPresent() && out.size() < most);
        return out;
    }

    /** Waits for a job's end; gives it ended. */
    public WatchApi.Job await(String jobId) {
        return await(jobId, note -> {});
    }

    /** As above; {@code heard} is told each note of its progress once. */
    public WatchApi.Job await(String jobId, Consumer<String> heard) {
        String last = "";
        while (true) {
            WatchApi.Job job = get("/jobs/" + jobId, WatchApi.Job.class);
            if (!job.note().isEmpty() && !job.note().equals(last)) {
                last = job.note();
                heard.accept(last);
            }
            if (job.endedAt().isPresent()) {
                return job;
            }
            pause();
        }
    }

    /** Until the next question in a row of them. */
    public static void pause() {
        pause(POLL);
    }

    /** @throws CallFailure where somebody ends the client meanwhile */
    public static void pause(Duration time) {
        try {
            TimeUnit.MILLISECONDS.sleep(time.toMillis());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw CallFailure.of(ProblemCode.UNAVAILABLE, "interrupted while waiting");
        }
    }

    /** Sends a call; where it needs a fresh sign-in, proves anew who one is and sends it once more. */
    public Reply send(String method, String path, Object body) {
        try {
            return once(method, path, body);
        } catch (CallFailure e) {
            if (!e.is(ProblemCode.NOT_FRESH)) {
                throw e;
            }
            Fresh.prove(this, Optional.empty(), Optional.empty());
            return once(method, path, body);
        }
    }

    private Reply once(String method, String path, Object body) {
        String prefix = path.startsWith("//") ? "" : "/api/v1";
        try {
            HttpURLConnection connection = (HttpURLConnection) URI.create(base + prefix + path.replaceFirst("^//", "/"))
                    .toURL()
                    .openConnection();
            connection.setConnectTimeout(CONNECT_MILLIS);
            connection.setReadTimeout(READ_MILLIS);
            connection.setRequestMethod(method);
            token.ifPresent(t -> connection.setRequestProperty("Authorization", "Bearer " + t));
            if (method.equals("POST")) {
                connection.setRequestProperty(
                        "Idempotency-Key", UUID.randomUUID().toString());
            }
            if (body != null) {
                connection.setRequestProperty("Content-Type", "application/json");
                connection.setDoOutput(true);
                try (OutputStream out = connection.getOutputStream()) {
                    out.write(Json.write(body));
                }
            }
            return reply(connection);
        } catch (IOException | IllegalArgumentException e) {
            throw CallFailure.of(ProblemCode.UNAVAILABLE, "no answer from " + base);
        }
    }

    private static Reply reply(HttpURLConnection connection) throws IOException {
        int status = connection.getResponseCode();
        try (InputStream in = status >= 400 ? connection.getErrorStream() : connection.getInputStream()) {
            byte[] body = in == null ? new byte[0] : in.readAllBytes();
            if (status >= 400) {
                throw new CallFailure(problem(status, body));
            }
            return new Reply(status, body, Optional.ofNullable(connection.getHeaderField("ETag")));
        }
    }

    private static Problem problem(int status, byte[] body) {
        if (body.length == 0 || body[0] != '{') {
            return Problem.of(ProblemCode.UNAVAILABLE, "the service answered " + status, "");
        }
        return Json.read(body, Problem.class);
    }
}
