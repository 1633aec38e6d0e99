package tender.core.network;

/** An address on an interface together with the network it is in, as in {@code 10.20.4.1/24}. */
public record InterfaceAddress(IpAddress address, int prefix) {
    public InterfaceAddress {
        Cidr.of(address, prefix);
    }

    /** Reads {@code ADDRESS/LENGTH}; a missing length means the whole address. */
    public static InterfaceAddress parse(String text) {
        int slash = text.indexOf('/');
        if (slash < 0) {
            IpAddress alone = IpAddress.parse(text);
            return new InterfaceAddress(alone, alone.family().bits());
        }
        return new InterfaceAddress(IpAddress.parse(text.substring(0, slash)), Cidr.length(text.substring(slash + 1)));
    }

    public Cidr network() {
        return Cidr.of(address, prefix);
    }

    @Override
    public String toString() {
        return address + "/" + prefix;
    }
}
