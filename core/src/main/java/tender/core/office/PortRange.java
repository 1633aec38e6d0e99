package tender.core.office;

import tender.core.network.Port;
import tender.core.wire.MalformedException;

/** Ports from first to last, both included; written {@code any}, {@code 443} or {@code 1000-2000}. */
public record PortRange(int first, int last) {
    private static final int MAX = 65_535;
    public static final PortRange ANY = new PortRange(1, MAX);

    public PortRange {
        if (first < 1 || last > MAX || first > last) {
            throw new MalformedException("ports", "", "any, a port, or FIRST-LAST");
        }
    }

    public static PortRange of(Port port) {
        return new PortRange(port.number(), port.number());
    }

    /**
     * {@code any}, one port, or FIRST-LAST.
     *
     * @throws MalformedException where it is none of these
     */
    public static PortRange parse(String text) {
        if (text.equals("any")) {
            return ANY;
        }
        int hyphen = text.indexOf('-');
        return hyphen < 0
                ? of(Port.parse(text))
                : new PortRange(
                        Port.parse(text.substring(0, hyphen)).number(),
                        Port.parse(text.substring(hyphen + 1)).number());
    }

    public boolean contains(Port port) {
        return port.number() >= first && port.number() <= last;
    }

    public boolean contains(PortRange other) {
        return other.first >= first && other.last <= last;
    }

    public boolean isSingle() {
        return first == last;
    }

    public boolean isAny() {
        return equals(ANY);
    }

    @Override
    public String toString() {
        return isAny() ? "any" : first == last ? Integer.toString(first) : first + "-" + last;
    }
}
