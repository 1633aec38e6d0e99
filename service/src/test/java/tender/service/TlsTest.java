package tender.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.time.Clock;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.service.settings.SettingsReader;
import tender.store.testing.TestDatabase;

/** TLS served directly, the cookie that only a secure page gets, and whom forwarded addresses are believed from. */
class TlsTest {
    @TempDir
    Path folder;

    private TestDatabase database;
    private Service service;
    private HttpClient http;
    private SSLContext context;

    @BeforeEach
    void open() throws Exception {
        Path keystore = folder.resolve("tls.p12");
        new ProcessBuilder(
                        "keytool",
                        "-genkeypair",
                        "-alias",
                        "tender",
                        "-keyalg",
                        "EC",
                        "-dname",
                        "CN=localhost",
                        "-ext",
                        "SAN=dns:localhost,ip:127.0.0.1",
                        "-storetype",
                        "PKCS12",
                        "-keystore",
                        keystore.toString(),
                        "-storepass",
                        "keystore-password",
                        "-validity",
                        "2")
                .inheritIO()
                .start()
                .waitFor(30, TimeUnit.SECONDS);
        Files.writeString(folder.resolve("tls-password"), "keystore-password\n");
        database = TestDatabase.fresh();
        Map<String, String> env = new HashMap<>(database.settings());
        env.putAll(Map.of(
                "TENDER_DATA_FOLDER",
                folder.resolve("data").toString(),
                "TENDER_HTTP_PORT",
                "0",
                "TENDER_STAFF_PORT",
                "0",
                "TENDER_HTTP_BASE_URL",
                "https://tender.skerrivane.example",
                "TENDER_TLS_KEYSTORE",
                keystore.toString(),
                "TENDER_TLS_PASSWORD_FILE",
                folder.resolve("tls-password").toString(),
                "TENDER_TRUSTED_PROXY",
                "127.0.0.0/8"));
        service = Service.start(SettingsReader.read(Optional.empty(), env), Clock.systemUTC())
                .orElseThrow();
        KeyStore trusted = KeyStore.getInstance(keystore.toFile(), "keystore-password".toCharArray());
        TrustManagerFactory trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
        trust.init(trusted);
        context = SSLContext.getInstance("TLS");
        context.init(null, trust.getTrustManagers(), null);
        http = HttpClient.newBuilder().sslContext(context).build();
    }

    @AfterEach
    void close() throws Exception {
        service.close();
        database.close();
    }

    private HttpResponse<String> signIn(String name, String password, String forwarded) throws Exception {
        HttpRequest request = HttpRequest.newBuilder(
                        URI.create("https://localhost:" + service.port() + "/api/v1/sign-in"))
                .header("X-Forwarded-For", forwarded)
                .POST(HttpRequest.BodyPublishers.ofString(
                        "{\"name\":\"" + name + "\",\"password\":\"" + password + "\"}"))
                .build();
        return http.send(request, HttpResponse.BodyHandlers.ofString());
    }

    @Test
    void aSecurePageGetsACookieForThisHostAlone() throws Exception {
        HttpResponse<String> reply = signIn(
                "owner", Files.readString(folder.resolve("data/first-password")).strip(), "203.0.113.9");

        assertThat(reply.statusCode()).as(reply.body()).isEqualTo(200);
        assertThat(reply.headers().firstValue("Set-Cookie").orElseThrow())
                .startsWith("__Host-tender=")
                .contains("; Secure")
                .contains("Path=/");
        assertThat(reply.headers().firstValue("Strict-Transport-Security")).isPresent();
    }

    @Test
    void guessesAreCountedPerForwardedAddressWhenTheProxyIsTrusted() throws Exception {
        for (int i = 0; i < 30; i++) {
            assertThat(signIn("name" + i, "wrong-password", "198.51.100.1, 203.0.113.9")
                            .statusCode())
                    .isEqualTo(401);
        }
        assertThat(signIn("another", "wrong-password", "203.0.113.9").statusCode())
                .as("the same source")
                .isEqualTo(429);
        assertThat(signIn("another", "wrong-password", "203.0.113.10").statusCode())
                .as("somebody else")
                .isEqualTo(401);
    }

    @Test
    void oldWaysOfEncryptingAreNotOffered() throws Exception {
        assertThat(shakesHands("TLSv1.2", "TLS_ECDHE_ECDSA_WITH_AES_256_GCM_SHA384"))
                .isTrue();
        assertThat(shakesHands("TLSv1.3", "TLS_AES_256_GCM_SHA384")).isTrue();
        assertThat(shakesHands("TLSv1.2", "TLS_ECDHE_ECDSA_WITH_AES_256_CBC_SHA384"))
                .isFalse();
        assertThat(shakesHands("TLSv1.2", "TLS_ECDHE_ECDSA_WITH_AES_128_CBC_SHA256"))
                .isFalse();
    }

    private boolean shakesHands(String version, String suite) throws IOException {
        try (SSLSocket socket = (SSLSocket) context.getSocketFactory().createSocket("127.0.0.1", service.port())) {
            socket.setEnabledProtocols(new String[] {version});
            socket.setEnabledCipherSuites(new String[] {suite});
            socket.startHandshake();
            return true;
        } catch (SSLException e) {
            return false;
        }
    }
}
