package tender.client.device;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.client.command.CallFailure;
import tender.core.credential.Secret;
import tender.core.provision.SigningKey;
import tender.core.wire.Sha256;
import tender.io.provision.ProvisioningFile;

/** A device believes a service whose certificate nobody public signed only where its provisioning file names it. */
class NamedAuthoritiesTest {
    private static final char[] PASSWORD = "keystore-password".toCharArray();

    @TempDir
    Path folder;

    private HttpsServer server;
    private String fingerprint;

    @BeforeEach
    void open() throws Exception {
        Path file = folder.resolve("tls.p12");
        assertThat(new ProcessBuilder(
                                "keytool",
                                "-genkeypair",
                                "-alias",
                                "tender",
                                "-keyalg",
                                "EC",
                                "-dname",
                                "CN=localhost",
                                "-ext",
                                "SAN=dns:localhost",
                                "-storetype",
                                "PKCS12",
                                "-keystore",
                                file.toString(),
                                "-storepass",
                                new String(PASSWORD),
                                "-validity",
                                "2")
                        .redirectErrorStream(true)
                        .redirectOutput(folder.resolve("log").toFile())
                        .start()
                        .waitFor(30, TimeUnit.SECONDS))
                .isTrue();
        KeyStore store = KeyStore.getInstance("PKCS12");
        try (InputStream in = Files.newInputStream(file)) {
            store.load(in, PASSWORD);
        }
        fingerprint = Sha256.hex(store.getCertificate("tender").getEncoded());
        KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        keys.init(store, PASSWORD);
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(keys.getKeyManagers(), null, null);
        server = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.setHttpsConfigurator(new HttpsConfigurator(context));
        server.createContext("/device", exchange -> {
            exchange.sendResponseHeaders(204, -1);
            exchange.close();
        });
        server.start();
    }

    @AfterEach
    void close() {
        server.stop(0);
    }

    private int status(String host, List<String> authorities) {
        ProvisioningFile file = new ProvisioningFile(
                List.of(URI.create("https://" + host + ":" + server.getAddress().getPort())),
                Secret.of("token"),
                Instant.now(),
                false,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                authorities);
        return new ServiceCalls(file, SigningKey.generate(new SecureRandom()), UUID.randomUUID())
                .send(ServiceCalls.Request.of("DELETE", "/device"))
                .status();
    }

    @Test
    void itIsBelievedWhereTheFileNamesIt() {
        assertThat(status("localhost", List.of("00".repeat(32), fingerprint))).isEqualTo(204);
    }

    @Test
    void itIsNotBelievedOtherwise() {
        for (List<String> authorities : List.of(List.<String>of(), List.of("00".repeat(32)))) {
            assertThatThrownBy(() -> status("localhost", authorities))
                    .isInstanceOf(CallFailure.class)
                    .hasMessageContaining("no answer from");
        }
        assertThatThrownBy(() -> status("127.0.0.1", List.of(fingerprint)))
                .as("a name that the certificate is not for")
                .isInstanceOf(CallFailure.class);
    }
}
