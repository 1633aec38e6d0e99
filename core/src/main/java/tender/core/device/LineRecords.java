package tender.core.device;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import tender.core.device.DeviceDescription.FileRule;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.FilterRule;
import tender.core.office.Forward;
import tender.core.office.PortRange;
import tender.core.office.Side;
import tender.core.wire.MalformedException;

/** Records of lines and what they mean, both ways. */
final class LineRecords {
    private LineRecords() {}

    /** Values with the file's own words turned into ours. */
    static Map<String, String> ours(FileRule rule, Map<String, String> values) {
        Map<String, String> back = new HashMap<>();
        rule.words().forEach((our, their) -> back.put(their, our));
        Map<String, String> out = new LinkedHashMap<>(values);
        out.replaceAll((k, v) -> k.equals("label") ? v : back.getOrDefault(v, v));
        return out;
    }

    static Map<String, String> theirs(FileRule rule, Map<String, String> values) {
        Map<String, String> out = new LinkedHashMap<>(values);
        out.replaceAll((k, v) -> k.equals("label") ? v : rule.words().getOrDefault(v, v));
        return out;
    }

    static Forward forward(Map<String, String> v) {
        return new Forward(
                transport(v.get("transport")),
                Port.parse(v.get("port")),
                IpAddress.parse(v.get("to")),
                Port.parse(v.getOrDefault("to-port", v.get("port"))),
                v.get("label"));
    }

    static Map<String, String> values(Forward f) {
        Map<String, String> out = new LinkedHashMap<>();
        out.put("transport", f.transport().word());
        out.put("port", f.port().toString());
        out.put("to", f.to().toString());
        out.put("to-port", f.toPort().toString());
        out.put("label", f.label());
        return out;
    }

    static FilterRule rule(Map<String, String> v) {
        return new FilterRule(
                choice(v, "action", "allow", "deny"),
                choice(v, "direction", "in", "through"),
                any(v, "via").map(Side::parse),
                any(v, "transport").map(LineRecords::transport),
                PortRange.parse(v.getOrDefault("ports", "any")),
                any(v, "source").map(LineRecords::network),
                any(v, "destination").map(LineRecords::network),
                v.get("label"));
    }

    static Map<String, String> values(FilterRule r) {
        Map<String, String> out = new LinkedHashMap<>();
        out.put("action", r.allow() ? "allow" : "deny");
        out.put("direction", r.toDevice() ? "in" : "through");
        out.put("via", r.via().map(Side::word).orElse("any"));
        out.put("transport", r.transport().map(Transport::word).orElse("any"));
        out.put("ports", r.ports().toString());
        out.put("source", r.source().map(Cidr::toString).orElse("any"));
        out.put("destination", r.destination().map(Cidr::toString).orElse("any"));
        out.put("label", r.label());
        return out;
    }

    private static Optional<String> any(Map<String, String> v, String key) {
        return Optional.ofNullable(v.get(key)).filter(t -> !t.equals("any"));
    }

    private static boolean choice(Map<String, String> v, String key, String yes, String no) {
        String value = v.getOrDefault(key, yes);
        if (!value.equals(yes) && !value.equals(no)) {
            throw new MalformedException("word", key, yes + " or " + no);
        }
        return value.equals(yes);
    }

    private static Cidr network(String text) {
        return text.indexOf('/') < 0 ? Cidr.host(IpAddress.parse(text)) : Cidr.parse(text);
    }

    private static Transport transport(String text) {
        return switch (text) {
            case "udp" -> Transport.UDP;
            case "tcp" -> Transport.TCP;
            default -> throw new MalformedException("transport", "transport", "udp or tcp");
        };
    }
}
