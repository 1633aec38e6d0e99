package tender.core.walk;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.office.Attribute;
import tender.core.office.DeviceChange;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.FirewallChange;
import tender.core.office.Forward;
import tender.core.office.Listener;
import tender.core.office.ListenerChange;
import tender.core.office.Office;
import tender.core.office.Protocol.PortSpec;
import tender.core.office.Uplink;

/**
 * The way of a connection from the internet to a listener, worked out from the records: the line, the forwards of gateways in
 * front, their filters, the gateway's own filter, where the listener is bound and whether it is active.
 *
 * <p>This is the one place that decides it; findings and the route walk both ask here.
 */
public final class Approach {
    private static final int MAX_IN_FRONT = 4;

    private Approach() {}

    /** The gateways from the one that faces the internet to the one that listens; the line of the first. */
    public record Chain(List<Office.Gateway> gateways, Optional<Uplink> line, Optional<String> broken) {
        public Office.Gateway outermost() {
            return gateways.get(0);
        }

        /** Where the line's address is known: fixed, or what its name leads to. */
        public List<IpAddress> addresses(Office office) {
            if (line.isEmpty()) {
                return List.of();
            }
            Uplink uplink = line.get();
            Optional<HostName> name = uplink.name().filter(n -> uplink.address().isEmpty());
            return name.map(n -> office.names().getOrDefault(n, List.of()))
                    .orElseGet(() -> uplink.address().map(List::of).orElse(List.of()));
        }
    }

    /** Follows the records from a gateway to whatever stands before it. */
    public static Chain chain(Office office, Office.Gateway gateway) {
        List<Office.Gateway> out = new ArrayList<>(List.of(gateway));
        Set<String> seen = new HashSet<>(Set.of(gateway.name()));
        while (true) {
            Office.Gateway first = out.get(0);
            Optional<Uplink> line = first.uplinks().stream().findFirst();
            Optional<String> before =
                    line.filter(u -> u.kind() == Uplink.Kind.BEHIND).flatMap(Uplink::behind);
            if (before.isEmpty()) {
                return new Chain(out, line, Optional.empty());
            }
            Optional<Office.Gateway> front = office.gateway(before.get());
            if (front.isEmpty()) {
                return new Chain(
                        out,
                        line,
                        Optional.of(first.name() + " stands behind " + before.get() + ", which is not recorded"));
            }
            if (!seen.add(before.get()) || out.size() > MAX_IN_FRONT) {
                return new Chain(
                        out, line, Optional.of(first.name() + " and " + before.get() + " stand behind each other"));
            }
            out.add(0, front.get());
        }
    }

    /** Walks one port; gives every hop up to the first that fails. */
    public static List<Hop> walk(Office office, Chain chain, Listener listener, PortSpec called) {
        List<Hop> out = new ArrayList<>();
        out.add(line(chain));
        PortSpec port = called;
        for (int i = 0; i + 1 < chain.gateways().size() && passes(out); i++) {
            Office.Gateway front = chain.gateways().get(i);
            Office.Gateway next = chain.gateways().get(i + 1);
            boolean last = i + 2 == chain.gateways().size();
            Optional<PortSpec> inside = forward(out, front, next, port, last ? listener : null);
            if (inside.isEmpty()) {
                return out;
            }
            port = inside.get();
            throughFilter(out, front, next, port);
        }
        if (passes(out)) {
            arrive(out, chain.gateways().get(chain.gateways().size() - 1), listener, port);
        }
        return out;
    }

    private static boolean passes(List<Hop> hops) {
        return hops.get(hops.size() - 1).passes();
    }

    private static Hop line(Chain chain) {
        String name = chain.outermost().name();
        if (chain.broken().isPresent()) {
            return Hop.fails(
                    Hop.Kind.LINE, name, "the uplink's record", chain.broken().get());
        }
        if (chain.line().isEmpty()) {
            return Hop.unknown(
                            Hop.Kind.LINE,
                            name,
                            "no record",
                            "how " + name + " is reached from outside is not recorded")
                    .fixedBy("tender gateway set " + name + " --uplink fixed:ADDRESS");
        }
        Uplink line = chain.line().get();
        if (line.kind() == Uplink.Kind.CARRIER_NAT) {
            return Hop.fails(
                            Hop.Kind.LINE,
                            name,
                            "the uplink's record",
                            "the line shares its address with other customers: nobody outside can call it")
                    .fixedBy(
                            "Ask the provider for an address of its own, or let this gateway call one that can be reached");
        }
        return Hop.passes(Hop.Kind.LINE, name, "the uplink's record", line.words());
    }

    private static Optional<PortSpec> forward(
            List<Hop> out, Office.Gateway front, Office.Gateway next, PortSpec port, Listener listener) {
        Optional<IpAddress> inner = next.device().outsideAddress();
        List<Forward> all = front.device().forwards();
        for (int i = 0; i < all.size(); i++) {
            Forward f = all.get(i);
            if (!f.takes(port)) {
                continue;
            }
            String by = "forward " + (i + 1);
            if (inner.isPresent() && !f.to().equals(inner.get())) {
                Forward right = new Forward(port.transport(), port.port(), inner.get(), f.toPort(), f.label());
                out.add(Hop.fails(
                                Hop.Kind.FORWARD,
                                front.name(),
                                by,
                                by + " passes " + port + " on to " + f.to() + ", but " + next.name() + " is "
                                        + inner.get())
                        .fixedBy(front.name(), new FirewallChange.PutForward(right)));
                return Optional.empty();
            }
            out.add(Hop.passes(Hop.Kind.FORWARD, front.name(), by, by + " passes " + f.words()));
            return Optional.of(new PortSpec(f.transport(), f.toPort()));
        }
        Port inside = listener == null ? port.port() : listener.port().orElse(port.port());
        Optional<Forward> near = all.stream()
                .filter(f ->
                        inner.filter(f.to()::equals).isPresent() && f.toPort().equals(inside))
                .findFirst();
        Hop missing = Hop.fails(
                Hop.Kind.FORWARD,
                front.name(),
                "no forward",
                front.name() + " has no forward for " + port
                        + near.map(f -> "; it forwards " + f.words()).orElse(""));
        out.add(
                inner.isPresent()
                        ? missing.fixedBy(
                                front.name(),
                                new FirewallChange.PutForward(
                                        new Forward(port.transport(), port.port(), inner.get(), inside, next.name())))
                        : missing.fixedBy("Record " + next.name() + "'s address towards " + front.name()));
        return Optional.empty();
    }

    private static void throughFilter(List<Hop> out, Office.Gateway front, Office.Gateway next, PortSpec port) {
        Optional<IpAddress> inner = next.device().outsideAddress();
        if (inner.isEmpty()) {
            return;
        }
        FilterRule.Packet packet = FilterRule.Packet.through(port, inner.get());
        Filter filter = front.device().filter();
        Filter.Decision decision = filter.decide(packet);
        if (decision.allow()) {
            out.add(Hop.passes(
                    Hop.Kind.FILTER_IN_FRONT,
                    front.name(),
                    decision.by(),
                    "lets " + port + " through to " + inner.get()));
            return;
        }
        FilterRule rule = new FilterRule(
                true,
                false,
                Optional.of(tender.core.office.Side.OUTSIDE),
                Optional.of(port.transport()),
                tender.core.office.PortRange.of(port.port()),
                Optional.empty(),
                Optional.of(tender.core.network.Cidr.host(inner.get())),
                next.name());
        out.add(refused(Hop.Kind.FILTER_IN_FRONT, front, decision, packet, rule, port + " to " + inner.get()));
    }

    /** The smallest change that lets the packet in: an allowing rule further down moves up, else one is put in. */
    private static Hop refused(
            Hop.Kind kind,
            Office.Gateway gateway,
            Filter.Decision decision,
            FilterRule.Packet packet,
            FilterRule fresh,
            String what) {
        Filter filter = gateway.device().filter();
        int at = decision.rule().orElse(filter.rules().size() + 1);
        for (int n = at + 1; n <= filter.rules().size(); n++) {
            if (filter.rules().get(n - 1).allow() && filter.rules().get(n - 1).takes(packet)) {
                return Hop.fails(
                                kind,
                                gateway.name(),
                                decision.by(),
                                decision.by() + " denies " + what + " before rule " + n
                                        + ", which allows it, is reached")
                        .fixedBy(gateway.name(), new FirewallChange.MoveRule(n, at));
            }
        }
        return Hop.fails(kind, gateway.name(), decision.by(), decision.by() + " denies " + what)
                .fixedBy(gateway.name(), new FirewallChange.PutRule(at, fresh));
    }

    private static void arrive(List<Hop> out, Office.Gateway gateway, Listener listener, PortSpec port) {
        FilterRule.Packet packet = FilterRule.Packet.connection(port);
        Filter.Decision decision = gateway.device().filter().decide(packet);
        if (!decision.allow()) {
            out.add(refused(
                    Hop.Kind.FILTER,
                    gateway,
                    decision,
                    packet,
                    FilterRule.allowPort(port, listener.name()),
                    port.toString()));
            return;
        }
        out.add(Hop.passes(Hop.Kind.FILTER, gateway.name(), decision.by(), "lets " + port + " in"));
        if (!listener.ports().contains(port)) {
            String ports = String.join(
                    ", ", listener.ports().stream().map(PortSpec::toString).toList());
            out.add(Hop.fails(
                    Hop.Kind.LISTENER,
                    gateway.name(),
                    listener.name(),
                    "nothing waits on " + port + ": " + listener.name() + " is on " + ports));
            return;
        }
        Optional<String> bind = listener.get(Attribute.BIND);
        if (bind.isPresent() && !gateway.device().facesOutside(bind.get())) {
            out.add(Hop.fails(
                            Hop.Kind.LISTENER,
                            gateway.name(),
                            listener.name(),
                            listener.name() + " waits on " + bind.get() + ", which does not face outside")
                    .fixedBy(
                            gateway.name(),
                            new ListenerChange.SetListener(listener.name(), java.util.Map.of(Attribute.BIND, "any"))));
            return;
        }
        if (listener.is(Attribute.ACTIVE, "no")) {
            out.add(Hop.fails(
                            Hop.Kind.LISTENER,
                            gateway.name(),
                            listener.name(),
                            listener.name() + " is written but not active")
                    .fixedBy(gateway.name(), new DeviceChange.Reload()));
            return;
        }
        out.add(Hop.passes(
                Hop.Kind.LISTENER,
                gateway.name(),
                listener.name(),
                listener.name() + " waits on " + port
                        + bind.map(b -> ", bound to " + b).orElse("")));
    }
}
