package tender.service.session;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import tender.service.device.DeviceModule;
import tender.service.http.Route;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.jdbc.Tx;
import tender.store.session.Sessions;

/** Who is connected. */
public final class SessionModule implements NodeModule {
    private final Node node;
    private final SessionPolling polling;

    public SessionModule(Node node, DeviceModule devices, Watch.Orders orders) {
        this.node = node;
        Watch watch = new Watch(node.db(), node.clock(), devices.gateways(), devices.connections()::open, orders);
        this.polling = new SessionPolling(
                node.db(),
                node.name(),
                watch,
                node.settings().watch(),
                node.settings().workers());
    }

    @Override
    public List<Route> routes() {
        return SessionRoutes.of(node.db());
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        Sessions.ensureMonth(tx, now);
    }

    @Override
    public void upkeep(Tx tx, Instant now) {
        Sessions.ensureMonth(tx, now);
        Sessions.ensureMonth(tx, now.plus(Duration.ofDays(20)));
    }

    @Override
    public void start() {
        polling.start();
    }

    @Override
    public void close() {
        polling.close();
    }
}
