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
        IpAddress meant = address.unmapped();
        return PRIVATE.stream().anyMatch(range -> range.contains(meant));
    }

    /** This machine itself, its link, and where clouds answer questions about their machines and hand out their keys. */
    private static final List<Cidr> LOCAL = List.of(
            Cidr.parse("0.0.0.0/8"),
            Cidr.parse("127.0.0.0/8"),
            Cidr.parse("169.254.0.0/16"),
            Cidr.parse("100.100.100.200/32"),
            Cidr.parse("::/128"),
            Cidr.parse("::1/128"),
            Cidr.parse("fe80::/10"),
            Cidr.parse("fd00:ec2::254/128"));

    /** Loopback, link-local and metadata addresses: never called on behalf of a person unless listed (security rules). */
    public static boolean isLocalOnly(IpAddress address) {
        IpAddress meant = address.unmapped();
        return LOCAL.stream().anyMatch(range -> range.contains(meant));
    }
}
