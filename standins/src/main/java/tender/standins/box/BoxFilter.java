package tender.standins.box;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.device.LineTemplate;
import tender.core.network.Cidr;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.PortRange;
import tender.core.office.Protocol.Door;
import tender.core.office.Side;

/** A filter as a box enforces it, read from its file. */
public final class BoxFilter {
    private static final LineTemplate RULE =
            LineTemplate.parse("{action} {direction} {transport} {ports} from {source} to {destination} via {via}");
    private static final LineTemplate OTHERWISE = LineTemplate.parse("otherwise {action}");
    /** The port that management is at, whatever the stand-in really listens on. */
    private static final Port MANAGEMENT = new Port(22);

    private BoxFilter() {}

    public static Filter parse(String text) {
        List<FilterRule> rules = new ArrayList<>();
        boolean otherwise = true;
        for (String line : text.split("\n")) {
            Optional<Map<String, String>> rule = RULE.match(line);
            if (rule.isPresent()) {
                rules.add(rule(rule.get()));
            }
            Optional<Map<String, String>> rest = OTHERWISE.match(line);
            if (rest.isPresent()) {
                otherwise = rest.get().get("action").equals("allow");
            }
        }
        return new Filter(rules, otherwise);
    }

    private static FilterRule rule(Map<String, String> v) {
        return new FilterRule(
                v.get("action").equals("allow"),
                v.get("direction").equals("in"),
                any(v.get("via")).map(Side::parse),
                any(v.get("transport")).map(t -> t.equals("udp") ? Transport.UDP : Transport.TCP),
                PortRange.parse(v.get("ports")),
                any(v.get("source")).map(Cidr::parse),
                any(v.get("destination")).map(Cidr::parse),
                v.get("label"));
    }

    private static Optional<String> any(String text) {
        return text.equals("any") ? Optional.empty() : Optional.of(text);
    }

    /** Whether the administrator, who comes from the inside, is let in. */
    public static boolean admitsManagement(Filter filter) {
        return filter.decide(new FilterRule.Packet(
                        true,
                        Side.INSIDE,
                        Optional.of(Transport.TCP),
                        Optional.of(MANAGEMENT),
                        Optional.empty(),
                        Optional.empty()))
                .allow();
    }

    /** Whether a caller from outside is let in at a door. */
    public static boolean admits(Filter filter, Door door) {
        return filter.decide(FilterRule.Packet.knock(door)).allow();
    }
}
