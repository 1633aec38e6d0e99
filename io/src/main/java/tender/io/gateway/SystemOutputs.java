package tender.io.gateway;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.device.DeviceDescription.OutputFormat;
import tender.core.device.SystemFacts;
import tender.core.network.Cidr;
import tender.core.network.InterfaceAddress;
import tender.core.office.Device;
import tender.core.office.Side;
import tender.core.wire.MalformedException;

/** Reads what commands of a Linux system print: {@code ip -j}, {@code nft -j} and {@code timedatectl show}. */
final class SystemOutputs {
    private static final ObjectMapper JSON = new ObjectMapper();

    private final Map<OutputFormat, String> printed;

    private SystemOutputs(Map<OutputFormat, String> printed) {
        this.printed = printed;
    }

    /** @throws MalformedException naming the output that cannot be understood */
    static SystemFacts read(Map<OutputFormat, String> printed) {
        return printed.isEmpty() ? SystemFacts.NONE : new SystemOutputs(printed).facts();
    }

    private SystemFacts facts() {
        List<Device.Interface> interfaces = interfaces();
        Map<String, Side> sides = new HashMap<>();
        interfaces.forEach(i -> sides.put(i.name(), i.side()));
        Optional<NftRuleset> ruleset = json(OutputFormat.NFTABLES).map(j -> NftRuleset.read(j, sides));
        return new SystemFacts(
                interfaces,
                networks(interfaces),
                ruleset.map(NftRuleset::filter),
                ruleset.map(NftRuleset::forwards).orElse(List.of()),
                zone());
    }

    private Optional<JsonNode> json(OutputFormat format) {
        String text = printed.get(format);
        if (text == null) {
            return Optional.empty();
        }
        try {
            return Optional.of(text.isBlank() ? JSON.createArrayNode() : JSON.readTree(text));
        } catch (JsonProcessingException e) {
            throw new MalformedException(format.word(), "", "the command printed no JSON as expected");
        }
    }

    /** Interfaces that are up and have an address; the one that the default route leaves by is the outside. */
    private List<Device.Interface> interfaces() {
        Set<String> outside = new HashSet<>();
        json(OutputFormat.IP_ROUTES)
                .ifPresent(routes -> routes.forEach(r -> {
                    if (r.path("dst").asText().equals("default")) {
                        outside.add(r.path("dev").asText());
                    }
                }));
        List<Device.Interface> out = new ArrayList<>();
        json(OutputFormat.IP_ADDRESSES)
                .ifPresent(links -> links.forEach(link -> {
                    List<InterfaceAddress> addresses = new ArrayList<>();
                    link.path("addr_info").forEach(a -> {
                        if (a.path("scope").asText("global").equals("global")) {
                            addresses.add(InterfaceAddress.parse(a.path("local").asText() + "/"
                                    + a.path("prefixlen").asInt()));
                        }
                    });
                    String name = link.path("ifname").asText();
                    if (!addresses.isEmpty() && !has(link.path("flags"), "LOOPBACK")) {
                        out.add(new Device.Interface(
                                name,
                                outside.contains(name) ? Side.OUTSIDE : isTunnel(link) ? Side.TUNNEL : Side.INSIDE,
                                addresses));
                    }
                }));
        return out;
    }

    /** WireGuard's and OpenVPN's interfaces have no link layer. */
    private static boolean isTunnel(JsonNode link) {
        return has(link.path("flags"), "POINTOPOINT")
                || link.path("link_type").asText().equals("none");
    }

    private static boolean has(JsonNode list, String word) {
        for (JsonNode item : list) {
            if (item.asText().equals(word)) {
                return true;
            }
        }
        return false;
    }

    private static Map<String, Cidr> networks(List<Device.Interface> interfaces) {
        Map<String, Cidr> out = new LinkedHashMap<>();
        for (Device.Interface i : interfaces) {
            if (i.side() == Side.INSIDE) {
                for (InterfaceAddress a : i.addresses()) {
                    out.put(
                            out.containsKey(i.name())
                                    ? i.name() + "-" + a.network().first().family()
                                    : i.name(),
                            a.network());
                }
            }
        }
        return out;
    }

    private Optional<String> zone() {
        return Optional.ofNullable(printed.get(OutputFormat.TIMEDATECTL))
                .flatMap(text -> text.lines()
                        .filter(l -> l.startsWith("Timezone="))
                        .map(l -> l.substring("Timezone=".length()).strip())
                        .filter(z -> !z.isEmpty() && z.length() <= 60)
                        .findFirst());
    }
}
