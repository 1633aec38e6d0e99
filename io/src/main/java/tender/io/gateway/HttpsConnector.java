package tender.io.gateway;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executor;
import java.util.concurrent.Executors;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509ExtendedTrustManager;
import tender.core.wire.Sha256;
import tender.io.names.NameService;

/**
 * Manages gateways over HTTPS by the gateway API ({@code docs/gateway-api.yaml}). The device's certificate is pinned by
 * its SHA-256 digest, so it may be self-signed and of any name.
 */
public final class HttpsConnector implements Connector {
    private static final Duration CONNECT_TIMEOUT = Duration.ofSeconds(8);
    private static final int THREADS = 4;

    private final NameService names;
    private final CallableAddresses callable;
    private final Map<String, HttpClient> clients = new ConcurrentHashMap<>();
    private final Executor threads = Executors.newFixedThreadPool(THREADS, task -> {
        Thread thread = new Thread(task, "gateway-api-calls");
        thread.setDaemon(true);
        return thread;
    });

    public HttpsConnector(NameService names, CallableAddresses callable) {
        this.names = names;
        this.callable = callable;
    }

    @Override
    public String identity(Target target) {
        Pin any = new Pin(Optional.empty());
        InetSocketAddress place = callable.resolve(names, target);
        try {
            Limited.send(
                    client(any),
                    HttpRequest.newBuilder(URI.create(base(place) + "clock")).build());
        } catch (GatewayFailure e) {
            // signing in is not meant to succeed here; the certificate was shown before it
        }
        return any.shown.orElseThrow(() -> new GatewayFailure(
                GatewayFailure.Kind.UNREACHABLE,
                "no HTTPS answer from " + target.host() + " port " + target.port(),
                null));
    }

    @Override
    public ManagementConnection open(Target target) {
        InetSocketAddress place = callable.resolve(names, target);
        String pinned = target.identity().orElseThrow(() -> new IllegalStateException("no identity to compare"));
        HttpClient client = clients.computeIfAbsent(pinned, p -> client(new Pin(Optional.of(p))));
        return new GatewayApiConnection(client, base(place), target);
    }

    private static String base(InetSocketAddress place) {
        String host = place.getAddress().getHostAddress();
        return "https://" + (host.indexOf(':') >= 0 ? "[" + host + "]" : host) + ":" + place.getPort()
                + "/gateway-api/v1/";
    }

    private HttpClient client(Pin pin) {
        try {
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, new TrustManager[] {pin}, null);
            return HttpClient.newBuilder()
                    .sslContext(context)
                    .version(HttpClient.Version.HTTP_1_1)
                    .connectTimeout(CONNECT_TIMEOUT)
                    .followRedirects(HttpClient.Redirect.NEVER)
                    .executor(threads)
                    .build();
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has TLS", e);
        }
    }

    @Override
    public void close() {
        clients.clear();
    }

    /** Trusts one certificate by its digest, whoever signed it and whatever it is called. */
    static final class Pin extends X509ExtendedTrustManager {
        private final Optional<String> expected;
        private volatile Optional<String> shown = Optional.empty();

        Pin(Optional<String> expected) {
            this.expected = expected;
        }

        private void check(X509Certificate[] chain) throws CertificateException {
            String digest = digest(chain[0]);
            shown = Optional.of(digest);
            if (expected.isPresent() && !MessageDigest.isEqual(expected.get().getBytes(), digest.getBytes())) {
                throw new OtherIdentity(digest);
            }
        }

        static String digest(X509Certificate certificate) throws CertificateException {
            return "SHA256:" + Base64.getEncoder().withoutPadding().encodeToString(Sha256.of(certificate.getEncoded()));
        }

        @Override
        public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket)
                throws CertificateException {
            check(chain);
        }

        @Override
        public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
                throws CertificateException {
            check(chain);
        }

        @Override
        public void checkServerTrusted(X509Certificate[] chain, String type) throws CertificateException {
            check(chain);
        }

        @Override
        public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket)
                throws CertificateException {
            throw new CertificateException("no client is taken");
        }

        @Override
        public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine)
                throws CertificateException {
            throw new CertificateException("no client is taken");
        }

        @Override
        public void checkClientTrusted(X509Certificate[] chain, String type) throws CertificateException {
            throw new CertificateException("no client is taken");
        }

        @Override
        public X509Certificate[] getAcceptedIssuers() {
            return new X509Certificate[0];
        }
    }

    /** The device shows another certificate than the accepted one. */
    static final class OtherIdentity extends CertificateException {
        private static final long serialVersionUID = 1L;

        OtherIdentity(String shown) {
            super(shown);
        }

        /** Found among the causes of a failed call. */
        static Optional<String> in(Throwable failure) {
            for (Throwable t = failure; t != null; t = t.getCause()) {
                if (t instanceof OtherIdentity other) {
                    return Optional.of(other.getMessage());
                }
            }
            return Optional.empty();
        }
    }

    /** What a call failed of, as told to people. */
    static GatewayFailure failure(Target target, IOException e) {
        Optional<String> other = OtherIdentity.in(e);
        if (other.isPresent()) {
            return new GatewayFailure(
                    GatewayFailure.Kind.IDENTITY_CHANGED,
                    target.host() + " shows another certificate than the accepted one: " + other.get(),
                    e);
        }
        return new GatewayFailure(
                GatewayFailure.Kind.UNREACHABLE, "no HTTPS answer from " + target.host() + " port " + target.port(), e);
    }
}
