package tender.service.metrics;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.store.jdbc.Db;
import tender.store.jdbc.StoreException;

/**
 * Serves {@code /metrics} in Prometheus' text format on an address of its own, to whoever reaches it: that address belongs into
 * the network of the monitoring. One collection at a time.
 */
public final class MetricsPort implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(MetricsPort.class);
    private static final String TEXT = "text/plain; version=0.0.4; charset=utf-8";
    private static final int BACKLOG = 8;

    private final Metrics metrics;
    private final FleetMetrics fleet;
    private final HttpServer server;
    private final ExecutorService thread = Executors.newSingleThreadExecutor(task -> {
        Thread t = new Thread(task, "metrics");
        t.setDaemon(true);
        return t;
    });

    private MetricsPort(InetSocketAddress at, Db db, Metrics metrics) throws IOException {
        this.metrics = metrics;
        this.fleet = new FleetMetrics(db, metrics);
        this.server = HttpServer.create(at, BACKLOG);
        server.setExecutor(thread);
        server.createContext("/metrics", this::answer);
        server.start();
    }

    /** @throws IOException where the address is taken */
    public static MetricsPort start(InetSocketAddress at, Db db, Metrics metrics) throws IOException {
        return new MetricsPort(at, db, metrics);
    }

    public int port() {
        return server.getAddress().getPort();
    }

    private void answer(HttpExchange exchange) throws IOException {
        try (exchange) {
            if (!exchange.getRequestURI().getPath().equals("/metrics")
                    || !exchange.getRequestMethod().equals("GET")) {
                exchange.sendResponseHeaders(404, -1);
                return;
            }
            try {
                fleet.count();
            } catch (StoreException e) {
                LOG.warn("the fleet cannot be counted now: {}", e.getMessage()); // the node's own measures still stand
            }
            byte[] text = metrics.registry().scrape().getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().set("Content-Type", TEXT);
            exchange.sendResponseHeaders(200, text.length);
            exchange.getResponseBody().write(text);
        }
    }

    @Override
    public void close() {
        server.stop(0);
        thread.shutdownNow();
    }
}
