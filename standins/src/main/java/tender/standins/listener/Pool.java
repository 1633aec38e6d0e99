package tender.standins.listener;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/** Tunnel addresses of a listener: the second onwards, one for each connection. */
final class Pool {
    private final Cidr network;
    private final Map<IpAddress, Object> taken = new HashMap<>();

    Pool(Cidr network) {
        this.network = network;
    }

    IpAddress gateway() {
        return network.first().plus(1);
    }

    synchronized Optional<IpAddress> take(Object holder) {
        for (IpAddress a = network.first().plus(2); network.contains(a) && !a.equals(network.last()); a = a.plus(1)) {
            if (taken.putIfAbsent(a, holder) == null) {
                return Optional.of(a);
            }
        }
        return Optional.empty();
    }

    synchronized void release(Object holder) {
        taken.values().removeIf(h -> h == holder);
    }
}
