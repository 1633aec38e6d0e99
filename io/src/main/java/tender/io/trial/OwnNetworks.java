package tender.io.trial;

import java.net.InterfaceAddress;
import java.net.NetworkInterface;
import java.net.SocketException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/** The networks that this machine is in itself. A trial walks past them; a client's packets would not. */
public final class OwnNetworks {
    /** A network and the interface that it is at. */
    public record Own(String device, Cidr network) {}

    private OwnNetworks() {}

    /** Those of interfaces that are up, without this machine's own inside (loopback) and link-local ones. */
    public static List<Own> now() {
        List<Own> out = new ArrayList<>();
        try {
            for (NetworkInterface device : NetworkInterface.networkInterfaces().toList()) {
                if (device.isUp() && !device.isLoopback()) {
                    for (InterfaceAddress a : device.getInterfaceAddresses()) {
                        if (!a.getAddress().isLinkLocalAddress()) {
                            out.add(new Own(
                                    device.getName(),
                                    Cidr.of(
                                            IpAddress.ofBytes(a.getAddress().getAddress()),
                                            a.getNetworkPrefixLength())));
                        }
                    }
                }
            }
        } catch (SocketException e) {
            return List.of(); // the system does not tell
        }
        return out;
    }

    /** What stands in a client's way here, in words: an own network that shares addresses with one behind the tunnel. */
    public static Optional<String> clash(List<Own> own, List<Cidr> reach) {
        for (Own mine : own) {
            for (Cidr behind : reach) {
                if (!behind.isEverything() && behind.overlaps(mine.network())) {
                    return Optional.of("this machine is itself in " + mine.network() + " (" + mine.device()
                            + "), which shares addresses with " + behind
                            + " behind the tunnel: a client here would not find all hosts there");
                }
            }
        }
        return Optional.empty();
    }
}
