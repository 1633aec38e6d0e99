package tender.service.handout;

import java.net.URI;
import java.time.Instant;
import java.util.List;
import java.util.function.Supplier;
import tender.service.http.Route;
import tender.service.node.Node;
import tender.service.node.NodeModule;
import tender.service.office.OfficeRecords;
import tender.service.profile.ProfileModule;
import tender.store.handout.Handouts;
import tender.store.jdbc.Tx;

/** Handouts: prepared, sent, and withdrawn. */
public final class HandoutModule implements NodeModule {
    private final Node node;
    private final OfficeRecords records;
    private final ProfileModule profiles;
    private final Supplier<URI> staffUrl;

    public HandoutModule(Node node, OfficeRecords records, ProfileModule profiles, Supplier<URI> staffUrl) {
        this.node = node;
        this.records = records;
        this.profiles = profiles;
        this.staffUrl = staffUrl;
    }

    /** What devices that keep themselves current get. */
    public DeviceContent deviceContent() {
        return new DeviceContent(node.db(), profiles.files(), profiles.sheets(), gate());
    }

    private FitGate gate() {
        return new FitGate(node.db(), records, profiles.files(), node.settings().callableLocal());
    }

    @Override
    public List<Route> routes() {
        return new HandoutRoutes(node.db(), profiles.files(), profiles.sheets(), gate(), staffUrl).routes();
    }

    @Override
    public void upkeep(Tx tx, Instant now) {
        Handouts.eraseExpired(tx, now);
    }
}
