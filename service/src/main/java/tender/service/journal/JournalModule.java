package tender.service.journal;

import java.time.Instant;
import java.util.List;
import tender.service.http.Route;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.jdbc.Tx;

/** The journal, and its head kept elsewhere. */
public final class JournalModule implements NodeModule {
    private final Node node;
    private final JournalHead heads;

    public JournalModule(Node node) {
        this.node = node;
        this.heads = new JournalHead(node.db(), node.clock(), node.name(), node.settings());
    }

    @Override
    public List<Route> routes() {
        return new JournalRoutes(node.db()).routes();
    }

    @Override
    public List<JobKind> jobs() {
        return heads.kinds();
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        heads.ensure(tx);
    }
}
