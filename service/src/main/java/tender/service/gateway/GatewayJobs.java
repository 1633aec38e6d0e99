package tender.service.gateway;

import java.util.List;
import java.util.UUID;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.store.job.Jobs;

/** The two kinds of time-taking work on a gateway: reading it, and bringing it to what is wanted. */
public final class GatewayJobs {
    public static final String READ = "gateway-read";
    public static final String CHANGE = "gateway-change";
    public static final String SYNC = "gateway-sync";

    private GatewayJobs() {}

    public static Jobs.Order read(UUID gatewayId) {
        return Jobs.Order.once(READ, gatewayId.toString(), "gateway:" + gatewayId);
    }

    public static Jobs.Order change(UUID gatewayId) {
        return Jobs.Order.once(CHANGE, gatewayId.toString(), "gateway:" + gatewayId);
    }

    /** Brings everybody who is let in at a gateway to what the records say. */
    public static Jobs.Order sync(UUID gatewayId) {
        return Jobs.Order.once(SYNC, gatewayId.toString(), "gateway:" + gatewayId);
    }

    public static List<JobKind> kinds(GatewayReading reading, GatewayChanges changes) {
        return List.of(
                new JobKind() {
                    @Override
                    public String name() {
                        return READ;
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
                },
                new JobKind() {
                    @Override
                    public String name() {
                        return CHANGE;
                    }

                    @Override
                    public Lane lane() {
                        return Lane.INTERACTIVE;
                    }

                    @Override
                    public void run(Jobs.Job job, Progress progress) {
                        changes.run(UUID.fromString(job.payload()), progress::at);
                    }
                });
    }
}
