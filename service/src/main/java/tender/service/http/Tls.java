package tender.service.http;

import io.javalin.config.JavalinConfig;
import java.util.Optional;
import org.eclipse.jetty.http.HttpVersion;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.SecureRequestCustomizer;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.SslConnectionFactory;
import org.eclipse.jetty.util.ssl.KeyStoreScanner;
import org.eclipse.jetty.util.ssl.SslContextFactory;
import tender.core.credential.RevealSecret;
import tender.service.settings.Settings;

/** Where a web listener listens, with TLS where a keystore is set; a changed keystore is taken up without a restart. */
public final class Tls {
    private static final int SCAN_SECONDS = 30;

    private Tls() {}

    public static void listen(JavalinConfig config, Settings.Web web, Optional<Settings.Tls> tls) {
        config.jetty.modifyHttpConfiguration(http -> {
            http.setSendServerVersion(false);
            http.setRequestHeaderSize(16 * 1024);
        });
        if (tls.isEmpty()) {
            config.jetty.host = web.bind().toString();
            config.jetty.port = web.port();
            return;
        }
        config.jetty.addConnector((server, http) -> {
            SslContextFactory.Server context = new SslContextFactory.Server();
            context.setKeyStorePath(tls.get().keystore().toString());
            context.setKeyStoreType("PKCS12");
            context.setKeyStorePassword(tls.get().password().revealText(RevealSecret.TO_SIGN_IN));
            context.setIncludeProtocols("TLSv1.2", "TLSv1.3");
            KeyStoreScanner scanner = new KeyStoreScanner(context);
            scanner.setScanInterval(SCAN_SECONDS);
            server.addBean(scanner);
            HttpConfiguration secure = new HttpConfiguration(http);
            secure.addCustomizer(new SecureRequestCustomizer(false));
            ServerConnector connector = new ServerConnector(
                    server,
                    new SslConnectionFactory(context, HttpVersion.HTTP_1_1.asString()),
                    new HttpConnectionFactory(secure));
            connector.setHost(web.bind().toString());
            connector.setPort(web.port());
            return connector;
        });
    }
}
