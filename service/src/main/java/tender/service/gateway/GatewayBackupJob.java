package tender.service.gateway;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.UUID;
import tender.service.job.JobKind;
import tender.service.job.Lane;
import tender.store.document.Document;
import tender.store.job.Jobs;

/** Reads a gateway because somebody wants a backup of it now. */
final class GatewayBackupJob implements JobKind {
    private static final String NAME = "gateway-backup";

    private record Asked(UUID gatewayId, String reason, String actor) {}

    private static final Document<Asked> ASKED = Document.of("a wanted backup", new TypeReference<>() {});

    private final GatewayReading reading;

    GatewayBackupJob(GatewayReading reading) {
        this.reading = reading;
    }

    static Jobs.Order order(UUID gatewayId, String reason, String actor) {
        return Jobs.Order.once(NAME, ASKED.write(new Asked(gatewayId, reason, actor)), "gateway:" + gatewayId)
                .attempts(1); // whoever wants it hears at once that it failed
    }

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public Lane lane() {
        return Lane.INTERACTIVE;
    }

    @Override
    public void run(Jobs.Job job, Progress progress) {
        Asked asked = ASKED.read(job.payload());
        progress.at(10, "reading");
        reading.read(asked.gatewayId(), asked.reason(), asked.actor());
    }
}
