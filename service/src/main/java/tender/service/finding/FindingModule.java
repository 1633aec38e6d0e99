package tender.service.finding;

import java.util.List;
import tender.service.http.Route;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.OfficeRecords;

/** Findings, kept up to date. */
public final class FindingModule implements NodeModule {
    private final Node node;
    private final FindingKeeper keeper;
    private final FindingsList findings;

    public FindingModule(Node node, OfficeRecords records) {
        this.node = node;
        this.keeper = new FindingKeeper(node.db(), node.name(), new Judging(node.db(), node.clock(), records));
        this.findings = new FindingsList(node.db(), keeper);
    }

    public FindingsList findings() {
        return findings;
    }

    @Override
    public List<Route> routes() {
        return new FindingRoutes(node.db(), findings).routes();
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
