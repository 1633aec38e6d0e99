package tender.core.network;

import java.util.List;

/** Networks that routers in homes and hotels commonly have from the factory; an office using one collides with them. */
public final class CommonNetworks {
    public static final List<Cidr> ALL = List.of(
            Cidr.parse("192.168.0.0/24"),
            Cidr.parse("192.168.1.0/24"),
            Cidr.parse("192.168.2.0/24"),
            Cidr.parse("192.168.8.0/24"),
            Cidr.parse("192.168.10.0/24"),
            Cidr.parse("192.168.43.0/24"),
            Cidr.parse("192.168.86.0/24"),
            Cidr.parse("192.168.88.0/24"),
            Cidr.parse("192.168.100.0/24"),
            Cidr.parse("192.168.178.0/24"),
            Cidr.parse("10.0.0.0/24"),
            Cidr.parse("10.0.1.0/24"),
            Cidr.parse("10.1.1.0/24"),
            Cidr.parse("172.16.0.0/24"),
            Cidr.parse("172.20.10.0/28"));

    private CommonNetworks() {}

    /** The first common network that shares addresses with this one. */
    public static java.util.Optional<Cidr> meeting(Cidr network) {
        return ALL.stream().filter(network::overlaps).findFirst();
    }
}
