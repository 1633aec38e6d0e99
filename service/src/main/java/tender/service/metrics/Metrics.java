package tender.service.metrics;

import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.Timer;
import io.micrometer.core.instrument.binder.jvm.JvmMemoryMetrics;
import io.micrometer.core.instrument.binder.jvm.JvmThreadMetrics;
import io.micrometer.core.instrument.binder.system.ProcessorMetrics;
import io.micrometer.core.instrument.binder.system.UptimeMetrics;
import io.micrometer.prometheusmetrics.PrometheusConfig;
import io.micrometer.prometheusmetrics.PrometheusMeterRegistry;
import java.time.Duration;
import tender.store.jdbc.Db;

/**
 * Measures of one node. Labels have few values that our own code names: routes as the table of routes writes them, never an
 * address, a name or an id.
 */
public final class Metrics {
    private final PrometheusMeterRegistry registry = new PrometheusMeterRegistry(PrometheusConfig.DEFAULT);

    public Metrics() {
        new JvmMemoryMetrics().bindTo(registry);
        new JvmThreadMetrics().bindTo(registry);
        new ProcessorMetrics().bindTo(registry);
        new UptimeMetrics().bindTo(registry);
    }

    /** The connections of the database's pool. */
    public void watch(Db db) {
        Gauge.builder("tender.database.connections.busy", db, Db::busy).register(registry);
        Gauge.builder("tender.database.connections.open", db, Db::connections).register(registry);
        Gauge.builder("tender.database.callers.waiting", db, Db::waiting).register(registry);
    }

    /** @param route as the table of routes writes it */
    public void request(String method, String route, int status, Duration took) {
        Timer.builder("tender.requests")
                .tag("method", method)
                .tag("route", route)
                .tag("status", status / 100 + "xx")
                .register(registry)
                .record(took);
    }

    /** @param outcome done, retried, put off or failed */
    public void job(String lane, String kind, String outcome, Duration took) {
        Timer.builder("tender.jobs")
                .tag("lane", lane)
                .tag("kind", kind)
                .tag("outcome", outcome)
                .register(registry)
                .record(took);
    }

    /** @param outcome opened, or why not */
    public void connection(String connector, String outcome, Duration took) {
        Timer.builder("tender.management.connections")
                .tag("connector", connector)
                .tag("outcome", outcome)
                .register(registry)
                .record(took);
    }

    PrometheusMeterRegistry registry() {
        return registry;
    }
}
