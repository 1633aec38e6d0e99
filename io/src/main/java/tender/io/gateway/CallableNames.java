package tender.io.gateway;

import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.io.names.NameService;

/** Names as the service looks them up: addresses that it may not call stay uncalled wherever something dials. */
public record CallableNames(NameService names, CallableAddresses callable) implements NameService {
    @Override
    public Answer lookUp(HostName name) {
        return names.lookUp(name);
    }

    @Override
    public boolean mayCall(IpAddress address) {
        return callable.allows(address);
    }
}
