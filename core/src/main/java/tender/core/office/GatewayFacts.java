package tender.core.office;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/**
 * What a router's file of general settings says: lines of {@code key = value}, with {@code network.NAME} for each inside
 * network. Unknown keys are left alone.
 */
public record GatewayFacts(
        String name,
        String make,
        String model,
        String release,
        Map<String, Cidr> networks,
        Optional<Cidr> pool,
        Optional<Host> uplink,
        Optional<IpAddress> insideHost) {
    private static final int MAX_LINES = 2_000;
    private static final int MAX_VALUE = 200;

    public GatewayFacts {
        networks = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(networks));
    }

    public static GatewayFacts parse(String text) {
        Map<String, String> values = new LinkedHashMap<>();
        Map<String, Cidr> networks = new LinkedHashMap<>();
        String[] lines = text.split("\r?\n", -1);
        if (lines.length > MAX_LINES) {
            throw new MalformedException("too-many", "line " + (MAX_LINES + 1), "more lines than settings can have");
        }
        for (int i = 0; i < lines.length; i++) {
            String line = lines[i].strip();
            int equals = line.indexOf('=');
            if (line.isEmpty() || line.startsWith("#")) {
                continue;
            }
            if (equals < 1 || line.length() > MAX_VALUE) {
                throw new MalformedException("settings", "line " + (i + 1), "not a short KEY = VALUE");
            }
            String key = line.substring(0, equals).strip();
            String value = line.substring(equals + 1).strip();
            try {
                if (key.startsWith("network.")) {
                    networks.put(key.substring("network.".length()), Cidr.parse(value));
                } else {
                    values.put(key, value);
                }
                check(key, value);
            } catch (MalformedException e) {
                throw e.at("line " + (i + 1));
            }
        }
        return new GatewayFacts(
                values.getOrDefault("name", ""),
                values.getOrDefault("make", ""),
                values.getOrDefault("model", ""),
                values.getOrDefault("release", ""),
                networks,
                Optional.ofNullable(values.get("pool")).map(Cidr::parse),
                Optional.ofNullable(values.get("uplink")).map(Host::parse),
                Optional.ofNullable(values.get("inside-host")).map(IpAddress::parse));
    }

    private static void check(String key, String value) {
        switch (key) {
            case "pool" -> Cidr.parse(value);
            case "uplink" -> Host.parse(value);
            case "inside-host" -> IpAddress.parse(value);
            default -> {
                if (value.chars().anyMatch(Character::isISOControl)) {
                    throw new MalformedException("settings", "", "control characters in a value");
                }
            }
        }
    }
}
