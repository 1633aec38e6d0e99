package tender.service.provision;

import java.net.URI;
import java.util.List;
import java.util.function.Supplier;
import tender.service.device.DeviceModule;
import tender.service.handout.DeviceContent;
import tender.service.http.Route;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.OfficeRecords;
import tender.service.profile.ProfileModule;

/** Provisioning files, and devices that keep themselves current. */
public final class ProvisionModule implements NodeModule {
    private final Node node;
    private final Provisioning provisioning;
    private final DeviceKeeper keeper;
    private final Supplier<URI> staffUrl;

    public ProvisionModule(
            Node node,
            DeviceModule devices,
            OfficeRecords records,
            ProfileModule profiles,
            DeviceContent content,
            Supplier<URI> staffUrl) {
        this.node = node;
        this.provisioning = new Provisioning(node, devices.gateways(), records);
        this.keeper = new DeviceKeeper(
                node.db(),
                node.clock(),
                node.name(),
                new Joining(node.db(), profiles.kept()),
                profiles.kept(),
                content);
        this.staffUrl = staffUrl;
    }

    @Override
    public List<Route> routes() {
        return new ProvisionRoutes(node.db(), provisioning, staffUrl).routes();
    }

    @Override
    public void start() {
        keeper.start();
    }

    @Override
    public void heard(String topic, String id) {
        keeper.heard(topic, id);
    }

    @Override
    public void close() {
        keeper.close();
    }
}
