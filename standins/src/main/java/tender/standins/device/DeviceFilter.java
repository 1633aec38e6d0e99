package tender.standins.device;

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
import tender.core.office.Protocol.PortSpec;
import tender.core.office.Side;

/** A filter as a device enforces it, read from its file. */
public final class DeviceFilter {
    private static final LineTemplate RULE =
            LineTemplate.parse("{via} {source} > {direction} {destination} : {transport} {ports} : {action}");
    private static final LineTemplate OTHERWISE = LineTemplate.parse("otherwise : {action}");
    /** The port that management is at, whatever the stand-in really listens on. */
    private static final Port MANAGEMENT = new Port(22);

    private DeviceFilter() {}

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
                otherwise = rest.get().get("action").equals("open");
            }
        }
        return new Filter(rules, otherwise);
    }

    private static FilterRule rule(Map<String, String> v) {
        return new FilterRule(
                v.get("action").equals("open"),
                v.get("direction").equals("device"),
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

    /** Whether a caller from outside is let in at a port. */
    public static boolean admits(Filter filter, PortSpec port) {
        return filter.decide(FilterRule.Packet.connection(port)).allow();
    }
}
