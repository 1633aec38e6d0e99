package tender.service.gateway;

import java.util.List;
import tender.service.backup.BackupKeeping;
import tender.service.device.DeviceModule;
import tender.service.device.Recognising;
import tender.service.http.Route;
import tender.service.http.Routes;
import tender.service.job.JobKind;
import tender.service.job.JobWaits;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.RecordsModule;

/** Gateways: their records, and reading them. */
public final class GatewayModule implements NodeModule {
    private final Node node;
    private final DeviceModule devices;
    private final RecordsModule office;
    private final JobWaits waits;
    private final Recognising recognising;
    private final GatewayReading reading;
    private final ManualGateways manual;

    public GatewayModule(
            Node node,
            DeviceModule devices,
            RecordsModule office,
            BackupKeeping backups,
            List<GatewayReading.Conclusion> conclusions,
            JobWaits waits) {
        this.node = node;
        this.devices = devices;
        this.office = office;
        this.waits = waits;
        this.recognising = devices.recognising();
        this.reading = new GatewayReading(
                node.db(),
                node.clock(),
                devices.gateways(),
                devices.connections(),
                devices.descriptions(),
                backups,
                office.records(),
                recognising,
                conclusions);
        this.manual = new ManualGateways(node.db(), node.clock(), devices.gateways(), office.records(), reading);
    }

    public ManualGateways manual() {
        return manual;
    }

    public GatewayReading reading() {
        return reading;
    }

    @Override
    public List<Route> routes() {
        return Routes.of(
                new GatewayRoutes(
                        node.db(),
                        devices.gateways(),
                        devices.descriptions(),
                        reading,
                        office.lookups(),
                        devices.connections(),
                        manual),
                new ManualGatewayRoutes(node.db(), devices.gateways(), manual, devices.descriptions()),
                new GatewayReadingRoutes(node.db(), devices.gateways(), devices.descriptions(), recognising, waits),
                new GivenFilesRoutes(node.db(), devices.gateways(), devices.descriptions(), devices.given()));
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(new GatewayReadJob(reading), new GatewayBackupJob(reading));
    }
}
