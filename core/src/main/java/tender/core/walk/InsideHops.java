package tender.core.walk;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.office.Attribute;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.FirewallChange;
import tender.core.office.ListenerChange;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.PortRange;
import tender.core.office.Protocol;
import tender.core.office.Protocol.PortSpec;
import tender.core.office.Side;

/** From the tunnel to the host inside, and back. */
record InsideHops(Trip trip) {
    private List<Cidr> reach() {
        String own = trip.question().from().madeFor().get(Attribute.REACH);
        return own == null
                ? trip.listener().reach()
                : trip.listener().with(Attribute.REACH, own).reach();
    }

    private Optional<Cidr> routed() {
        return reach().stream()
                .filter(n -> n.contains(trip.question().to()))
                .max(java.util.Comparator.comparingInt(Cidr::prefix));
    }

    Hop route() {
        Optional<Cidr> route = routed();
        Cidr host = Cidr.host(trip.question().to());
        return route.isPresent()
                ? Hop.passes(Hop.Kind.ROUTE, trip.label(), "the file's reach", route.get() + " goes through the tunnel")
                : Hop.fails(
                                Hop.Kind.ROUTE,
                                trip.label(),
                                "the file's reach",
                                trip.question().to() + " is in none of the networks that go through the tunnel")
                        .fixedBy("Renew " + trip.label() + " with " + home(host) + " in its reach");
    }

    /** The recorded network that holds an address, else the address alone. */
    private Cidr home(Cidr host) {
        return trip.office().sites().stream()
                .flatMap(s -> s.networks().stream())
                .map(Network::network)
                .filter(n -> n.contains(host))
                .findFirst()
                .orElse(host);
    }

    Hop overlap() {
        Optional<Cidr> lan = trip.question().place().lan();
        Cidr route = routed().orElseThrow();
        boolean local = lan.filter(l -> l.contains(trip.question().to()) && l.prefix() >= route.prefix())
                .isPresent();
        boolean clash = lan.filter(l -> trip.listener().tunnels().stream().anyMatch(l::overlaps))
                .isPresent();
        String where = trip.question().place().standing().word();
        if (local) {
            return Hop.fails(
                            Hop.Kind.OVERLAP,
                            where,
                            "the place's own network",
                            trip.question().to() + " is also in the place's own network " + lan.get()
                                    + ": the device looks for it there")
                    .fixedBy("Renew " + trip.label() + " with "
                            + Cidr.host(trip.question().to())
                            + " in its reach: a narrower route wins over the place's network");
        } else if (clash) {
            return Hop.fails(
                            Hop.Kind.OVERLAP,
                            where,
                            "the place's own network",
                            "the place's network " + lan.get() + " shares addresses with the tunnel network")
                    .fixedBy("Use another line there, such as a phone's");
        } else {
            return Hop.passes(
                    Hop.Kind.OVERLAP,
                    where,
                    "the place's own network",
                    lan.map(l -> l + " does not take the packet").orElse("the place's network is not known"));
        }
    }

    Hop insideFilter() {
        FilterRule.Packet packet = new FilterRule.Packet(
                false,
                Side.TUNNEL,
                trip.question().port().map(PortSpec::transport),
                trip.question().port().map(PortSpec::port),
                trip.listener().tunnels().stream()
                        .findFirst()
                        .map(t -> t.first().plus(1)),
                Optional.of(trip.question().to()));
        Filter.Decision decision = trip.gateway().device().filter().decide(packet);
        String what = trip.question().port().map(PortSpec::toString).orElse("echo") + " to "
                + trip.question().to();
        if (decision.allow()) {
            return Hop.passes(
                    Hop.Kind.INSIDE_FILTER, trip.gateway().name(), decision.by(), "lets " + what + " through");
        }
        FilterRule rule = new FilterRule(
                true,
                false,
                Optional.of(Side.TUNNEL),
                trip.question().port().map(PortSpec::transport),
                trip.question().port().map(d -> PortRange.of(d.port())).orElse(PortRange.ANY),
                Optional.empty(),
                Optional.of(Cidr.host(trip.question().to())),
                "from the tunnel");
        return Hop.fails(
                        Hop.Kind.INSIDE_FILTER,
                        trip.gateway().name(),
                        decision.by(),
                        decision.by() + " denies " + what + " for people in the tunnel")
                .fixedBy(
                        trip.gateway().name(),
                        new FirewallChange.PutRule(
                                decision.rule()
                                        .orElse(trip.gateway()
                                                        .device()
                                                        .filter()
                                                        .rules()
                                                        .size()
                                                + 1),
                                rule));
    }

    Hop host() {
        Optional<Office.Site> site = trip.office().sites().stream()
                .filter(s -> s.networks().stream()
                        .anyMatch(n -> n.network().contains(trip.question().to())))
                .findFirst();
        boolean own = trip.gateway().device().networks().stream()
                .anyMatch(n -> n.network().contains(trip.question().to()));
        boolean here =
                own || site.filter(s -> s.name().equals(trip.gateway().site())).isPresent();
        if (here) {
            return Hop.passes(
                    Hop.Kind.HOST,
                    trip.gateway().site(),
                    "the site's networks",
                    trip.question().to() + " is at this site");
        } else if (site.isPresent() && isJoined(site.get())) {
            return Hop.passes(
                    Hop.Kind.HOST,
                    site.get().name(),
                    "the joined sites",
                    trip.question().to() + " is at " + site.get().name() + ", which is joined");
        } else {
            return Hop.fails(
                            Hop.Kind.HOST,
                            trip.gateway().site(),
                            "the site's networks",
                            site.map(s -> trip.question().to() + " is at " + s.name() + ", and nothing joins "
                                            + trip.gateway().site() + " to it")
                                    .orElse("no recorded network holds "
                                            + trip.question().to()))
                    .fixedBy(site.map(s -> "Use a gateway at " + s.name() + ", or join the two sites")
                            .orElse("Record the network: tender site set "
                                    + trip.gateway().site() + " --network NAME="
                                    + Cidr.of(
                                            trip.question().to(),
                                            trip.question().to().isV4() ? 24 : 64)));
        }
    }

    private boolean isJoined(Office.Site site) {
        return trip.office().joined().stream()
                .anyMatch(j -> reaches(j.one(), j.other(), site) || reaches(j.other(), j.one(), site));
    }

    private boolean reaches(String near, String far, Office.Site site) {
        return near.equals(trip.gateway().name())
                && trip.office()
                        .gateway(far)
                        .filter(g -> g.site().equals(site.name()))
                        .isPresent();
    }

    Hop back() {
        Optional<Network> clash = trip.office().sites().stream()
                .filter(s -> s.name().equals(trip.gateway().site()))
                .flatMap(s -> s.networks().stream())
                .filter(n -> n.network().contains(trip.question().to())
                        && trip.listener().tunnels().stream().anyMatch(n.network()::overlaps))
                .findFirst();
        if (clash.isPresent()) {
            Cidr tunnel = trip.listener().tunnels().get(0);
            Optional<Cidr> free = new FreeNetworks(trip.office()).like(tunnel);
            Hop fails = Hop.fails(
                    Hop.Kind.BACK,
                    trip.gateway().site(),
                    "the address plan",
                    "the tunnel network " + tunnel + " shares addresses with "
                            + clash.get().network() + ": answers stay in the office");
            return free.isPresent()
                    ? fails.fixedBy(
                            trip.gateway().name(),
                            new ListenerChange.SetListener(
                                    trip.listener().name(),
                                    Map.of(Attribute.TUNNEL_NETWORK, free.get().toString())))
                    : fails.fixedBy("Move the tunnel network to a free one");
        }
        Optional<Office.Gateway> before = trip.chain().gateways().size() < 2
                ? Optional.empty()
                : Optional.of(
                        trip.chain().gateways().get(trip.chain().gateways().size() - 2));
        boolean aside =
                before.filter(g -> g.site().equals(trip.gateway().site())).isPresent();
        return aside && trip.listener().protocol() != Protocol.L2TP_IPSEC
                ? Hop.unknown(
                        Hop.Kind.BACK,
                        trip.gateway().site(),
                        "the records",
                        "hosts answer through " + before.get().name() + ", which must send "
                                + trip.listener().tunnels().get(0) + " to "
                                + trip.gateway().name())
                : Hop.passes(
                        Hop.Kind.BACK,
                        trip.gateway().site(),
                        "the records",
                        "answers go out through " + trip.gateway().name());
    }
}
