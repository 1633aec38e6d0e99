package tender.service.reconcile;

import java.time.Duration;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletionException;
import tender.io.gateway.GatewayFailure;
import tender.service.gateway.GatewayJobs;
import tender.service.job.JobWaits;
import tender.store.jdbc.Db;
import tender.store.job.JobState;
import tender.store.job.Jobs;
import tender.store.reconcile.DesiredResources;

/** Lets work of other kinds wait until what is wanted at a gateway is active. */
public final class ReconcileWaits {
    private static final Duration LONGEST = Duration.ofSeconds(90);

    private final Db db;
    private final JobWaits jobs;

    ReconcileWaits(Db db, JobWaits jobs) {
        this.db = db;
        this.jobs = jobs;
    }

    /**
     * Orders what is due at a gateway and waits for it. Not for a job of that gateway, which would wait for itself.
     *
     * @throws GatewayFailure where the gateway cannot be reached or takes too long, in its words
     */
    public void untilActive(UUID gatewayId) {
        Optional<UUID> order =
                db.inTransaction(tx -> DesiredResources.due(tx, gatewayId).isEmpty()
                        ? Optional.empty()
                        : Optional.of(GatewayJobs.reconcile(tx, gatewayId)));
        if (order.isEmpty()) {
            return;
        }
        Jobs.Job job;
        try {
            job = jobs.ended(order.get(), LONGEST).join();
        } catch (CancellationException | CompletionException e) {
            throw new GatewayFailure(GatewayFailure.Kind.UNREACHABLE, "the service stops", e);
        }
        if (job.state() != JobState.DONE) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.COMMAND_FAILED,
                    job.note().isEmpty() ? "the gateway did not take in time what is wanted" : job.note(),
                    null);
        }
    }
}
