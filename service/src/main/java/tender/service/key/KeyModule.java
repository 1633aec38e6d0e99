package tender.service.key;

import java.util.List;
import java.util.concurrent.CompletableFuture;
import tender.service.event.LiveEvents;
import tender.service.http.Route;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.secret.KeyRotations;

/** The master key. */
public final class KeyModule implements NodeModule {
    private final Node node;
    private final MasterKeys keys;

    public KeyModule(Node node, MasterKeys keys) {
        this.node = node;
        this.keys = keys;
    }

    @Override
    public List<Route> routes() {
        return new KeyRoutes(node.db(), keys).routes();
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(new KeyRotationJob(node.db(), node.clock(), keys));
    }

    @Override
    public void heard(String topic, String id) {
        if (topic.equals(KeyRotations.TOPIC) || topic.equals(LiveEvents.RECONNECTED)) {
            CompletableFuture.runAsync(keys::heard);
        }
    }
}
