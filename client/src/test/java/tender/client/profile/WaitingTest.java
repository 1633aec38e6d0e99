package tender.client.profile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tender.api.ProfileApi;
import tender.api.WatchApi;
import tender.client.command.CallFailure;
import tender.client.command.Calls;
import tender.client.command.Json;
import tender.client.command.Terminal;

/** A command that waits must end with what the job did, however the two answers it reads fall together. */
class WaitingTest {
    private static final String ID = "p1";

    private HttpServer service;
    private final AtomicBoolean jobEnded = new AtomicBoolean();
    private volatile boolean works = true;

    @BeforeEach
    void start() throws IOException {
        service = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        service.createContext("/api/v1/profiles/", x -> {
            byte[] body = Json.write(profile(jobEnded.get() && works ? "ready" : "writing"));
            jobEnded.set(true); // the job ends just after a profile was read
            x.sendResponseHeaders(200, body.length);
            x.getResponseBody().write(body);
            x.close();
        });
        service.createContext("/api/v1/jobs/", x -> {
            byte[] body = Json.write(job(jobEnded.get()));
            x.sendResponseHeaders(200, body.length);
            x.getResponseBody().write(body);
            x.close();
        });
        service.start();
    }

    @AfterEach
    void stop() {
        service.stop(0);
    }

    private static ProfileApi.Profile profile(String state) {
        Optional<String> none = Optional.empty();
        return new ProfileApi.Profile(
                ID,
                "mara-phone-pier2",
                "issued",
                state,
                none,
                none,
                none,
                none,
                "pier2",
                "tdr0",
                new ProfileApi.Identity("key", "K"),
                "held",
                List.of(),
                List.of(),
                false,
                List.of(),
                1,
                new ProfileApi.Proof("unknown", Optional.empty(), ""),
                false,
                Optional.empty(),
                none,
                none,
                List.of(),
                Instant.EPOCH,
                1);
    }

    private static WatchApi.Job job(boolean ended) {
        return new WatchApi.Job(
                "j1",
                "gateway-reconcile",
                Optional.of("pier2"),
                ended ? "done" : "running",
                50,
                ended ? "no answer" : "",
                1,
                Instant.EPOCH,
                ended ? Optional.of(Instant.EPOCH) : Optional.empty());
    }

    private int await() {
        Calls calls = new Calls("http://127.0.0.1:" + service.getAddress().getPort(), Optional.of("t"));
        return ProfileCommands.await(
                new Terminal(), calls, new ProfileApi.Issued(profile("writing"), Optional.of("j1")), "ready");
    }

    @Test
    void aJobThatEndsBetweenTwoAnswersIsNotTakenForAFailure() {
        assertThat(await()).isZero();
    }

    @Test
    void anEndedJobThatChangedNothingIsSaid() {
        works = false;

        assertThatThrownBy(this::await)
                .isInstanceOfSatisfying(
                        CallFailure.class, f -> assertThat(f.exitCode()).isEqualTo(3))
                .hasMessageContaining("no answer");
    }
}
