package tender.service.departure;

import java.time.Instant;
import java.util.List;
import tender.service.device.DeviceModule;
import tender.service.http.Route;
import tender.service.job.JobKind;
import tender.service.job.JobWaits;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.OfficeRecords;
import tender.service.profile.Withdrawing;
import tender.service.trial.RefusalProof;
import tender.store.jdbc.Tx;

/** People who leave and devices that are lost. */
public final class DepartureModule implements NodeModule {
    private final Node node;
    private final RefusalProof proof;
    private final JobWaits waits;
    private final Departing departing;

    public DepartureModule(
            Node node,
            DeviceModule devices,
            OfficeRecords records,
            Withdrawing withdrawing,
            RefusalProof proof,
            JobWaits waits) {
        this.node = node;
        this.proof = proof;
        this.waits = waits;
        this.departing = new Departing(node.db(), devices.gateways(), records, withdrawing);
    }

    @Override
    public List<Route> routes() {
        return new DepartureRoutes(node.db(), departing, waits).routes();
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(new RefusalCheck(node.db(), node.clock(), proof));
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        RefusalCheck.ensure(tx);
    }
}
