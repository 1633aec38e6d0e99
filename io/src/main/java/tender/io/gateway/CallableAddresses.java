package tender.io.gateway;

import java.util.List;
import tender.core.network.AddressKinds;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/** Which addresses may be called on a person's behalf: loopback, link-local and metadata ranges only where listed. */
public record CallableAddresses(List<Cidr> listed) {
    public CallableAddresses {
        listed = List.copyOf(listed);
    }

    public boolean allows(IpAddress address) {
        return !AddressKinds.isLocalOnly(address) || listed.stream().anyMatch(range -> range.contains(address));
    }
}
