package tender.io.gateway;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.Forward;
import tender.core.office.PortRange;
import tender.core.office.Side;
import tender.core.wire.MalformedException;

/**
 * The rules of nftables as {@code nft -j list ruleset} prints them (libnftables-json(5)): what decides new connections to and through
 * the device, and where connections are forwarded. A rule that asks for something else than interface, address, transport, port
 * and state is left out, as it cannot be said what it does to a new connection. Of several chains of one hook, the one that drops what
 * no rule takes counts.
 */
final class NftRuleset {
    private static final int DEEPEST = 8;
    private static final int MOST = 10_000;
    private static final Set<String> FAMILIES = Set.of("ip", "inet");
    private static final Set<String> SAYS_NOTHING = Set.of("counter", "log", "limit", "comment");

    private final Map<String, Side> sides;
    private final Map<String, List<JsonNode>> rules = new LinkedHashMap<>();
    private final Map<String, JsonNode> sets = new HashMap<>();
    private final List<JsonNode> chains = new ArrayList<>();
    private final List<FilterRule> filter = new ArrayList<>();
    private final List<Forward> forwards = new ArrayList<>();

    private NftRuleset(JsonNode ruleset, Map<String, Side> sides) {
        this.sides = sides;
        for (JsonNode entry : ruleset.path("nftables")) {
            JsonNode rule = entry.path("rule");
            JsonNode set = entry.has("set") ? entry.path("set") : entry.path("map");
            if (FAMILIES.contains(rule.path("family").asText())) {
                rules.computeIfAbsent(chain(rule, rule.path("chain").asText()), c -> new ArrayList<>())
                        .add(rule);
            } else if (FAMILIES.contains(entry.path("chain").path("family").asText())) {
                chains.add(entry.path("chain"));
            } else if (FAMILIES.contains(set.path("family").asText())) {
                sets.put(chain(set, set.path("name").asText()), set.path("elem"));
            }
        }
    }

    /** @param sides of interfaces, by name */
    static NftRuleset read(JsonNode ruleset, Map<String, Side> sides) {
        NftRuleset read = new NftRuleset(ruleset, sides);
        read.hook("input", true);
        read.hook("forward", false);
        read.chains.stream()
                .filter(c -> c.path("type").asText().equals("nat")
                        && c.path("hook").asText().equals("prerouting"))
                .forEach(read::forwards);
        return read;
    }

    /** With a last rule for each hook that says what its chain does with the rest. */
    Filter filter() {
        return new Filter(filter, true);
    }

    List<Forward> forwards() {
        return forwards;
    }

    private static String chain(JsonNode in, String name) {
        return in.path("family").asText() + " " + in.path("table").asText() + " " + name;
    }

    private void hook(String hook, boolean toDevice) {
        chains.stream()
                .filter(c -> c.path("type").asText().equals("filter")
                        && c.path("hook").asText().equals(hook))
                .min(Comparator.comparing(c -> c.path("policy").asText().equals("drop") ? 0 : 1))
                .ifPresent(c -> {
                    walk(c, c.path("name").asText(), new NftCondition(toDevice), 0);
                    otherwise(c, new NftCondition(toDevice));
                });
    }

    /** What the chain of a hook does with what no rule of it takes. */
    private void otherwise(JsonNode hooked, NftCondition asked) {
        add(asked, hooked.path("policy").asText("accept").equals("accept"), "what no rule takes");
    }

    private void walk(JsonNode in, String name, NftCondition from, int depth) {
        if (depth > DEEPEST) {
            return;
        }
        for (JsonNode rule : rules.getOrDefault(chain(in, name), List.of())) {
            NftCondition asked = from.copy();
            String label = rule.path("comment").asText("");
            for (JsonNode expression : rule.path("expr")) {
                String kind = expression.fieldNames().next();
                if (kind.equals("match")) {
                    match(in, expression.path("match"), asked);
                } else if (kind.equals("accept") || kind.equals("drop") || kind.equals("reject")) {
                    add(asked, kind.equals("accept"), label);
                } else if (kind.equals("jump") || kind.equals("goto")) {
                    if (!asked.never()) {
                        walk(in, expression.path(kind).path("target").asText(), asked, depth + 1);
                    }
                    leaves(in, asked, depth, kind.equals("goto"));
                } else if (kind.equals("return")) {
                    leaves(in, asked, depth, true);
                } else if (!SAYS_NOTHING.contains(kind)) {
                    asked.neverIf(true);
                }
            }
        }
    }

    /** What leaves the chain of a hook has its policy; what leaves another goes on in a way that no list of rules says. */
    private void leaves(JsonNode in, NftCondition asked, int depth, boolean leaves) {
        if (leaves && depth == 0) {
            otherwise(in, asked);
        }
    }

    private void match(JsonNode in, JsonNode match, NftCondition asked) {
        JsonNode left = match.path("left");
        String op = match.path("op").asText();
        try {
            if (left.has("ct") && left.path("ct").path("key").asText().equals("state")) {
                asked.neverIf(texts(in, match.path("right")).contains("new") == op.equals("!="));
            } else if (!op.equals("==") && !op.equals("in")) {
                asked.neverIf(true);
            } else if (left.has("payload")) {
                payload(in, left.path("payload"), match.path("right"), asked);
            } else if (left.has("meta")) {
                meta(in, left.path("meta").path("key").asText(), match.path("right"), asked);
            } else {
                asked.neverIf(true);
            }
        } catch (MalformedException e) {
            asked.neverIf(true); // a value of a kind that no filter rule here has
        }
    }

    private void payload(JsonNode in, JsonNode payload, JsonNode right, NftCondition asked) {
        String protocol = payload.path("protocol").asText();
        String field = payload.path("field").asText();
        if (field.equals("dport") && (protocol.equals("udp") || protocol.equals("tcp") || protocol.equals("th"))) {
            if (!protocol.equals("th")) {
                asked.transports(List.of(transport(protocol)));
            }
            asked.ports(values(in, right).stream().map(NftRuleset::ports).toList());
        } else if (protocol.equals("ip") && field.equals("saddr")) {
            asked.sources(values(in, right).stream().map(NftRuleset::network).toList());
        } else if (protocol.equals("ip") && field.equals("daddr")) {
            asked.destinations(
                    values(in, right).stream().map(NftRuleset::network).toList());
        } else if (protocol.equals("ip") && field.equals("protocol")) {
            transports(in, right, asked);
        } else {
            asked.neverIf(true);
        }
    }

    private void meta(JsonNode in, String key, JsonNode right, NftCondition asked) {
        switch (key) {
            case "iif", "iifname" -> {
                List<Side> out = texts(in, right).stream()
                        .flatMap(name -> Optional.ofNullable(sides.get(name)).stream())
                        .distinct()
                        .toList();
                asked.from(out); // the loopback interface, and such that are not there, have no side
            }
            case "l4proto" -> transports(in, right, asked);
            case "nfproto", "protocol" ->
                asked.neverIf(!texts(in, right).stream().allMatch(w -> w.equals("ipv4") || w.equals("ip")));
            default -> asked.neverIf(true);
        }
    }

    private void transports(JsonNode in, JsonNode right, NftCondition asked) {
        asked.transports(texts(in, right).stream()
                .filter(t -> t.equals("udp") || t.equals("tcp"))
                .map(NftRuleset::transport)
                .toList());
    }

    /** The members of a set, named or not, or the one value. */
    private List<JsonNode> values(JsonNode in, JsonNode right) {
        JsonNode all = right.isTextual() && right.asText().startsWith("@")
                ? sets.getOrDefault(chain(in, right.asText().substring(1)), right)
                : right.has("set") ? right.path("set") : right;
        List<JsonNode> out = new ArrayList<>();
        if (all.isArray()) {
            all.forEach(out::add);
        } else {
            out.add(all);
        }
        return out.stream()
                .map(v -> v.has("elem") ? v.path("elem").path("val") : v)
                .toList();
    }

    private List<String> texts(JsonNode in, JsonNode right) {
        return values(in, right).stream().map(JsonNode::asText).toList();
    }

    private static PortRange ports(JsonNode value) {
        return value.has("range")
                ? new PortRange(
                        value.path("range").path(0).asInt(),
                        value.path("range").path(1).asInt())
                : PortRange.of(Port.parse(value.asText()));
    }

    private static Cidr network(JsonNode value) {
        if (value.has("prefix")) {
            return Cidr.parse(value.path("prefix").path("addr").asText() + "/"
                    + value.path("prefix").path("len").asInt());
        }
        return Cidr.host(IpAddress.parse(value.asText()));
    }

    /** One rule of ours for each combination of what one rule of theirs asks for. */
    private void add(NftCondition asked, boolean allow, String label) {
        if (asked.never()) {
            return;
        }
        for (Optional<Side> via : each(asked.via())) {
            for (Optional<Transport> transport : each(
                    asked.ports().isEmpty() || !asked.transports().isEmpty()
                            ? asked.transports()
                            : List.of(Transport.UDP, Transport.TCP))) {
                for (Optional<PortRange> ports : each(asked.ports())) {
                    for (Optional<Cidr> source : each(asked.sources())) {
                        for (Optional<Cidr> destination : each(asked.destinations())) {
                            if (filter.size() < MOST) {
                                filter.add(new FilterRule(
                                        allow,
                                        asked.toDevice(),
                                        via,
                                        transport,
                                        ports.orElse(PortRange.ANY),
                                        source,
                                        destination,
                                        label(label)));
                            }
                        }
                    }
                }
            }
        }
    }

    private static Transport transport(String word) {
        return word.equals("udp") ? Transport.UDP : Transport.TCP;
    }

    private static <T> List<Optional<T>> each(List<T> values) {
        return values.isEmpty()
                ? List.of(Optional.empty())
                : values.stream().map(Optional::of).toList();
    }

    private static String label(String comment) {
        String plain = comment.replaceAll("[\\p{Cntrl}#]", " ").strip();
        return plain.length() > 80 ? plain.substring(0, 80) : plain;
    }

    private void forwards(JsonNode chain) {
        for (JsonNode rule : rules.getOrDefault(chain(chain, chain.path("name").asText()), List.of())) {
            NftCondition asked = new NftCondition(true);
            for (JsonNode expression : rule.path("expr")) {
                if (expression.has("match")) {
                    match(chain, expression.path("match"), asked);
                } else if (expression.has("dnat") && !asked.never()) {
                    forward(expression.path("dnat"), asked, rule.path("comment").asText(""));
                }
            }
        }
    }

    private void forward(JsonNode to, NftCondition asked, String comment) {
        for (Transport transport : asked.transports()) {
            for (PortRange ports : asked.ports()) {
                if (ports.first() == ports.last() && to.path("addr").isTextual()) {
                    Port port = new Port(ports.first());
                    forwards.add(new Forward(
                            transport,
                            port,
                            IpAddress.parse(to.path("addr").asText()),
                            to.path("port").isInt() ? new Port(to.path("port").asInt()) : port,
                            label(comment)));
                }
            }
        }
    }
}
