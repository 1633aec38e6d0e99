package tender.core.finding;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.network.AddressKinds;
import tender.core.network.AddressPlan;
import tender.core.network.AddressPlan.Placed;
import tender.core.network.Cidr;
import tender.core.network.CommonNetworks;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.DeviceChange;
import tender.core.office.Listener;
import tender.core.office.ListenerChange;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.walk.FreeNetworks;

/** Rules over the address plan of one routing domain: one sorted sweep, n log n in the number of networks. */
final class AddressChecks {
    private static final int FEW_LEFT = 5;

    private AddressChecks() {}

    /** Either a site's network or a listener's tunnel network. */
    private record Area(Office.Site site, Network network, Office.Gateway gateway, Listener listener, Cidr cidr) {
        boolean isTunnel() {
            return listener != null;
        }

        String words() {
            return isTunnel()
                    ? gateway.name() + " " + listener.name() + " tunnel " + cidr
                    : site.name() + " " + network.name() + " " + cidr;
        }
    }

    /** Overlaps inside one routing domain. */
    static void domain(
            Office office,
            FreeNetworks free,
            Collection<Office.Site> sites,
            Collection<Office.Gateway> gateways,
            Sink sink) {
        List<Placed<Area>> areas = new ArrayList<>();
        Map<String, Office.Site> byName = new HashMap<>();
        Map<String, Set<Cidr>> known = new HashMap<>();
        for (Office.Site s : sites) {
            byName.put(s.name(), s);
            s.networks().forEach(n -> {
                known.computeIfAbsent(s.name(), k -> new HashSet<>()).add(n.network());
                areas.add(new Placed<>(n.network(), new Area(s, n, null, null, n.network())));
            });
        }
        for (Office.Gateway g : gateways) {
            Office.Site site = byName.get(g.site());
            // a network that the device reports and the site has already counts once
            for (Network n : g.device().networks()) {
                if (known.computeIfAbsent(g.site(), k -> new HashSet<>()).add(n.network())) {
                    areas.add(new Placed<>(n.network(), new Area(site, n, null, null, n.network())));
                }
            }
            for (Listener l : g.device().listeners()) {
                l.tunnels().forEach(t -> areas.add(new Placed<>(t, new Area(site, null, g, l, t))));
            }
        }
        Set<String> joined = new HashSet<>();
        office.joined().forEach(j -> {
            Optional<Office.Gateway> one = office.gateway(j.one());
            Optional<Office.Gateway> other = office.gateway(j.other());
            if (one.isPresent() && other.isPresent()) {
                joined.add(one.get().site() + " " + other.get().site());
                joined.add(other.get().site() + " " + one.get().site());
            }
        });
        AddressPlan.overlaps(areas).forEach(pair -> judge(free, pair.outer(), pair.inner(), joined, sink));
    }

    private static void judge(FreeNetworks free, Area one, Area other, Set<String> joined, Sink sink) {
        String evidence = one.words() + " shares addresses with " + other.words();
        if (one.isTunnel() && other.isTunnel()) {
            boolean same = one.gateway().name().equals(other.gateway().name());
            if (same && one.listener().name().equals(other.listener().name())) {
                return;
            }
            if (same && isBeside(one.listener(), other.listener())) {
                return;
            }
            move(
                    free,
                    sink.listener(
                            same ? Rule.TUNNELS_OVERLAP_ON_DEVICE : Rule.TUNNELS_OVERLAP_ACROSS,
                            other.gateway(),
                            other.listener(),
                            evidence),
                    other);
        } else if (one.isTunnel() || other.isTunnel()) {
            Area tunnel = one.isTunnel() ? one : other;
            Area site = one.isTunnel() ? other : one;
            move(
                    free,
                    sink.listener(
                                    Rule.TUNNEL_OVERLAPS_SITE,
                                    tunnel.gateway(),
                                    tunnel.listener(),
                                    tunnel.words() + " shares addresses with " + site.words())
                            .breaks("People connected through "
                                    + tunnel.gateway().name() + " cannot reach "
                                    + site.site().name() + ", or reach the wrong machine"),
                    tunnel);
        } else if (!one.site().name().equals(other.site().name())) {
            boolean linked =
                    joined.contains(one.site().name() + " " + other.site().name());
            sink.site(
                            linked ? Rule.JOINED_SITES_OVERLAP : Rule.SITES_OVERLAP,
                            other.site(),
                            other.network().name(),
                            evidence)
                    .put();
        }
    }

    /** Listeners side by side share what they were copied with on purpose, addresses included. */
    private static boolean isBeside(Listener one, Listener other) {
        return one.tunnels().equals(other.tunnels())
                && one.get(Attribute.PUBLIC_KEY).equals(other.get(Attribute.PUBLIC_KEY))
                && one.get(Attribute.PUBLIC_KEY).isPresent();
    }

    private static void move(FreeNetworks free, Sink.Draft draft, Area tunnel) {
        free.like(tunnel.cidr())
                .ifPresentOrElse(
                        found -> draft.remedy("Move the tunnel network to " + found + ", which is free")
                                .fix(
                                        tunnel.gateway().name(),
                                        new ListenerChange.SetListener(
                                                tunnel.listener().name(),
                                                Map.of(Attribute.TUNNEL_NETWORK, swapped(tunnel, found))))
                                .put(),
                        draft::put);
    }

    private static String swapped(Area tunnel, Cidr free) {
        return String.join(
                ", ",
                tunnel.listener().tunnels().stream()
                        .map(t -> t.equals(tunnel.cidr()) ? free.toString() : t.toString())
                        .toList());
    }

    /** A network with the gateway that keeps its pool and fixed addresses, where one says so. */
    record Kept(Network network, Optional<String> gateway) {}

    /** Rules over one site's own networks. */
    static void site(Office.Site site, Collection<Kept> networks, Sink sink) {
        for (Kept kept : networks) {
            Network n = kept.network();
            CommonNetworks.meeting(n.network())
                    .ifPresent(home -> sink.site(
                                    Rule.SITE_LIKE_A_HOME,
                                    site,
                                    n.name(),
                                    n.network() + " overlaps " + home
                                            + ", which routers in homes and hotels commonly have")
                            .put());
            n.pool()
                    .filter(p ->
                            !n.network().contains(p.first()) || !n.network().contains(p.last()))
                    .ifPresent(p -> fixed(
                            kept,
                            upperHalf(n),
                            sink.site(
                                    Rule.POOL_OUTSIDE_NETWORK,
                                    site,
                                    n.name(),
                                    "pool " + p + ", network " + n.network())));
            fixed(site, kept, sink);
        }
    }

    private static void fixed(Office.Site site, Kept kept, Sink sink) {
        Network n = kept.network();
        Map<IpAddress, String> seen = new HashMap<>();
        n.reserved().forEach((host, address) -> {
            String where = n.name() + " " + host;
            Optional<Network> elsewhere = n.free().map(free -> n.withReserved(host, free));
            if (!n.network().contains(address)) {
                fixed(
                        kept,
                        elsewhere,
                        sink.site(
                                Rule.RESERVED_ADDRESS_OUTSIDE,
                                site,
                                where,
                                host + " has " + address + ", network " + n.network()));
            } else if (n.pool().filter(p -> p.contains(address)).isPresent()) {
                fixed(
                        kept,
                        elsewhere,
                        sink.site(
                                Rule.RESERVED_ADDRESS_IN_POOL,
                                site,
                                where,
                                host + " has " + address + ", the pool is "
                                        + n.pool().get()));
            }
            String first = seen.putIfAbsent(address, host);
            if (first != null) {
                fixed(
                        kept,
                        elsewhere,
                        sink.site(
                                Rule.RESERVED_ADDRESS_TWICE,
                                site,
                                where,
                                first + " and " + host + " both have " + address));
            }
        });
    }

    /** Puts the finding with the step that fixes it, where a gateway keeps the network and there is room. */
    private static void fixed(Kept kept, Optional<Network> better, Sink.Draft draft) {
        if (kept.gateway().isPresent() && better.isPresent()) {
            draft.fix(kept.gateway().get(), new DeviceChange.PutNetwork(better.get()));
        }
        draft.put();
    }

    /** The network lending its upper half, beginning after the fixed addresses in it. */
    private static Optional<Network> upperHalf(Network n) {
        int prefix = n.network().prefix() + 1;
        if (prefix > n.network().first().family().bits() - 2) {
            return Optional.empty();
        }
        IpAddress last = n.network().last().plus(-1);
        IpAddress first = Cidr.of(last, prefix).first();
        for (IpAddress fixed : n.reserved().values()) {
            if (fixed.compareTo(first) >= 0 && fixed.compareTo(last) <= 0) {
                first = fixed.plus(1);
            }
        }
        return first.compareTo(last) < 0 ? Optional.of(n.withPool(new Network.Pool(first, last))) : Optional.empty();
    }

    /** Rules over one listener's own tunnel networks. */
    static void listener(FreeNetworks free, Office.Gateway g, Listener l, Sink sink) {
        for (Cidr tunnel : l.tunnels()) {
            CommonNetworks.meeting(tunnel).ifPresent(home -> {
                Sink.Draft draft = sink.listener(
                        Rule.TUNNEL_LIKE_A_HOME,
                        g,
                        l,
                        "tunnel " + tunnel + " overlaps " + home + ", which routers in homes and hotels commonly have");
                move(free, draft, new Area(null, null, g, l, tunnel));
            });
            if (!AddressKinds.isPrivate(tunnel.first())) {
                move(
                        free,
                        sink.listener(Rule.NETWORK_NOT_PRIVATE, g, l, "tunnel " + tunnel + " is public address space"),
                        new Area(null, null, g, l, tunnel));
            }
            int bits = tunnel.first().family().bits() - tunnel.prefix();
            Optional<Integer> peers = l.number(Attribute.PEERS);
            if (bits < 16 && peers.isPresent()) {
                int usable = (1 << bits) - 3; // without network, broadcast and the gateway itself
                int left = usable - peers.get();
                if (left < FEW_LEFT) {
                    sink.listener(
                                    Rule.TUNNEL_FULL,
                                    g,
                                    l,
                                    "tunnel " + tunnel + " holds " + Math.max(0, usable) + " devices, " + peers.get()
                                            + " have an address")
                            .put();
                }
            }
        }
    }
}
