package tender.service.reconcile;

import java.time.Instant;
import java.util.List;
import tender.service.backup.BackupKeeping;
import tender.service.certificate.CertificateModule;
import tender.service.device.DeviceModule;
import tender.service.gateway.GatewayJobs;
import tender.service.gateway.GatewayReading;
import tender.service.job.JobKind;
import tender.service.job.JobWaits;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.credential.Credentials;
import tender.store.jdbc.Tx;
import tender.store.reconcile.DesiredResources;
import tender.store.reconcile.WriterLeases;

/** What is wanted at gateways, and the one way in which it gets there. */
public final class ReconcileModule implements NodeModule {
    private final Node node;
    private final GatewayReconciler reconciler;
    private final ReconcileWaits waits;

    public ReconcileModule(
            Node node,
            DeviceModule devices,
            BackupKeeping backups,
            GatewayReading reading,
            Credentials credentials,
            CertificateModule signing,
            JobWaits waits) {
        this.node = node;
        this.reconciler = new GatewayReconciler(
                node.db(),
                node.clock(),
                node.name(),
                node.installation(),
                devices.gateways(),
                credentials,
                devices.connections(),
                backups,
                reading,
                signing.writes());
        this.waits = new ReconcileWaits(node.db(), waits);
    }

    public GatewayReconciler reconciler() {
        return reconciler;
    }

    public ReconcileWaits waits() {
        return waits;
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(reconciler);
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        WriterLeases.lapse(tx, node.name());
        DesiredResources.gatewaysDue(tx).forEach(gatewayId -> GatewayJobs.reconcile(tx, gatewayId));
    }

    @Override
    public void close() {
        reconciler.close();
    }
}
