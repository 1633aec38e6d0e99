package tender.service.device;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import tender.core.device.DeviceDescription;
import tender.io.gateway.Capability;
import tender.io.gateway.Connector;
import tender.io.gateway.DescriptionReader;
import tender.service.refusal.Refused;
import tender.store.jdbc.Db;
import tender.store.office.Descriptions;

/** The ways to gateways by name, and the kinds of device by the name of their description. */
public final class DeviceDescriptions {
    private final Db db;
    private final Map<String, Connector> connectors;
    private final Map<String, DeviceDescription> shipped = new LinkedHashMap<>();

    public DeviceDescriptions(Db db, Map<String, Connector> connectors) {
        this.db = db;
        this.connectors = Map.copyOf(connectors);
        DescriptionReader.SHIPPED.forEach(name -> shipped.put(name, DescriptionReader.shipped(name)));
    }

    /** @throws Refused where there is no connector of that name */
    public Connector connector(String name) {
        Connector connector = connectors.get(name);
        if (connector == null) {
            throw new Refused(Refused.Kind.MALFORMED, "connector is ssh, https, file or manual", "connector");
        }
        return connector;
    }

    /** Descriptions that come with Tender, by name. */
    public Map<String, DeviceDescription> shipped() {
        return shipped;
    }

    /** All that count: those that come with Tender, and the company's own that an owner has approved. */
    public List<DeviceDescription> all() {
        List<DeviceDescription> out = new ArrayList<>(shipped.values());
        db.inTransaction(Descriptions::all).stream()
                .filter(Descriptions.Description::isApproved)
                .forEach(d -> out.add(DescriptionReader.read(d.content())));
        return out;
    }

    /**
     * A shipped description, or one of the company's own whose text an owner has approved; of several names with a + between them,
     * all together.
     */
    public DeviceDescription description(String name) {
        return DeviceDescription.together(
                DeviceDescription.names(name).stream().map(this::one).toList());
    }

    private DeviceDescription one(String name) {
        DeviceDescription known = shipped.get(name);
        if (known != null) {
            return known;
        }
        Descriptions.Description own = db.inTransaction(tx -> Descriptions.byName(tx, name))
                .orElseThrow(() -> new Refused(
                        Refused.Kind.NOT_FOUND, "there is no device description of this name", "description"));
        if (!own.isApproved()) {
            throw new Refused(
                    Refused.Kind.NOT_ALLOWED,
                    "the device description " + name + " takes effect when an owner approves its digest "
                            + own.digest(),
                    "description");
        }
        return DescriptionReader.read(own.content());
    }

    /** What a gateway can be asked; a gateway API says so itself only when it is called, so all is said of it. */
    public Set<Capability> capabilities(String connector, String description, boolean readOnly) {
        return switch (connector) {
            case "ssh" -> described(description, readOnly);
            case "file" -> Set.of(Capability.READ);
            case "manual" -> Set.of();
            default -> Capability.ofGatewayApi(readOnly);
        };
    }

    private Set<Capability> described(String description, boolean readOnly) {
        try {
            return Capability.of(description(description), readOnly);
        } catch (Refused e) {
            return Set.of(); // a description that nobody has approved as it is now
        }
    }

    /** Ends the connections that connectors keep. */
    public void close() {
        connectors.values().forEach(Connector::close);
    }
}
