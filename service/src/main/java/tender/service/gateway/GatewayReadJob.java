package tender.service.gateway;

import java.util.UUID;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.store.job.Jobs;

/** Reads a gateway. */
final class GatewayReadJob implements JobKind {
    private final GatewayReading reading;

    GatewayReadJob(GatewayReading reading) {
        this.reading = reading;
    }

    @Override
    public String name() {
        return GatewayJobs.READ;
    }

    @Override
    public Lane lane() {
        return Lane.GATEWAY;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        progress.at(10, "reading");
        reading.read(UUID.fromString(job.payload()), "when read", "tender");
    }
}
