package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;

/** What a device answers over HTTP is read as far as 16 MiB and no further. */
class LimitedTest {
    private static final int MEBIBYTE = 1024 * 1024;

    private static byte[] asked(int mebibytes, int bytesMore, AtomicLong written) throws Exception {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", exchange -> {
            exchange.sendResponseHeaders(200, 0);
            try (OutputStream out = exchange.getResponseBody()) {
                for (int i = 0; i < mebibytes; i++) {
                    out.write(new byte[MEBIBYTE]);
                    written.addAndGet(MEBIBYTE);
                }
                out.write(new byte[bytesMore]);
            } catch (IOException e) {
                // the caller hung up, as it should
            }
        });
        server.start();
        try {
            URI uri = URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/");
            return Limited.send(
                            HttpClient.newHttpClient(),
                            HttpRequest.newBuilder(uri).build())
                    .body();
        } finally {
            server.stop(0);
        }
    }

    @Test
    void anAnswerOfTheGreatestSizeIsRead() throws Exception {
        assertThat(asked(16, 0, new AtomicLong())).hasSize(16 * MEBIBYTE);
    }

    @Test
    void aLongerOneIsRefusedAndNotReadToItsEnd() {
        assertThatThrownBy(() -> asked(16, 1, new AtomicLong()))
                .isInstanceOf(GatewayFailure.class)
                .hasRootCauseMessage("the answer is longer than is read");
        AtomicLong written = new AtomicLong();
        assertThatThrownBy(() -> asked(512, 0, written)).isInstanceOf(GatewayFailure.class);
        assertThat(written.get()).isLessThan(128L * MEBIBYTE);
    }
}
