package tender.service.collect;

import java.net.URI;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.settings.Settings;
import tender.store.jdbc.Tx;

/** The staff's page, and what happened at it. */
public final class CollectModule implements NodeModule {
    private final Node node;
    private final CollectionJournal collections;
    private final Optional<StaffPage> page;

    public CollectModule(Node node) {
        this.node = node;
        this.collections = new CollectionJournal(node.db(), node.clock());
        this.page = node.settings().staffRun() == Settings.StaffRun.HERE
                ? Optional.of(StaffPage.start(node.db(), node.clock(), node.settings(), collections::collected))
                : Optional.empty();
    }

    /** Where staff collect. */
    public URI url() {
        return node.settings().staff().url(page.map(StaffPage::port).orElse(0));
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(collections);
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        CollectionJournal.ensure(tx);
    }

    @Override
    public void close() {
        page.ifPresent(StaffPage::close);
    }
}
