package tender.core.walk;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tender.core.network.AddressKinds;
import tender.core.network.AddressSet;
import tender.core.network.Cidr;
import tender.core.office.Network;
import tender.core.office.Office;

/**
 * The networks that an office really has, by routing domain: what gateways report, what operators entered of sites, and tunnel
 * networks. What a gateway reports of a network stands before what was entered under the same name. Worked out once for an
 * office, and once for each network that is asked about.
 */
public final class KnownNetworks {
    private final Map<String, String> domains;
    private final Map<String, List<Cidr>> byDomain = new HashMap<>();
    private final Map<String, Boolean> asked = new HashMap<>();

    public KnownNetworks(Office office) {
        this.domains = office.domains();
        Map<String, Map<String, List<Cidr>>> sites = new LinkedHashMap<>();
        office.sites().forEach(s -> {
            Map<String, List<Cidr>> own = sites.computeIfAbsent(s.name(), k -> new LinkedHashMap<>());
            own.putAll(byName(s.networks()));
        });
        Map<String, List<Cidr>> tunnels = new HashMap<>();
        office.gateways().values().forEach(g -> {
            Map<String, List<Cidr>> own = sites.computeIfAbsent(g.site(), k -> new LinkedHashMap<>());
            own.putAll(byName(g.device().networks()));
            g.device()
                    .listeners()
                    .forEach(l -> tunnels.computeIfAbsent(g.site(), k -> new ArrayList<>())
                            .addAll(l.tunnels()));
        });
        sites.forEach((site, networks) -> {
            List<Cidr> of = byDomain.computeIfAbsent(domains.getOrDefault(site, ""), k -> new ArrayList<>());
            networks.values().forEach(of::addAll);
            of.addAll(tunnels.getOrDefault(site, List.of()));
        });
        byDomain.replaceAll((domain, networks) -> AddressSet.merged(networks));
    }

    private static Map<String, List<Cidr>> byName(List<Network> networks) {
        Map<String, List<Cidr>> out = new LinkedHashMap<>();
        networks.forEach(
                n -> out.computeIfAbsent(n.name(), k -> new ArrayList<>()).add(n.network()));
        return out;
    }

    /** Whether both offices have the same networks. */
    @Override
    public boolean equals(Object other) {
        return other instanceof KnownNetworks k && byDomain.equals(k.byDomain);
    }

    @Override
    public int hashCode() {
        return byDomain.hashCode();
    }

    /** Whether a private network shares no address with any network that the site's routing domain has. */
    public boolean isGone(String site, Cidr network) {
        String domain = domains.getOrDefault(site, "");
        List<Cidr> known = byDomain.getOrDefault(domain, List.of());
        if (known.isEmpty() || network.prefix() == 0 || !AddressKinds.isPrivate(network.first())) {
            return false;
        }
        return asked.computeIfAbsent(domain + " " + network, k -> known.stream().noneMatch(n -> n.overlaps(network)));
    }
}
