package tender.core.office;

import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.wire.Fields;
import tender.core.wire.MalformedException;

/**
 * One rule of a gateway's filter; the first that takes a packet decides. What is empty means any.
 *
 * @param toDevice packets for the gateway itself; otherwise those that pass through it
 * @param via the side the packet comes in by
 * @param ports the ports connected to; only counts with udp or tcp
 */
public record FilterRule(
        boolean allow,
        boolean toDevice,
        Optional<Side> via,
        Optional<Transport> transport,
        PortRange ports,
        Optional<Cidr> source,
        Optional<Cidr> destination,
        String label) {
    private static final int MAX_LABEL = 80;

    /** What a filter is asked about; {@code transport} is empty for echo and the like. */
    public record Packet(
            boolean toDevice,
            Side via,
            Optional<Transport> transport,
            Optional<Port> port,
            Optional<IpAddress> source,
            Optional<IpAddress> destination) {
        /** A connection from outside to the device itself. */
        public static Packet connection(Protocol.PortSpec port) {
            return new Packet(
                    true,
                    Side.OUTSIDE,
                    Optional.of(port.transport()),
                    Optional.of(port.port()),
                    Optional.empty(),
                    Optional.empty());
        }

        /** A connection from outside to something behind the device. */
        public static Packet through(Protocol.PortSpec port, IpAddress to) {
            return new Packet(
                    false,
                    Side.OUTSIDE,
                    Optional.of(port.transport()),
                    Optional.of(port.port()),
                    Optional.empty(),
                    Optional.of(to));
        }
    }

    public FilterRule {
        Fields.given("ports", ports);
        label = label(label);
        if (transport.isEmpty() && !ports.isAny()) {
            throw new MalformedException("ports", "", "ports need udp or tcp");
        }
    }

    /** The words beside a rule or a forward; none where nothing is said. */
    static String label(String said) {
        String label = said == null ? "" : said;
        if (label.length() > MAX_LABEL || label.chars().anyMatch(c -> Character.isISOControl(c) || c == '#')) {
            throw new MalformedException("label", "label", "at most " + MAX_LABEL + " printable characters without #");
        }
        return label;
    }

    /** An allowing rule for one port of the device itself. */
    public static FilterRule allowPort(Protocol.PortSpec port, String label) {
        return new FilterRule(
                true,
                true,
                Optional.of(Side.OUTSIDE),
                Optional.of(port.transport()),
                PortRange.of(port.port()),
                Optional.empty(),
                Optional.empty(),
                label);
    }

    /**
     * Whether the rule takes the packet. A packet without a source stands for callers from anywhere: a rule for some
     * sources alone does not decide for those.
     */
    public boolean takes(Packet p) {
        return toDevice == p.toDevice()
                && via.map(v -> v == p.via()).orElse(true)
                && transport
                        .map(t -> p.transport().filter(t::equals).isPresent())
                        .orElse(true)
                && (ports.isAny() || p.port().filter(ports::contains).isPresent())
                && source.map(s -> s.isEverything()
                                || p.source().filter(s::contains).isPresent())
                        .orElse(true)
                && destination
                        .map(d -> d.isEverything()
                                || p.destination().filter(d::contains).isPresent())
                        .orElse(true);
    }

    /** Whether every packet that the other rule takes is taken by this one. */
    public boolean covers(FilterRule other) {
        return toDevice == other.toDevice
                && (via.isEmpty() || via.equals(other.via))
                && (transport.isEmpty() || transport.equals(other.transport))
                && ports.contains(other.ports)
                && covers(source, other.source)
                && covers(destination, other.destination);
    }

    private static boolean covers(Optional<Cidr> wide, Optional<Cidr> narrow) {
        return wide.isEmpty() || narrow.filter(n -> wide.get().contains(n)).isPresent();
    }

    /** In words: {@code allow udp 51820 to the device from outside}. */
    public String words() {
        String what = transport
                .map(t -> t.word() + (ports.isAny() ? "" : " " + ports))
                .orElse("everything");
        return (allow ? "allow " : "deny ")
                + what
                + (toDevice
                        ? " to the device"
                        : " through to " + destination.map(Cidr::toString).orElse("anywhere"))
                + source.map(s -> " from " + s).orElse("")
                + via.map(v -> " coming in " + v.word()).orElse("");
    }
}
