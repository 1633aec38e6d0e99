package tender.core.finding;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Uplink;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.walk.FreeNetworks;
import tender.core.walk.KnownNetworks;

/**
 * All findings of an office, kept by what they depend on, so that after one change only that is judged again: the changed
 * gateway, those that stand behind or before it, and the address plan of its routing domain. Not safe for several threads.
 */
public final class Findings {
    private final Map<String, List<Finding>> byScope = new HashMap<>();
    private Office office;
    private FreeNetworks free;
    private KnownNetworks known;
    private Map<String, List<Office.IssuedProfile>> issued;

    private Findings(Office office) {
        this.office = office;
        this.free = new FreeNetworks(office);
        this.known = new KnownNetworks(office);
        this.issued = byListener(office.issuedProfiles());
    }

    /** Judges everything. */
    public static Findings of(Office office) {
        Findings all = new Findings(office);
        Map<String, String> domains = office.domains();
        Map<String, List<Office.Gateway>> behind = all.behind();
        office.gateways().values().forEach(g -> all.gateway(g, behind));
        office.sites().forEach(s -> all.site(s.name()));
        new HashSet<>(domains.values()).forEach(d -> all.domain(d, domains));
        return all;
    }

    /**
     * Judges only what these gateways touch: themselves, those that stand behind or before them, their sites and the address
     * plans of their routing domains.
     */
    public static Findings around(Office office, Collection<String> gateways) {
        Findings some = new Findings(office);
        some.judge(gateways, Set.of());
        return some;
    }

    /** Gateways whose findings depend on these: themselves, and those that stand behind or before them. */
    public static Set<String> touched(Office office, Collection<String> gateways) {
        Findings none = new Findings(office);
        return none.touched(gateways, none.behind());
    }

    /**
     * Judges again what a change of these gateways touches, and what one that is no longer there leaves; sites are as they were.
     *
     * @return the scopes that were judged again
     */
    public Set<String> changed(Office fresh, Collection<String> gateways) {
        boolean sameIssuedProfiles = fresh.issuedProfiles().equals(office.issuedProfiles());
        List<Office.Gateway> gone = office.gateways().values().stream()
                .filter(g -> fresh.gateway(g.name()).isEmpty())
                .toList();
        Set<String> touched = new LinkedHashSet<>(gateways);
        touched.addAll(touched(gone.stream().map(Office.Gateway::name).toList(), behind()));
        Set<String> left = gone.stream().map(Office.Gateway::site).collect(Collectors.toSet());
        office = fresh;
        free = new FreeNetworks(fresh);
        known = new KnownNetworks(fresh);
        if (!sameIssuedProfiles) {
            issued = byListener(fresh.issuedProfiles());
        }
        return judge(touched, left);
    }

    private Set<String> touched(Collection<String> gateways, Map<String, List<Office.Gateway>> behind) {
        Set<String> touched = new LinkedHashSet<>(gateways);
        for (String name : gateways) {
            office.gateway(name)
                    .ifPresent(g -> Approach.chain(office, g).gateways().forEach(f -> touched.add(f.name())));
            behind.getOrDefault(name, List.of()).forEach(b -> touched.add(b.name()));
        }
        return touched;
    }

    /** @param left sites that a gateway is gone from */
    private Set<String> judge(Collection<String> gateways, Set<String> left) {
        Map<String, String> domains = office.domains();
        Map<String, List<Office.Gateway>> behind = behind();
        Set<String> scopes = new LinkedHashSet<>();
        Set<String> sites = new HashSet<>(left);
        for (String name : touched(gateways, behind)) {
            scopes.add("gateway " + name);
            byScope.remove("gateway " + name);
            office.gateway(name).ifPresent(g -> {
                gateway(g, behind);
                sites.add(g.site());
            });
        }
        Set<String> plans = new HashSet<>();
        sites.forEach(s -> {
            site(s);
            scopes.add("site " + s);
            plans.add(domains.get(s));
        });
        plans.forEach(d -> {
            domain(d, domains);
            scopes.add("domain " + d);
        });
        return scopes;
    }

    /** Everything that is found, by what it depends on: a gateway, a site, or a routing domain's address plan. */
    public Map<String, List<Finding>> byScope() {
        return Map.copyOf(byScope);
    }

    /** The office as it was judged last. */
    public Office office() {
        return office;
    }

    /** Worst first, then by code and subject. */
    public List<Finding> all() {
        return byScope.values().stream()
                .flatMap(List::stream)
                .sorted(Comparator.comparing(Finding::severity)
                        .thenComparing(Finding::rule)
                        .thenComparing(Finding::subject)
                        .thenComparing(Finding::evidence))
                .toList();
    }

    private static Map<String, List<Office.IssuedProfile>> byListener(List<Office.IssuedProfile> issuedProfiles) {
        Map<String, List<Office.IssuedProfile>> out = new HashMap<>();
        issuedProfiles.forEach(h -> out.computeIfAbsent(h.gateway() + " " + h.listener(), k -> new ArrayList<>())
                .add(h));
        return out;
    }

    /** Gateways that stand behind each, directly or further in. */
    private Map<String, List<Office.Gateway>> behind() {
        Map<String, List<Office.Gateway>> out = new HashMap<>();
        for (Office.Gateway g : office.gateways().values()) {
            if (g.uplinks().stream().anyMatch(u -> u.kind() == Uplink.Kind.BEHIND)) {
                List<Office.Gateway> chain = Approach.chain(office, g).gateways();
                chain.subList(0, chain.size() - 1)
                        .forEach(f -> out.computeIfAbsent(f.name(), k -> new ArrayList<>())
                                .add(g));
            }
        }
        return out;
    }

    private void gateway(Office.Gateway g, Map<String, List<Office.Gateway>> behind) {
        Sink sink = new Sink(office);
        StateChecks.gateway(office, g, sink);
        if (g.identityAccepted()) {
            StrengthChecks.gateway(g, sink);
            Approach.Chain chain = Approach.chain(office, g);
            EndpointChecks.gateway(g, chain, sink);
            NetworkChecks.gateway(known, g, sink);
            FirewallChecks.gateway(office, g, behind.getOrDefault(g.name(), List.of()), sink);
            for (Listener l : g.device().listeners()) {
                List<Office.IssuedProfile> own = issued.getOrDefault(g.name() + " " + l.name(), List.of());
                AddressChecks.listener(free, g, l, sink);
                EndpointChecks.listener(office, g, l, chain, sink);
                PathChecks.listener(office, g, l, chain, own, sink);
                StrengthChecks.listener(office, g, l, sink);
                StateChecks.listener(office, g, l, own, sink);
                List<tender.core.network.Endpoint> now = Called.endpoints(chain, l);
                own.forEach(h -> StateChecks.issued(office, known, g, l, h, now, sink));
            }
        }
        byScope.put("gateway " + g.name(), sink.found());
    }

    private void site(String name) {
        Sink sink = new Sink(office);
        office.site(name).ifPresent(s -> {
            Map<String, AddressChecks.Kept> networks = new java.util.LinkedHashMap<>();
            s.networks()
                    .forEach(n -> networks.put(n.network().toString(), new AddressChecks.Kept(n, Optional.empty())));
            // a device knows pool and fixed addresses; what it says of a network stands before what was typed
            office.gateways().values().stream()
                    .filter(g -> g.site().equals(name))
                    .forEach(g -> g.device()
                            .networks()
                            .forEach(n -> networks.put(
                                    n.network().toString(), new AddressChecks.Kept(n, Optional.of(g.name())))));
            AddressChecks.site(s, networks.values(), sink);
        });
        byScope.put("site " + name, sink.found());
    }

    private void domain(String domain, Map<String, String> domains) {
        Sink sink = new Sink(office);
        AddressChecks.domain(
                office,
                free,
                office.sites().stream().filter(s -> s.domain().equals(domain)).toList(),
                office.gateways().values().stream()
                        .filter(g -> domain.equals(domains.get(g.site())))
                        .toList(),
                sink);
        byScope.put("domain " + domain, sink.found());
    }
}
