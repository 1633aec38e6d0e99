package tender.core.network;

import tender.core.wire.MalformedException;

/** A network: first address and prefix length; bits beyond the prefix are zero (RFC 4632 §3.1). */
public record Cidr(IpAddress first, int prefix) implements Comparable<Cidr> {
    public static final Cidr EVERYTHING_V4 = parse("0.0.0.0/0");
    public static final Cidr EVERYTHING_V6 = parse("::/0");

    public Cidr {
        if (prefix < 0 || prefix > first.family().bits()) {
            throw new MalformedException(
                    "prefix", "", "prefix length outside 0.." + first.family().bits());
        }
        if (!masked(first, prefix).equals(first)) {
            throw new MalformedException(
                    "prefix",
                    "",
                    "address bits are set beyond the prefix; the network is " + masked(first, prefix) + "/" + prefix);
        }
    }

    /**
     * Written ADDRESS/PREFIX, with no address bits set beyond the prefix (RFC 4632 §3.1).
     *
     * @throws MalformedException where it is not; it names the network that was perhaps meant
     */
    public static Cidr parse(String text) {
        int slash = text.indexOf('/');
        if (slash < 0) {
            throw new MalformedException("prefix", "", "a network is written ADDRESS/LENGTH");
        }
        return new Cidr(IpAddress.parse(text.substring(0, slash)), length(text.substring(slash + 1)));
    }

    /** The network of {@code prefix} bits that an address lies in. */
    public static Cidr of(IpAddress address, int prefix) {
        return new Cidr(masked(address, prefix), prefix);
    }

    /** A single address as a network. */
    public static Cidr host(IpAddress address) {
        return new Cidr(address, address.family().bits());
    }

    static int length(String text) {
        if (!text.matches("0|[1-9][0-9]{0,2}")) {
            throw new MalformedException("prefix", "", "prefix length is not a plain number");
        }
        return Integer.parseInt(text);
    }

    /** The highest address; in IPv4 of more than two addresses the broadcast address. */
    public IpAddress last() {
        int bits = first.family().bits();
        long high = first.high();
        long low = first.low();
        int host = bits - prefix;
        if (first.isV4()) {
            return new IpAddress(first.family(), 0, low | lowMask(host));
        }
        return new IpAddress(first.family(), high | lowMask(host - 64), low | lowMask(Math.min(host, 64)));
    }

    public boolean contains(IpAddress address) {
        return address.family() == first.family() && masked(address, prefix).equals(first);
    }

    public boolean contains(Cidr other) {
        return other.prefix >= prefix && contains(other.first);
    }

    /** Whether any address is in both; then one contains the other. */
    public boolean overlaps(Cidr other) {
        return contains(other.first) || other.contains(first);
    }

    /** From an address and an IPv4 mask such as 255.255.255.0. */
    public static Cidr ofMask(IpAddress address, IpAddress mask) {
        for (int prefix = 0; prefix <= 32; prefix++) {
            Cidr candidate = of(address, prefix);
            if (candidate.mask().filter(mask::equals).isPresent()) {
                return candidate;
            }
        }
        throw new MalformedException("network", mask.toString(), "is no mask");
    }

    /** The mask of an IPv4 network, such as 255.255.255.0. */
    public java.util.Optional<IpAddress> mask() {
        long ones = prefix == 0 ? 0 : (0xffffffffL << (32 - prefix)) & 0xffffffffL;
        return first.isV4()
                ? java.util.Optional.of(new IpAddress(IpAddress.Family.V4, 0, ones))
                : java.util.Optional.empty();
    }

    public boolean isEverything() {
        return prefix == 0;
    }

    @Override
    public int compareTo(Cidr other) {
        int byFirst = first.compareTo(other.first);
        return byFirst != 0 ? byFirst : Integer.compare(prefix, other.prefix);
    }

    @Override
    public String toString() {
        return first + "/" + prefix;
    }

    private static IpAddress masked(IpAddress address, int prefix) {
        int host = address.family().bits() - prefix;
        if (host < 0 || prefix < 0) {
            throw new MalformedException(
                    "prefix", "", "prefix length outside 0.." + address.family().bits());
        }
        if (address.isV4()) {
            return new IpAddress(address.family(), 0, address.low() & ~lowMask(host));
        }
        return new IpAddress(
                address.family(), address.high() & ~lowMask(host - 64), address.low() & ~lowMask(Math.min(host, 64)));
    }

    private static long lowMask(int bits) {
        return bits <= 0 ? 0 : bits >= 64 ? -1L : (1L << bits) - 1;
    }
}
