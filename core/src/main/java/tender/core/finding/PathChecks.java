package tender.core.finding;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.FirewallChange;
import tender.core.office.Listener;
import tender.core.office.ListenerChange;
import tender.core.office.Office;
import tender.core.office.Protocol.PortSpec;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.walk.Hop;

/** Rules over the way in: forwards, filters, and where a listener waits. */
final class PathChecks {
    private PathChecks() {}

    static void listener(
            Office office,
            Office.Gateway g,
            Listener l,
            Approach.Chain chain,
            List<Office.IssuedProfile> issued,
            Sink sink) {
        if (disagree(g, l, chain, issued, sink)) {
            return;
        }
        List<PortSpec> called = l.protocol().fixedPorts().isEmpty()
                ? Called.port(chain, l).map(List::of).orElse(List.of())
                : l.ports();
        for (PortSpec port : called) {
            List<Hop> hops = Approach.walk(office, chain, l, port);
            Hop last = hops.get(hops.size() - 1);
            if (!last.passes()) {
                judge(g, l, last, sink);
                return;
            }
        }
    }

    private static void judge(Office.Gateway g, Listener l, Hop hop, Sink sink) {
        Optional<Rule> rule = switch (hop.kind()) {
            case FORWARD ->
                Optional.of(hop.decidedBy().equals("no forward") ? Rule.FORWARD_MISSING : Rule.FORWARD_WRONG);
            case FILTER, FILTER_IN_FRONT ->
                Optional.of(
                        hop.remedy()
                                        .flatMap(Hop.Remedy::change)
                                        .filter(c -> c instanceof FirewallChange.MoveRule)
                                        .isPresent()
                                ? Rule.RULE_SHADOWED
                                : Rule.FILTER_DENIES);
            case LISTENER ->
                l.is(Attribute.ACTIVE, "no")
                        ? Optional.<Rule>empty() // a rule of its own says so
                        : Optional.of(Rule.LISTENER_BOUND_INSIDE);
            default -> Optional.<Rule>empty(); // the line has rules of its own
        };
        rule.ifPresent(r -> {
            Sink.Draft draft = sink.listener(r, g, l, hop.detail());
            hop.remedy().ifPresent(remedy -> {
                draft.remedy(remedy.words());
                if (remedy.gateway().isPresent() && remedy.change().isPresent()) {
                    draft.fix(remedy.gateway().get(), remedy.change().get());
                }
            });
            draft.put();
        });
    }

    /**
     * The four places that must agree: listener, filter, forward and files. Where the listener's own port is shut and
     * another that nobody listens on is open, or most files call another, the odd one is named.
     */
    private static boolean disagree(
            Office.Gateway g, Listener l, Approach.Chain chain, List<Office.IssuedProfile> issued, Sink sink) {
        if (!l.protocol().fixedPorts().isEmpty() || l.ports().isEmpty()) {
            return false;
        }
        PortSpec own = l.ports().get(0);
        boolean direct = chain.gateways().size() == 1;
        Map<String, PortSpec> places = new java.util.LinkedHashMap<>();
        places.put("the listener", own);
        filterPort(g, own).ifPresent(d -> places.put("the filter", d));
        if (!direct) {
            forwardPort(chain, own).ifPresent(d -> places.put("the forward", d));
        }
        filePort(issued)
                .filter(d -> direct || !Called.port(chain, l).filter(d::equals).isPresent())
                .ifPresent(d -> places.put("the file", d));
        Map<PortSpec, List<String>> sides = new java.util.LinkedHashMap<>();
        places.forEach((place, port) ->
                sides.computeIfAbsent(port, d -> new ArrayList<>()).add(place));
        if (places.size() < 3 || sides.size() != 2) {
            return false; // two places alone cannot tell which is odd; what is wrong there has a rule of its own
        }
        List<List<String>> bySize = sides.values().stream()
                .sorted(java.util.Comparator.comparingInt(List::size))
                .toList();
        if (bySize.get(0).size() == bySize.get(1).size()) {
            return false;
        }
        String odd = String.join(" and ", bySize.get(0));
        PortSpec right = places.get(bySize.get(1).get(0));
        String evidence = String.join(
                ", ",
                places.entrySet().stream()
                        .map(e -> e.getKey() + " says " + e.getValue())
                        .toList());
        Sink.Draft draft = sink.listener(Rule.PORTS_DISAGREE, g, l, evidence + ": " + odd + " differs")
                .remedy("Change " + odd + " to " + right);
        if (odd.equals("the listener")) {
            draft.fix(
                    g.name(),
                    new ListenerChange.SetListener(
                            l.name(),
                            Map.of(
                                    Attribute.PORT,
                                    right.port().toString(),
                                    Attribute.TRANSPORT,
                                    right.transport().word())));
        } else if (odd.equals("the filter")) {
            draft.fix(g.name(), new FirewallChange.PutRule(1, FilterRule.allowPort(own, l.name())));
        }
        draft.put();
        return true;
    }

    /** The listener's own port where the filter opens it, else a single port it opens that no listener uses. */
    private static Optional<PortSpec> filterPort(Office.Gateway g, PortSpec own) {
        Filter filter = g.device().filter();
        if (filter.rules().isEmpty()) {
            return Optional.empty();
        }
        if (filter.decide(FilterRule.Packet.connection(own)).allow()) {
            return Optional.of(own);
        }
        Set<PortSpec> used = new HashSet<>();
        g.device().listeners().forEach(l -> used.addAll(l.ports()));
        List<PortSpec> strays = filter.rules().stream()
                .filter(r -> r.allow()
                        && r.toDevice()
                        && r.transport().isPresent()
                        && r.ports().isSingle())
                .map(r -> new PortSpec(
                        r.transport().get(),
                        new tender.core.network.Port(r.ports().first())))
                .filter(d -> !used.contains(d))
                .distinct()
                .toList();
        return strays.size() == 1 ? Optional.of(strays.get(0)) : Optional.empty();
    }

    /** The inside port that the gateway in front forwards to here. */
    private static Optional<PortSpec> forwardPort(Approach.Chain chain, PortSpec own) {
        int last = chain.gateways().size() - 1;
        Optional<IpAddress> inner = chain.gateways().get(last).device().outsideAddress();
        List<PortSpec> ports = chain.gateways().get(last - 1).device().forwards().stream()
                .filter(f -> inner.filter(f.to()::equals).isPresent())
                .map(f -> new PortSpec(f.transport(), f.toPort()))
                .toList();
        return ports.contains(own)
                ? Optional.of(own)
                : ports.size() == 1 ? Optional.of(ports.get(0)) : Optional.empty();
    }

    /** The port that most files call. */
    private static Optional<PortSpec> filePort(List<Office.IssuedProfile> issued) {
        Map<PortSpec, Integer> count = new HashMap<>();
        issued.forEach(h -> h.endpoints().stream()
                .findFirst()
                .ifPresent(e -> count.merge(new PortSpec(e.transport(), e.port()), 1, Integer::sum)));
        return count.entrySet().stream().max(Map.Entry.comparingByValue()).map(Map.Entry::getKey);
    }
}
