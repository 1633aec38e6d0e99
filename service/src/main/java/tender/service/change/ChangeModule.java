package tender.service.change;

import java.time.Instant;
import java.util.List;
import tender.service.certificate.Signing;
import tender.service.device.DeviceModule;
import tender.service.finding.FindingsList;
import tender.service.gateway.GatewayReading;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobKind;
import tender.service.job.JobWaits;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.OfficeRecords;
import tender.service.profile.ByHand;
import tender.service.reconcile.GatewayReconciler;
import tender.service.trial.CanaryTrials;
import tender.store.backup.Backups;
import tender.store.jdbc.Tx;

/** Changes of gateways' settings, and listeners' certificates. */
public final class ChangeModule implements NodeModule {
    private final Node node;
    private final DeviceModule devices;
    private final OfficeRecords records;
    private final FindingsList findings;
    private final Signing signing;
    private final JobWaits waits;
    private final ChangeOrdering ordering;
    private final ChangeSteps steps;

    public ChangeModule(
            Node node,
            DeviceModule devices,
            OfficeRecords records,
            ByHand byHand,
            GatewayReading reading,
            Backups backups,
            CanaryTrials trials,
            GatewayReconciler reconciler,
            FindingsList findings,
            Signing signing,
            JobWaits waits) {
        this.node = node;
        this.devices = devices;
        this.records = records;
        this.findings = findings;
        this.signing = signing;
        this.waits = waits;
        this.ordering = new ChangeOrdering(node.db(), records, byHand);
        this.steps = new ChangeSteps(
                node.db(),
                node.clock(),
                devices.connections(),
                reading,
                backups,
                trials,
                reconciler,
                node.settings().guard());
    }

    @Override
    public List<Route> routes() {
        ChangeRoutes changes =
                new ChangeRoutes(node.db(), devices.gateways(), records, devices.connections(), ordering, waits);
        return Routes.of(
                changes,
                new ChangeSetRoutes(
                        node.db(), devices.gateways(), records, new ChangeSetOrdering(node.db(), records, ordering)),
                new ListenerCertificateRoutes(node.db(), devices.gateways(), records, changes, waits),
                new FixRoutes(node.db(), devices.gateways(), findings, changes, ordering));
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(
                new ChangeWork(node.db(), node.clock(), steps),
                new ChangeSetWork(node.db(), node.clock(), steps),
                new ListenerRemoval(node.db(), node.clock(), devices.gateways(), ordering),
                new ListenerCertificateJob(
                        node.db(), node.clock(), devices.gateways(), devices.connections(), signing, ordering));
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        ChangeWork.ensure(tx, now);
        ChangeSetWork.ensure(tx);
        ListenerRemoval.ensure(tx, node.settings().nameLookups());
    }
}
