package tender.service.office;

import com.fasterxml.jackson.core.type.TypeReference;
import java.util.List;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.Uplink;
import tender.io.gateway.OfficeModule;
import tender.store.document.Document;

/** What rows keep of the office as JSON; its values are written as gateways' own API writes them. */
public final class OfficeDocuments {
    /** What a gateway said of itself when last read. */
    public static final Document<Device> DEVICE = Document.of("a device", new TypeReference<>() {}, new OfficeModule());

    /** How a gateway is reached, as operators say. */
    public static final Document<List<Uplink>> UPLINKS =
            Document.of("uplinks", new TypeReference<>() {}, new OfficeModule());

    /** Changes of a gateway's settings. */
    public static final Document<List<Change>> CHANGES =
            Document.of("changes", new TypeReference<>() {}, new OfficeModule());

    private OfficeDocuments() {}
}
