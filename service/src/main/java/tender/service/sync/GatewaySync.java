package tender.service.sync;

import java.util.UUID;
import tender.service.gateway.GatewayJobs;
import tender.service.gateway.GatewayReading;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.service.reconcile.GatewayReconciler;
import tender.store.job.Jobs;

/** Compares a gateway with the records, writes what differs, and reads it again. */
final class GatewaySync implements JobKind {
    private final GatewayReconciler reconciler;
    private final GatewayReading reading;

    GatewaySync(GatewayReconciler reconciler, GatewayReading reading) {
        this.reconciler = reconciler;
        this.reading = reading;
    }

    @Override
    public String name() {
        return GatewayJobs.SYNC;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        UUID gatewayId = UUID.fromString(job.payload());
        reconciler.sync(gatewayId, progress);
        reading.read(gatewayId, "after a sync", "tender");
    }
}
