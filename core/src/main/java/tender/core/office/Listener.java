package tender.core.office;

import java.time.Instant;
import java.util.Collections;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.wire.MalformedException;

/** One VPN server on one gateway: a name and the attributes that are known of it. Every value is valid. */
public record Listener(String name, Map<Attribute, String> values) {
    public Listener {
        if (!name.matches("[A-Za-z0-9][A-Za-z0-9._-]{0,39}")) {
            throw new MalformedException("listener", "name", "1 to 40 letters, digits, dots, hyphens or underscores");
        }
        EnumMap<Attribute, String> copy = new EnumMap<>(Attribute.class);
        copy.putAll(values);
        copy.forEach(Attribute::check);
        if (!copy.containsKey(Attribute.PROTOCOL)) {
            throw new MalformedException("listener", name, "its protocol is missing");
        }
        if ("none".equals(copy.get(Attribute.ACCOUNTS))) {
            copy.remove(Attribute.SECOND_FACTOR); // without passwords there is nothing to be second to
        }
        values = Collections.unmodifiableMap(copy);
    }

    /** Empty where the device did not say. */
    public Optional<String> get(Attribute attribute) {
        return Optional.ofNullable(values.get(attribute));
    }

    public Listener with(Map<Attribute, String> changed) {
        EnumMap<Attribute, String> copy = new EnumMap<>(values);
        copy.putAll(changed);
        return new Listener(name, copy);
    }

    public Listener without(Attribute attribute) {
        EnumMap<Attribute, String> copy = new EnumMap<>(Attribute.class);
        copy.putAll(values);
        copy.remove(attribute);
        return new Listener(name, copy);
    }

    public Listener with(Attribute attribute, String value) {
        return with(Map.of(attribute, value));
    }

    public Listener named(String other) {
        return new Listener(other, values);
    }

    /** What it speaks; every listener says so. */
    public Protocol protocol() {
        return Protocol.parse(values.get(Attribute.PROTOCOL));
    }

    public Transport transport() {
        return "tcp".equals(values.get(Attribute.TRANSPORT)) ? Transport.TCP : Transport.UDP;
    }

    public Optional<Port> port() {
        return get(Attribute.PORT).map(Port::parse);
    }

    /** The ports clients connect to: those the standard fixes, else the one that is set. */
    public List<Protocol.PortSpec> ports() {
        List<Protocol.PortSpec> fixed = protocol().fixedPorts();
        return fixed.isEmpty()
                ? port().map(p -> List.of(new Protocol.PortSpec(transport(), p)))
                        .orElse(List.of())
                : fixed;
    }

    /** Networks that its clients get addresses of. */
    public List<Cidr> tunnels() {
        return networks(Attribute.TUNNEL_NETWORK);
    }

    /** Networks that it tells clients to reach through the tunnel. */
    public List<Cidr> reach() {
        return networks(Attribute.REACH);
    }

    private List<Cidr> networks(Attribute attribute) {
        return get(attribute)
                .map(t -> ValueKind.Values.list(t).stream().map(Cidr::parse).toList())
                .orElse(List.of());
    }

    public List<IpAddress> dns() {
        return get(Attribute.DNS)
                .map(t ->
                        ValueKind.Values.list(t).stream().map(IpAddress::parse).toList())
                .orElse(List.of());
    }

    public List<String> words(Attribute attribute) {
        return get(attribute).map(ValueKind.Values::list).orElse(List.of());
    }

    /** Whether the setting has exactly this value. */
    public boolean is(Attribute attribute, String value) {
        return value.equals(values.get(attribute));
    }

    /** A count, where one is set and above 0. */
    public Optional<Integer> limit(Attribute attribute) {
        return get(attribute).map(Integer::valueOf).filter(n -> n > 0);
    }

    public Optional<Integer> number(Attribute attribute) {
        return get(attribute).map(Integer::valueOf);
    }

    public Optional<Instant> instant(Attribute attribute) {
        return get(attribute).map(Instant::parse);
    }
}
