package tender.client.device;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.HttpURLConnection;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import javax.net.ssl.HttpsURLConnection;
import tender.api.Problem;
import tender.api.ProblemCode;
import tender.client.command.CallFailure;
import tender.client.command.Json;
import tender.core.provision.SigningKey;
import tender.io.provision.DeviceCall;
import tender.io.provision.ProvisioningFile;

/** Calls of this device, signed by its key, to the first service address that answers. */
final class ServiceCalls {
    private static final int CONNECT_MILLIS = 4_000;
    private static final int READ_MILLIS = 15_000;

    private final ProvisioningFile file;
    private final SigningKey key;
    private final UUID enrolment;
    /** How far the service's clock is ahead of this one's, where that matters. */
    private Duration ahead = Duration.ZERO;

    ServiceCalls(ProvisioningFile file, SigningKey key, UUID enrolment) {
        this.file = file;
        this.key = key;
        this.enrolment = enrolment;
    }

    /** What came back, and from where. */
    record Reply(URI service, int status, byte[] body, String etag) {
        <T> T as(Class<T> type) {
            return Json.read(body, type);
        }
    }

    /** A call, with how many seconds the service may take for its answer. */
    record Request(String method, String path, Optional<Object> body, Map<String, String> headers, int patience) {
        static Request of(String method, String path) {
            return new Request(method, path, Optional.empty(), Map.of(), 0);
        }
    }

    /** @throws CallFailure with what the service says, or where none of the addresses answers */
    Reply send(Request request) {
        for (URI service : file.services()) {
            try {
                Reply reply = once(service, request);
                if (reply.status() == 403 && ahead.abs().compareTo(DeviceCall.CLOCK_LEEWAY) > 0) {
                    reply = once(service, request);
                }
                if (reply.status() >= 400) {
                    throw new CallFailure(problem(reply));
                }
                return reply;
            } catch (IOException e) {
                // the next one may answer
            }
        }
        throw CallFailure.of(
                ProblemCode.UNAVAILABLE,
                "no answer from "
                        + String.join(
                                ", ",
                                file.services().stream().map(URI::toString).toList()));
    }

    private Reply once(URI service, Request request) throws IOException {
        byte[] body = request.body().map(Json::write).orElse(new byte[0]);
        URI at = URI.create(service.toString().replaceAll("/+$", "") + request.path());
        HttpURLConnection connection = (HttpURLConnection) at.toURL().openConnection();
        if (connection instanceof HttpsURLConnection secure
                && !file.authorities().isEmpty()) {
            secure.setSSLSocketFactory(NamedAuthorities.sockets(file.authorities()));
        }
        connection.setConnectTimeout(CONNECT_MILLIS);
        connection.setReadTimeout(READ_MILLIS + request.patience() * 1_000);
        connection.setInstanceFollowRedirects(false);
        connection.setRequestMethod(request.method());
        connection.setRequestProperty(
                "Authorization",
                DeviceCall.sign(
                        key,
                        enrolment,
                        request.method(),
                        at.getPath(),
                        Instant.now().plus(ahead),
                        body));
        request.headers().forEach(connection::setRequestProperty);
        if (request.body().isPresent()) {
            connection.setRequestProperty("Content-Type", "application/json");
            connection.setDoOutput(true);
            try (OutputStream out = connection.getOutputStream()) {
                out.write(body);
            }
        }
        int status = connection.getResponseCode();
        long date = connection.getDate();
        if (status == 403 && date > 0) {
            ahead = Duration.between(Instant.now(), Instant.ofEpochMilli(date));
        }
        try (InputStream in = status >= 400 ? connection.getErrorStream() : connection.getInputStream()) {
            byte[] answer = in == null ? new byte[0] : in.readAllBytes();
            String etag = connection.getHeaderField("ETag");
            return new Reply(service, status, answer, etag == null ? "" : etag.replaceAll("^\"|\"$", ""));
        }
    }

    private static Problem problem(Reply reply) {
        return reply.body().length == 0 || reply.body()[0] != '{'
                ? Problem.of(ProblemCode.UNAVAILABLE, reply.service() + " answered " + reply.status(), "")
                : Json.read(reply.body(), Problem.class);
    }
}
