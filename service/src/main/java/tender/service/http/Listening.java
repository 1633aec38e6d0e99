package tender.service.http;

import io.javalin.config.JavalinConfig;
import java.net.InetSocketAddress;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.eclipse.jetty.http.HttpVersion;
import org.eclipse.jetty.io.Connection;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.SecureRequestCustomizer;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.SslConnectionFactory;
import org.eclipse.jetty.util.ssl.KeyStoreScanner;
import org.eclipse.jetty.util.ssl.SslContextFactory;
import org.eclipse.jetty.util.thread.QueuedThreadPool;
import tender.api.Problem;
import tender.api.ProblemCode;
import tender.core.credential.RevealSecret;
import tender.core.network.IpAddress;
import tender.service.settings.Settings;

/**
 * Where a web listener listens and what bounds it, with TLS where a keystore is set; a changed keystore counts without a
 * restart.
 */
public final class Listening {
    private static final int SCAN_SECONDS = 30;
    private static final int IDLE_MILLIS = 30_000;
    private static final int MAX_THREADS = 64;

    private final Settings.Web web;
    private final Optional<Settings.Tls> tls;
    private final Source source;
    private final int small;
    private final int large;
    private final Function<Request, Optional<String>> signIn;

    private Listening(
            Settings.Web web,
            Optional<Settings.Tls> tls,
            Source source,
            int small,
            int large,
            Function<Request, Optional<String>> signIn) {
        this.web = web;
        this.tls = tls;
        this.source = source;
        this.small = small;
        this.large = large;
        this.signIn = signIn;
    }

    /** The staff's page: strangers only, small bodies only. */
    public static void staff(JavalinConfig config, Settings settings) {
        new Listening(
                        settings.staff(),
                        settings.tls(),
                        new Source(settings.trustedProxy()),
                        Limits.STAFF_BODY,
                        Limits.STAFF_BODY,
                        request -> Optional.empty())
                .apply(config);
    }

    /** The console and the API; {@code gate} knows whose sign-in a large body comes with. */
    public static void console(JavalinConfig config, Settings settings, Gate gate) {
        new Listening(
                        settings.console(),
                        settings.tls(),
                        new Source(settings.trustedProxy()),
                        Limits.SMALL_BODY,
                        Limits.LARGE_BODY,
                        gate::signInOf)
                .apply(config);
    }

    private void apply(JavalinConfig config) {
        config.http.maxRequestSize = large;
        config.jetty.threadPool = new QueuedThreadPool(MAX_THREADS, 4);
        config.jetty.modifyHttpConfiguration(http -> {
            http.setSendServerVersion(false);
            http.setRequestHeaderSize(16 * 1024);
            http.setHeaderCacheSize(0); // it takes 30 KiB of each connection, and thousands of devices wait on one each
        });
        config.jetty.modifyServer(server -> {
            server.setHandler(new Bodies(small, large, signIn));
            server.setErrorHandler((request, response, callback) -> {
                Bodies.write(response, callback, problem(response.getStatus()));
                return true;
            });
        });
        config.jetty.addConnector(this::connector);
    }

    /** What the web server itself refuses, before any route is found. */
    private static Problem problem(int status) {
        ProblemCode code = status == 413
                ? ProblemCode.TOO_LARGE
                : status == 408
                        ? ProblemCode.BODY_TOO_SLOW
                        : status == 404
                                ? ProblemCode.NOT_FOUND
                                : status >= 500 ? ProblemCode.FAILED : ProblemCode.MALFORMED;
        Problem plain = Problem.of(code, status >= 500 ? "a fault in Tender" : "the request cannot be read", "");
        return new Problem(
                plain.type(), plain.title(), status, plain.code(), plain.detail(), plain.place(), plain.remedy());
    }

    private ServerConnector connector(Server server, HttpConfiguration http) {
        ServerConnector connector = tls.map(t -> secure(server, http, t))
                .orElseGet(() -> new ServerConnector(server, new HttpConnectionFactory(http)));
        connector.setHost(web.bind().toString());
        connector.setPort(web.port());
        connector.setIdleTimeout(IDLE_MILLIS);
        connector.addBean(new PerSource());
        return connector;
    }

    private static ServerConnector secure(Server server, HttpConfiguration http, Settings.Tls tls) {
        SslContextFactory.Server context = new SslContextFactory.Server();
        context.setKeyStorePath(tls.keystore().toString());
        context.setKeyStoreType("PKCS12");
        context.setKeyStorePassword(tls.password().revealText(RevealSecret.TO_SIGN_IN));
        context.setIncludeProtocols("TLSv1.2", "TLSv1.3");
        context.addExcludeCipherSuites("^.*_CBC_.*$");
        KeyStoreScanner scanner = new KeyStoreScanner(context);
        scanner.setScanInterval(SCAN_SECONDS);
        server.addBean(scanner);
        HttpConfiguration secure = new HttpConfiguration(http);
        secure.addCustomizer(new SecureRequestCustomizer(false));
        return new ServerConnector(
                server,
                new SslConnectionFactory(context, HttpVersion.HTTP_1_1.asString()),
                new HttpConnectionFactory(secure));
    }

    /** Closes what one source opens beyond its share. A trusted proxy bounds its own callers. */
    private final class PerSource implements Connection.Listener {
        private final Map<String, Integer> open = new HashMap<>();
        /** Whose each connection is: one that is closed does not tell any more. */
        private final Map<Connection, String> sources = new IdentityHashMap<>();

        @Override
        public void onOpened(Connection connection) {
            String from = from(connection);
            if (!from.isEmpty() && !count(connection, from)) {
                connection.close();
            }
        }

        @Override
        public void onClosed(Connection connection) {
            synchronized (open) {
                String from = sources.remove(connection);
                if (from != null) {
                    open.computeIfPresent(from, (k, n) -> n == 1 ? null : n - 1);
                }
            }
        }

        private boolean count(Connection connection, String from) {
            synchronized (open) {
                sources.put(connection, from);
                return open.merge(from, 1, Integer::sum) <= Limits.CONNECTIONS_PER_SOURCE;
            }
        }

        private String from(Connection connection) {
            if (!(connection.getEndPoint().getRemoteSocketAddress() instanceof InetSocketAddress address)
                    || address.getAddress() == null) {
                return "";
            }
            IpAddress ip = IpAddress.ofBytes(address.getAddress().getAddress());
            return source.trusts(ip) ? "" : Source.counted(ip.toString());
        }
    }
}
