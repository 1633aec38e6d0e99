package tender.service.backup;

import java.util.List;
import tender.service.http.Route;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.backup.Backups;

/** Snapshots of gateways. */
public final class BackupModule implements NodeModule {
    private final Node node;
    private final Backups backups;
    private final BackupKeeping keeping;

    public BackupModule(Node node) {
        this.node = node;
        this.backups = new Backups(node.cipher());
        this.keeping = new BackupKeeping(node.db(), backups);
    }

    public Backups backups() {
        return backups;
    }

    public BackupKeeping keeping() {
        return keeping;
    }

    @Override
    public List<Route> routes() {
        return new BackupRoutes(node.db(), backups).routes();
    }
}
