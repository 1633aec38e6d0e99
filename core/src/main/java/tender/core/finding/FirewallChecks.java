package tender.core.finding;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.FirewallChange;
import tender.core.office.Forward;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.PortRange;
import tender.core.office.Protocol.PortSpec;
import tender.core.office.Side;

/** Rules over what a gateway's firewall forwards and lets through, whoever its listeners serve. */
final class FirewallChecks {
    private FirewallChecks() {}

    /** Rules over a whole gateway: claims, unused ports, wide rules. */
    static void gateway(Office office, Office.Gateway g, List<Office.Gateway> behind, Sink sink) {
        claims(g, sink);
        unusedForwards(g, behind, sink);
        wideRules(g, sink);
        shadowed(g, sink);
        tunnels(office, g, sink);
    }

    private static void claims(Office.Gateway g, Sink sink) {
        Map<PortSpec, Listener> taken = new HashMap<>();
        for (Listener l : g.device().listeners()) {
            for (PortSpec port : l.ports()) {
                Listener first = taken.putIfAbsent(port, l);
                boolean bothIpsec = first != null
                        && !first.protocol().fixedPorts().isEmpty()
                        && !l.protocol().fixedPorts().isEmpty();
                if (first != null && !bothIpsec && !apart(first, l)) {
                    sink.listener(
                                    Rule.PORT_CLAIMED_TWICE,
                                    g,
                                    l,
                                    first.name() + " and " + l.name() + " both use " + port)
                            .put();
                }
            }
        }
        for (Forward f : g.device().forwards()) {
            Listener own = taken.get(new PortSpec(f.transport(), f.port()));
            if (own != null) {
                sink.listener(
                                Rule.PORT_CLAIMED_TWICE,
                                g,
                                own,
                                own.name() + " and the forward " + f.words() + " both use "
                                        + f.transport().word() + " " + f.port())
                        .put();
            }
        }
    }

    /** Whether two listeners wait on different addresses. */
    private static boolean apart(Listener one, Listener other) {
        Optional<String> a = one.get(Attribute.BIND).filter(b -> !b.equals("any"));
        Optional<String> b = other.get(Attribute.BIND).filter(x -> !x.equals("any"));
        return a.isPresent() && b.isPresent() && !a.equals(b);
    }

    private static void unusedForwards(Office.Gateway g, List<Office.Gateway> behind, Sink sink) {
        Set<IpAddress> listening = new HashSet<>();
        Set<String> needed = new HashSet<>();
        for (Office.Gateway b : behind) {
            b.device().outsideAddress().ifPresent(address -> {
                listening.add(address);
                b.device().listeners().forEach(l -> l.ports().forEach(d -> needed.add(d + " " + address)));
            });
        }
        int number = 0;
        for (Forward f : g.device().forwards()) {
            number++;
            PortSpec inside = new PortSpec(f.transport(), f.toPort());
            if (listening.contains(f.to()) && !needed.contains(inside + " " + f.to())) {
                PortSpec port = new PortSpec(f.transport(), f.port());
                sink.part(
                                Rule.PORT_OPEN_UNUSED,
                                g,
                                "forward " + port,
                                "forward " + number + " passes " + f.words() + ", where no listener is")
                        .fix(g.name(), new FirewallChange.DropForward(port))
                        .put();
            }
        }
    }

    /** Rules that let anybody in: to everything, or to a port where no listener waits. */
    private static void wideRules(Office.Gateway g, Sink sink) {
        Set<PortSpec> own = new HashSet<>();
        g.device().listeners().forEach(l -> own.addAll(l.ports()));
        for (int n = 1; n <= g.device().filter().rules().size(); n++) {
            FilterRule r = g.device().filter().rules().get(n - 1);
            if (!isForAnyone(r)) {
                continue;
            }
            if (r.ports().isAny()) {
                sink.part(Rule.RULE_TOO_WIDE, g, "rule " + n, "filter rule " + n + ": " + r.words())
                        .fix(g.name(), narrowed(n, r))
                        .put();
            } else if (r.transport().isPresent() && r.ports().isSingle()) {
                PortSpec port = new PortSpec(
                        r.transport().get(),
                        new tender.core.network.Port(r.ports().first()));
                if (!own.contains(port)) {
                    sink.part(
                                    Rule.PORT_OPEN_UNUSED,
                                    g,
                                    "rule " + port,
                                    "filter rule " + n + ": " + r.words() + ", and no listener uses it")
                            .fix(g.name(), new FirewallChange.DropRule(n))
                            .put();
                }
            }
        }
    }

    private static boolean isForAnyone(FilterRule r) {
        boolean fromOutside = r.allow()
                && r.toDevice()
                && r.via().filter(v -> v != Side.OUTSIDE).isEmpty();
        return fromOutside && r.source().filter(s -> !s.isEverything()).isEmpty();
    }

    /** One for all sides still lets the inside in, where the administrator may come from. */
    private static Change narrowed(int number, FilterRule r) {
        if (r.via().isPresent()) {
            return new FirewallChange.DropRule(number);
        }
        return new FirewallChange.ReplaceRule(
                number,
                new FilterRule(
                        true,
                        true,
                        Optional.of(Side.INSIDE),
                        r.transport(),
                        r.ports(),
                        r.source(),
                        r.destination(),
                        r.label()));
    }

    private static void shadowed(Office.Gateway g, Sink sink) {
        List<FilterRule> rules = g.device().filter().rules();
        for (int later = 1; later < rules.size(); later++) {
            for (int earlier = 0; earlier < later; earlier++) {
                if (rules.get(earlier).covers(rules.get(later))) {
                    FilterRule r = rules.get(later);
                    boolean opensOwnPort = r.allow() && !rules.get(earlier).allow() && needed(g, r);
                    if (!opensOwnPort) { // that case breaks a listener and is told as such
                        sink.part(
                                        Rule.RULE_WITHOUT_EFFECT,
                                        g,
                                        "rule " + r.words(),
                                        "filter rule " + (later + 1) + " (" + r.words() + ") comes after rule "
                                                + (earlier + 1) + " ("
                                                + rules.get(earlier).words() + ")")
                                .fix(g.name(), new FirewallChange.DropRule(later + 1))
                                .put();
                    }
                    break;
                }
            }
        }
    }

    private static boolean needed(Office.Gateway g, FilterRule rule) {
        return g.device().listeners().stream()
                .flatMap(l -> l.ports().stream())
                .anyMatch(d -> rule.takes(FilterRule.Packet.connection(d)));
    }

    /** Whether the filter lets connected people into the inside networks that their listener promises. */
    private static void tunnels(Office office, Office.Gateway g, Sink sink) {
        if (g.device().filter().rules().isEmpty()) {
            return;
        }
        List<Cidr> inside = new ArrayList<>();
        office.site(g.site()).ifPresent(s -> s.networks().forEach(n -> inside.add(n.network())));
        for (Listener l : g.device().listeners()) {
            for (Cidr network : inside) {
                boolean promised = l.reach().stream().anyMatch(r -> r.contains(network));
                Optional<IpAddress> target = g.device()
                        .insideHost()
                        .filter(network::contains)
                        .or(() -> Optional.of(network.first().plus(1)));
                FilterRule.Packet echo = new FilterRule.Packet(
                        false,
                        Side.TUNNEL,
                        Optional.empty(),
                        Optional.empty(),
                        l.tunnels().stream().findFirst().map(t -> t.first().plus(1)),
                        target);
                Filter.Decision decision = g.device().filter().decide(echo);
                if (promised && !decision.allow()) {
                    int at = decision.rule().orElse(g.device().filter().rules().size() + 1);
                    FilterRule rule = new FilterRule(
                            true,
                            false,
                            Optional.of(Side.TUNNEL),
                            Optional.empty(),
                            PortRange.ANY,
                            Optional.empty(),
                            Optional.of(network),
                            "from the tunnel");
                    sink.listener(
                                    Rule.TUNNEL_MAY_NOT_REACH,
                                    g,
                                    l,
                                    decision.by() + " denies traffic from the tunnel to " + network)
                            .remedy("On " + g.name() + ", " + new FirewallChange.PutRule(at, rule).words())
                            .fix(g.name(), new FirewallChange.PutRule(at, rule))
                            .put();
                }
            }
        }
    }
}
