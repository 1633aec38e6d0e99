package tender.service.monitor;

import java.util.List;
import tender.io.names.NameService;
import tender.service.alert.Alerts;
import tender.service.http.Route;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.trial.CanaryTrials;

/** Trials on a schedule, and word of what changed. */
public final class MonitorModule implements NodeModule {
    private final Node node;
    private final CanaryTrials trials;
    private final Alerts alerts;

    public MonitorModule(Node node, CanaryTrials trials, NameService names) {
        this.node = node;
        this.trials = trials;
        this.alerts = new Alerts(node.clock(), node.settings().alerts(), names);
    }

    @Override
    public List<Route> routes() {
        return new MonitorRoutes(node.db()).routes();
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(new MonitorJob(node.db(), node.clock(), trials, alerts), alerts);
    }
}
