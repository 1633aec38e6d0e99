package tender.core.walk;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.network.AddressPlan;
import tender.core.network.AddressSet;
import tender.core.network.Cidr;
import tender.core.network.CommonNetworks;
import tender.core.office.Office;

/**
 * Free networks among private addresses, clear of every recorded network and of those that homes commonly use. Worked out
 * once for an office and once for each length.
 */
public final class FreeNetworks {
    private static final Cidr WITHIN_V4 = Cidr.parse("10.96.0.0/11");
    private static final Cidr WITHIN_V6 = Cidr.parse("fd00:96::/32");

    private final Office office;
    private final Map<String, Optional<Cidr>> known = new HashMap<>();
    private List<Cidr> taken;

    public FreeNetworks(Office office) {
        this.office = office;
    }

    /** A free network of the same family and length. */
    public Optional<Cidr> like(Cidr network) {
        Cidr within = network.first().isV4() ? WITHIN_V4 : WITHIN_V6;
        int prefix = Math.max(network.prefix(), within.prefix());
        return known.computeIfAbsent(within + " " + prefix, key -> AddressPlan.freeSubnet(within, prefix, taken()));
    }

    private List<Cidr> taken() {
        if (taken == null) {
            List<Cidr> all = new ArrayList<>(CommonNetworks.ALL);
            office.sites().forEach(s -> s.networks().forEach(n -> all.add(n.network())));
            office.gateways().values().forEach(g -> {
                g.device().networks().forEach(n -> all.add(n.network()));
                g.device().listeners().forEach(l -> all.addAll(l.tunnels()));
            });
            taken = AddressSet.merged(all);
        }
        return taken;
    }
}
