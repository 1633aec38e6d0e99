package tender.service.sync;

import java.util.List;
import tender.service.gateway.GatewayReading;
import tender.service.http.Route;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.reconcile.GatewayReconciler;
import tender.store.office.Gateways;

/** Bringing gateways and records together when somebody asks for it. */
public final class SyncModule implements NodeModule {
    private final Node node;
    private final Gateways gateways;
    private final GatewaySync sync;

    public SyncModule(Node node, Gateways gateways, GatewayReconciler reconciler, GatewayReading reading) {
        this.node = node;
        this.gateways = gateways;
        this.sync = new GatewaySync(reconciler, reading);
    }

    @Override
    public List<Route> routes() {
        return new SyncRoutes(node.db(), gateways).routes();
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(sync);
    }
}
