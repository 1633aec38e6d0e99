package tender.core.network;

import java.util.List;

/** Which addresses cannot be called from the internet (RFC 6890). */
public final class AddressKinds {
    private static final List<Cidr> PRIVATE = List.of(
            Cidr.parse("10.0.0.0/8"),
            Cidr.parse("172.16.0.0/12"),
            Cidr.parse("192.168.0.0/16"),
            Cidr.parse("169.254.0.0/16"),
            Cidr.parse("100.64.0.0/10"),
            Cidr.parse("127.0.0.0/8"),
            Cidr.parse("fc00::/7"),
            Cidr.parse("fe80::/10"),
            Cidr.parse("::1/128"));

    private AddressKinds() {}

    public static boolean isPrivate(IpAddress address) {
        return PRIVATE.stream().anyMatch(range -> range.contains(address));
    }

    /** Loopback, link-local and metadata addresses: never called on behalf of a person unless listed (security rules). */
    public static boolean isLocalOnly(IpAddress address) {
        return Cidr.parse("127.0.0.0/8").contains(address)
                || Cidr.parse("169.254.0.0/16").contains(address)
                || Cidr.parse("fe80::/10").contains(address)
                || Cidr.parse("::1/128").contains(address)
                || Cidr.parse("0.0.0.0/8").contains(address);
    }
}
