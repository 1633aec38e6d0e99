package tender.service.alert;

import java.io.IOException;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.io.names.NameService;

/** Whom the settings may make Tender call. */
final class Callable {
    private Callable() {}

    /**
     * An address written in the settings is meant; a name must not lead to what is never called.
     *
     * @throws IOException where it does
     */
    static void check(String host, NameService names) throws IOException {
        if (Host.parse(host.replaceAll("[\\[\\]]", "")) instanceof HostName name
                && names.lookUp(name).addresses().stream().anyMatch(a -> !names.mayCall(a))) {
            throw new IOException(host + " resolves to an address that Tender may not connect to");
        }
    }
}
