package tender.service.metrics;

import io.micrometer.core.instrument.MultiGauge;
import io.micrometer.core.instrument.Tags;
import java.util.List;
import tender.store.jdbc.Db;
import tender.store.overview.FleetCounts;

/** Measures of the whole installation, counted in the database when they are collected: the same on each node. */
final class FleetMetrics {
    private final Db db;
    private final MultiGauge jobs;
    private final MultiGauge trials;
    private final MultiGauge findings;
    private final MultiGauge gateways;

    FleetMetrics(Db db, Metrics metrics) {
        this.db = db;
        this.jobs = MultiGauge.builder("tender.fleet.jobs").register(metrics.registry());
        this.trials = MultiGauge.builder("tender.fleet.trials.hour").register(metrics.registry());
        this.findings = MultiGauge.builder("tender.fleet.findings").register(metrics.registry());
        this.gateways = MultiGauge.builder("tender.fleet.gateways").register(metrics.registry());
    }

    void count() {
        FleetCounts.All all = db.inTransaction(FleetCounts::of);
        put(jobs, all.jobs(), "kind", "state");
        put(trials, all.trials(), "vantage", "result");
        put(findings, all.findings(), "severity", "accepted");
        put(gateways, all.gateways(), "state", "read_only");
    }

    private static void put(MultiGauge gauge, List<FleetCounts.Count> counts, String one, String other) {
        gauge.register(
                counts.stream()
                        .map(c -> MultiGauge.Row.of(Tags.of(one, c.one(), other, c.other()), c.n()))
                        .toList(),
                true);
    }
}
