package tender.service.office;

import java.time.Instant;
import java.util.List;
import tender.io.names.NameService;
import tender.service.device.DeviceDescriptions;
import tender.service.http.Route;
import tender.service.job.JobKind;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.store.jdbc.Tx;
import tender.store.office.Gateways;

/** The office as the records say, the sheet of its networks, and what its names lead to. */
public final class RecordsModule implements NodeModule {
    private final Node node;
    private final OfficeRecords records;
    private final NameLookups lookups;

    public RecordsModule(Node node, Gateways gateways, DeviceDescriptions descriptions, NameService names) {
        this.node = node;
        this.records = new OfficeRecords(node.db(), gateways, descriptions);
        this.lookups = new NameLookups(node.db(), node.clock(), records, names);
    }

    public OfficeRecords records() {
        return records;
    }

    public NameLookups lookups() {
        return lookups;
    }

    @Override
    public List<Route> routes() {
        return new SheetRoutes(node.db(), records).routes();
    }

    @Override
    public List<JobKind> jobs() {
        return List.of(lookups);
    }

    @Override
    public void ensure(Tx tx, Instant now) {
        NameLookups.ensure(tx, node.settings().nameLookups());
    }
}
