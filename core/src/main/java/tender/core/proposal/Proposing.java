package tender.core.proposal;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.wire.Fields;

/**
 * Works out what to create of client files. The same files, records and corrections always give the same; importing them again
 * finds what is there.
 */
public final class Proposing {
    private static final String ONLY_SITE = "office";

    private final Proposal.Known known;
    private final Proposal.Corrections corrections;
    private final Map<String, Proposal.Site> sites = new LinkedHashMap<>();
    private final List<Proposal.Gateway> gateways = new ArrayList<>();
    private final List<Proposal.File> files = new ArrayList<>();
    private final OwnerProposal owners;
    private final Set<String> taken = new HashSet<>();

    private Proposing(Proposal.Known known, Proposal.Corrections corrections) {
        this.known = known;
        this.corrections = corrections;
        this.owners = new OwnerProposal(known.people(), known.requested());
        this.taken.addAll(known.office().gateways().keySet());
    }

    /** @throws tender.core.wire.MalformedException where a correction names what cannot be */
    public static Proposal of(ClientFile.Found found, Proposal.Known known, Proposal.Corrections corrections) {
        Proposing made = new Proposing(known, corrections);
        List<Grouping.Group> groups = Grouping.of(found.clients().stream()
                .filter(f -> !corrections.leftOut().contains(f.path()))
                .map(f -> new Grouping.Read(f, CalledListener.of(f).with(f, found.beside())))
                .toList());
        groups.forEach(group -> made.group(group, groups.size()));
        return new Proposal(List.copyOf(made.sites.values()), made.gateways, made.owners.people(), made.files);
    }

    private void group(Grouping.Group of, int groups) {
        List<Grouping.Read> group = of.files();
        List<Host> hosts = of.hosts();
        Optional<Office.Gateway> existing = existing(group, hosts);
        String proposed = existing.map(Office.Gateway::name)
                .orElseGet(() -> GatewayName.of(hosts, group, gateways.size() + 1, taken));
        String name = existing.isPresent()
                ? proposed
                : Optional.ofNullable(corrections.names().get(proposed))
                        .map(n -> Fields.name("name", n))
                        .orElse(proposed);
        taken.add(name);
        ListenerProposal listeners = new ListenerProposal(
                group, existing.map(g -> g.device().listeners()).orElse(List.of()));
        boolean takes = existing.isEmpty() || known.byHand().contains(name);
        List<Listener> fresh = takes ? listeners.fresh() : List.of();
        String site = existing.map(Office.Gateway::site)
                .orElseGet(() -> site(proposed, name, networks(group, fresh), groups));
        gateways.add(new Proposal.Gateway(
                name,
                proposed,
                site,
                existing.map(Office.Gateway::kind)
                        .or(() -> Optional.ofNullable(corrections.kinds().get(proposed))
                                .map(Office::kind))
                        .orElseGet(() -> GatewayName.kind(hosts, group)),
                hosts,
                fresh,
                existing.isPresent()));
        Set<String> words = GatewayName.words(hosts, name + " " + proposed + " " + site);
        for (Grouping.Read f : group) {
            Optional<String> listener = takes || listeners.exists(f) ? Optional.of(listeners.of(f)) : Optional.empty();
            files.add(new Proposal.File(
                    f.file(),
                    name,
                    listener,
                    listener.flatMap(l -> owner(f.file(), new OwnerProposal.Place(name, l), words))));
        }
    }

    private Optional<Proposal.Owner> owner(ClientFile file, OwnerProposal.Place listener, Set<String> words) {
        return owners.of(
                file, listener, words, Optional.ofNullable(corrections.owners().get(file.path())));
    }

    /**
     * The gateway in the records that the files call, or whose listener's public key they know. Files whose host is a placeholder go
     * by their authority, where only one gateway has it.
     */
    private Optional<Office.Gateway> existing(List<Grouping.Read> group, List<Host> hosts) {
        Set<String> keys = new HashSet<>();
        group.forEach(f -> f.listener().secret().ifPresent(keys::add));
        Set<String> called = new HashSet<>();
        hosts.forEach(h -> called.add(h.toString()));
        Optional<Office.Gateway> told = known.office().gateways().values().stream()
                .filter(g -> hosts(g).stream().anyMatch(called::contains) || has(g, Attribute.PUBLIC_KEY, keys))
                .findFirst();
        if (told.isPresent() || !hosts.isEmpty()) {
            return told;
        }
        Set<String> authorities = new HashSet<>();
        group.forEach(f -> f.listener().authority().ifPresent(authorities::add));
        List<Office.Gateway> trusted = known.office().gateways().values().stream()
                .filter(g -> has(g, Attribute.AUTHORITY, authorities))
                .toList();
        return trusted.size() == 1 ? Optional.of(trusted.get(0)) : Optional.empty();
    }

    private static boolean has(Office.Gateway g, Attribute attribute, Set<String> values) {
        return g.device().listeners().stream()
                .anyMatch(l -> l.get(attribute).filter(values::contains).isPresent());
    }

    private static Set<String> hosts(Office.Gateway g) {
        Set<String> out = new HashSet<>();
        g.hosts().forEach(h -> out.add(h.toString()));
        g.uplinks().forEach(u -> {
            u.name().ifPresent(n -> out.add(n.toString()));
            u.address().ifPresent(a -> out.add(a.toString()));
        });
        return out;
    }

    /** Networks inside that the files lead to: not the internet, not the tunnel's own. */
    private static Set<Cidr> networks(List<Grouping.Read> group, List<Listener> listeners) {
        Set<Cidr> tunnels = new HashSet<>();
        group.forEach(f -> f.listener().tunnel().ifPresent(tunnels::add));
        Set<Cidr> out = new LinkedHashSet<>();
        listeners.stream()
                .flatMap(l -> l.reach().stream())
                .filter(n ->
                        !n.isEverything() && n.prefix() < n.first().family().bits())
                .filter(n -> tunnels.stream().noneMatch(t -> t.overlaps(n)))
                .forEach(out::add);
        return out;
    }

    /** The one that was said, else one with some of the networks, else a new one; the only gateway stands in the only site. */
    private String site(String proposed, String gateway, Set<Cidr> networks, int groups) {
        Optional<String> said =
                Optional.ofNullable(corrections.sites().get(proposed)).map(s -> Fields.name("site", s));
        Optional<Office.Site> recorded = said.isPresent()
                ? known.office().site(said.get())
                : known.office().sites().stream()
                        .filter(s -> s.networks().stream()
                                .map(Network::network)
                                .anyMatch(n -> networks.stream().anyMatch(n::overlaps)))
                        .findFirst()
                        .or(() -> known.office().sites().size() == 1 && networks.isEmpty()
                                ? known.office().sites().stream().findFirst()
                                : Optional.empty());
        if (recorded.isPresent()) {
            String name = recorded.get().name();
            sites.putIfAbsent(name, new Proposal.Site(name, Map.of(), true));
            return name;
        }
        Optional<String> shared = said.isPresent()
                ? said
                : sites.values().stream()
                        .filter(s -> s.networks().values().stream()
                                .anyMatch(n -> networks.stream().anyMatch(n::overlaps)))
                        .map(Proposal.Site::name)
                        .findFirst();
        boolean first = groups == 1 && known.office().sites().isEmpty();
        String name = shared.orElse(first ? ONLY_SITE : gateway);
        Map<String, Cidr> all = new LinkedHashMap<>();
        Optional.ofNullable(sites.get(name)).ifPresent(s -> all.putAll(s.networks()));
        networks.stream()
                .filter(n -> !all.containsValue(n))
                .forEach(n -> all.put(all.isEmpty() ? "lan" : "lan-" + (all.size() + 1), n));
        sites.put(name, new Proposal.Site(name, all, false));
        return name;
    }
}
