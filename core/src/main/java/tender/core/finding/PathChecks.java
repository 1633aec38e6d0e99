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
import tender.core.office.Forward;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.PortRange;
import tender.core.office.Protocol.Door;
import tender.core.office.Side;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.walk.Hop;

/** Rules over the way in: forwards, filters, where a listener waits, and doors that nobody needs. */
final class PathChecks {
    private PathChecks() {}

    static void listener(
            Office office,
            Office.Gateway g,
            Listener l,
            Approach.Chain chain,
            List<Office.Holding> holders,
            Sink sink) {
        if (disagree(g, l, chain, holders, sink)) {
            return;
        }
        List<Door> called = l.protocol().fixedDoors().isEmpty()
                ? Called.door(chain, l).map(List::of).orElse(List.of())
                : l.doors();
        for (Door door : called) {
            List<Hop> hops = Approach.walk(office, chain, l, door);
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
                                        .filter(c -> c instanceof Change.MoveRule)
                                        .isPresent()
                                ? Rule.RULE_SHADOWED
                                : Rule.FILTER_DENIES);
            case LISTENER ->
                l.is(Attribute.IN_FORCE, "no")
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
     * The four places that must agree: listener, filter, forward and files. Where the listener's own door is shut and
     * another that nobody listens on is open, or most files call another, the odd one is named.
     */
    private static boolean disagree(
            Office.Gateway g, Listener l, Approach.Chain chain, List<Office.Holding> holders, Sink sink) {
        if (!l.protocol().fixedDoors().isEmpty() || l.doors().isEmpty()) {
            return false;
        }
        Door own = l.doors().get(0);
        boolean direct = chain.gateways().size() == 1;
        Map<String, Door> places = new java.util.LinkedHashMap<>();
        places.put("the listener", own);
        filterDoor(g, own).ifPresent(d -> places.put("the filter", d));
        if (!direct) {
            forwardDoor(chain, own).ifPresent(d -> places.put("the forward", d));
        }
        fileDoor(holders)
                .filter(d -> direct || !Called.door(chain, l).filter(d::equals).isPresent())
                .ifPresent(d -> places.put("the file", d));
        Map<Door, List<String>> sides = new java.util.LinkedHashMap<>();
        places.forEach((place, door) ->
                sides.computeIfAbsent(door, d -> new ArrayList<>()).add(place));
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
        Door right = places.get(bySize.get(1).get(0));
        String evidence = String.join(
                ", ",
                places.entrySet().stream()
                        .map(e -> e.getKey() + " says " + e.getValue())
                        .toList());
        Sink.Draft draft = sink.listener(Rule.DOORS_DISAGREE, g, l, evidence + ": " + odd + " is the odd one")
                .remedy("change " + odd + " to " + right);
        if (odd.equals("the listener")) {
            draft.fix(
                    g.name(),
                    new Change.SetListener(
                            l.name(),
                            Map.of(
                                    Attribute.PORT,
                                    right.port().toString(),
                                    Attribute.TRANSPORT,
                                    right.transport().word())));
        } else if (odd.equals("the filter")) {
            draft.fix(g.name(), new Change.PutRule(1, FilterRule.allowDoor(own, l.name())));
        }
        draft.put();
        return true;
    }

    /** The listener's own door where the filter opens it, else a single door it opens that no listener uses. */
    private static Optional<Door> filterDoor(Office.Gateway g, Door own) {
        Filter filter = g.device().filter();
        if (filter.rules().isEmpty()) {
            return Optional.empty();
        }
        if (filter.decide(FilterRule.Packet.knock(own)).allow()) {
            return Optional.of(own);
        }
        Set<Door> used = new HashSet<>();
        g.device().listeners().forEach(l -> used.addAll(l.doors()));
        List<Door> strays = filter.rules().stream()
                .filter(r -> r.allow() && r.toDevice() && r.transport().isPresent() && single(r.ports()))
                .map(r -> new Door(
                        r.transport().get(),
                        new tender.core.network.Port(r.ports().first())))
                .filter(d -> !used.contains(d))
                .distinct()
                .toList();
        return strays.size() == 1 ? Optional.of(strays.get(0)) : Optional.empty();
    }

    /** The inside door that the gateway in front forwards to here. */
    private static Optional<Door> forwardDoor(Approach.Chain chain, Door own) {
        int last = chain.gateways().size() - 1;
        Optional<IpAddress> inner = chain.gateways().get(last).device().outsideAddress();
        List<Door> doors = chain.gateways().get(last - 1).device().forwards().stream()
                .filter(f -> inner.filter(f.to()::equals).isPresent())
                .map(f -> new Door(f.transport(), f.toPort()))
                .toList();
        return doors.contains(own)
                ? Optional.of(own)
                : doors.size() == 1 ? Optional.of(doors.get(0)) : Optional.empty();
    }

    /** The door that most files call. */
    private static Optional<Door> fileDoor(List<Office.Holding> holders) {
        Map<Door, Integer> count = new HashMap<>();
        holders.forEach(h -> h.endpoints().stream()
                .findFirst()
                .ifPresent(e -> count.merge(new Door(e.transport(), e.port()), 1, Integer::sum)));
        return count.entrySet().stream().max(Map.Entry.comparingByValue()).map(Map.Entry::getKey);
    }

    /** Rules over a whole gateway: claims, unused doors, wide rules. */
    static void gateway(Office office, Office.Gateway g, List<Office.Gateway> behind, Sink sink) {
        claims(g, sink);
        unused(g, behind, sink);
        shadowed(g, sink);
        tunnels(office, g, sink);
    }

    private static void claims(Office.Gateway g, Sink sink) {
        Map<Door, Listener> taken = new HashMap<>();
        for (Listener l : g.device().listeners()) {
            for (Door door : l.doors()) {
                Listener first = taken.putIfAbsent(door, l);
                boolean bothIpsec = first != null
                        && !first.protocol().fixedDoors().isEmpty()
                        && !l.protocol().fixedDoors().isEmpty();
                if (first != null && !bothIpsec && !apart(first, l)) {
                    sink.listener(
                                    Rule.DOOR_CLAIMED_TWICE,
                                    g,
                                    l,
                                    first.name() + " and " + l.name() + " both want " + door)
                            .put();
                }
            }
        }
        for (Forward f : g.device().forwards()) {
            Listener own = taken.get(new Door(f.transport(), f.port()));
            if (own != null) {
                sink.listener(
                                Rule.DOOR_CLAIMED_TWICE,
                                g,
                                own,
                                own.name() + " and the forward " + f.words() + " both want "
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

    private static void unused(Office.Gateway g, List<Office.Gateway> behind, Sink sink) {
        Set<IpAddress> listening = new HashSet<>();
        Set<String> needed = new HashSet<>();
        for (Office.Gateway b : behind) {
            b.device().outsideAddress().ifPresent(address -> {
                listening.add(address);
                b.device().listeners().forEach(l -> l.doors().forEach(d -> needed.add(d + " " + address)));
            });
        }
        Set<Door> own = new HashSet<>();
        g.device().listeners().forEach(l -> own.addAll(l.doors()));
        int number = 0;
        for (Forward f : g.device().forwards()) {
            number++;
            Door inside = new Door(f.transport(), f.toPort());
            if (listening.contains(f.to()) && !needed.contains(inside + " " + f.to())) {
                Door door = new Door(f.transport(), f.port());
                sink.part(
                                Rule.DOOR_OPEN_UNUSED,
                                g,
                                "forward " + door,
                                "forward " + number + " passes " + f.words() + ", where no listener waits")
                        .fix(g.name(), new Change.DropForward(door))
                        .put();
            }
        }
        for (int n = 1; n <= g.device().filter().rules().size(); n++) {
            FilterRule r = g.device().filter().rules().get(n - 1);
            boolean fromOutside = r.allow()
                    && r.toDevice()
                    && r.via().filter(v -> v != Side.OUTSIDE).isEmpty();
            if (!fromOutside || r.source().filter(s -> !s.isEverything()).isPresent()) {
                continue;
            }
            if (r.ports().isAny()) {
                // one for all sides still lets the inside in, where the administrator may come from
                Change narrowed = r.via().isPresent()
                        ? new Change.DropRule(n)
                        : new Change.ReplaceRule(
                                n,
                                new FilterRule(
                                        true,
                                        true,
                                        Optional.of(Side.INSIDE),
                                        r.transport(),
                                        r.ports(),
                                        r.source(),
                                        r.destination(),
                                        r.label()));
                sink.part(Rule.RULE_TOO_WIDE, g, "rule " + n, "filter rule " + n + ": " + r.words())
                        .fix(g.name(), narrowed)
                        .put();
            } else if (r.transport().isPresent() && single(r.ports())) {
                Door door = new Door(
                        r.transport().get(),
                        new tender.core.network.Port(r.ports().first()));
                if (!own.contains(door)) {
                    sink.part(
                                    Rule.DOOR_OPEN_UNUSED,
                                    g,
                                    "rule " + door,
                                    "filter rule " + n + ": " + r.words() + ", and no listener waits there")
                            .fix(g.name(), new Change.DropRule(n))
                            .put();
                }
            }
        }
    }

    private static boolean single(PortRange ports) {
        return ports.first() == ports.last();
    }

    private static void shadowed(Office.Gateway g, Sink sink) {
        List<FilterRule> rules = g.device().filter().rules();
        for (int later = 1; later < rules.size(); later++) {
            for (int earlier = 0; earlier < later; earlier++) {
                if (rules.get(earlier).covers(rules.get(later))) {
                    FilterRule r = rules.get(later);
                    boolean opensOwnDoor = r.allow() && !rules.get(earlier).allow() && needed(g, r);
                    if (!opensOwnDoor) { // that case breaks a listener and is told as such
                        sink.part(
                                        Rule.RULE_WITHOUT_EFFECT,
                                        g,
                                        "rule " + r.words(),
                                        "filter rule " + (later + 1) + " (" + r.words() + ") comes after rule "
                                                + (earlier + 1) + " ("
                                                + rules.get(earlier).words() + ")")
                                .fix(g.name(), new Change.DropRule(later + 1))
                                .put();
                    }
                    break;
                }
            }
        }
    }

    private static boolean needed(Office.Gateway g, FilterRule rule) {
        return g.device().listeners().stream()
                .flatMap(l -> l.doors().stream())
                .anyMatch(d -> rule.takes(FilterRule.Packet.knock(d)));
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
                    sink.listener(Rule.TUNNEL_MAY_NOT_REACH, g, l, decision.by() + " keeps the tunnel from " + network)
                            .remedy("at " + g.name() + ": " + new Change.PutRule(at, rule).words())
                            .fix(g.name(), new Change.PutRule(at, rule))
                            .put();
                }
            }
        }
    }
}
