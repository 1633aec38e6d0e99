package tender.core.office;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;

/**
 * An office in which nothing is wrong, for tests to put one thing wrong: pier2, a router with WireGuard on a fixed line;
 * slip-front, a router on a fixed line, and behind it slip-nas with OpenVPN.
 */
public final class SoundOffice {
    public static final Instant NOW = Instant.parse("2026-11-23T10:00:00Z");
    public static final IpAddress PIER_HOST = IpAddress.parse("10.20.4.20");
    public static final IpAddress SLIP_HOST = IpAddress.parse("10.20.2.20");
    public static final IpAddress NAS = IpAddress.parse("10.20.2.5");

    private SoundOffice() {}

    public static Listener wireguard() {
        return new Listener(
                "wg0",
                Map.of(
                        Attribute.PROTOCOL, "wireguard",
                        Attribute.TRANSPORT, "udp",
                        Attribute.PORT, "51820",
                        Attribute.TUNNEL_NETWORK, "10.99.4.0/24",
                        Attribute.PUBLIC_KEY, "KEY",
                        Attribute.REACH, "10.20.4.0/24",
                        Attribute.DNS, "10.20.4.53",
                        Attribute.PEERS, "3",
                        Attribute.ACTIVE, "yes"));
    }

    public static Listener openvpn() {
        Map<Attribute, String> values = new LinkedHashMap<>();
        values.put(Attribute.PROTOCOL, "openvpn");
        values.put(Attribute.TRANSPORT, "udp");
        values.put(Attribute.PORT, "1194");
        values.put(Attribute.BIND, "any");
        values.put(Attribute.TUNNEL_NETWORK, "10.99.2.0/24");
        values.put(Attribute.REACH, "10.20.2.0/24");
        values.put(Attribute.CIPHERS, "AES-256-GCM, CHACHA20-POLY1305");
        values.put(Attribute.DIGEST, "SHA256");
        values.put(Attribute.TLS_MINIMUM, "1.2");
        values.put(Attribute.CONTROL_CHANNEL_KEY, "crypt");
        values.put(Attribute.COMPRESSION, "no");
        values.put(Attribute.CLIENT_CERTIFICATE, "yes");
        values.put(Attribute.KEY_BITS, "3072");
        values.put(Attribute.CERTIFICATE_EXPIRES, "2027-11-01T00:00:00Z");
        values.put(Attribute.REVOCATION_LIST_EXPIRES, "2027-02-01T00:00:00Z");
        values.put(Attribute.ACCOUNTS, "local");
        values.put(Attribute.SECOND_FACTOR, "yes");
        values.put(Attribute.LIMIT_TOTAL, "20");
        values.put(Attribute.LIMIT_PER_ACCOUNT, "2");
        values.put(Attribute.ACTIVE, "yes");
        return new Listener("staff", values);
    }

    private static Device device(
            String outside, String inside, Network network, Filter filter, List<Forward> forwards) {
        return new Device(
                "Tidewright",
                "Pier 4",
                "3.10.1",
                Optional.of("Europe/Oslo"),
                Optional.of(Duration.ofSeconds(1)),
                Optional.of(network.network().first().plus(20)),
                List.of(
                        new Device.Interface("wan", Side.OUTSIDE, List.of(InterfaceAddress.parse(outside))),
                        new Device.Interface("lan", Side.INSIDE, List.of(InterfaceAddress.parse(inside)))),
                List.of(network),
                List.of(),
                forwards,
                filter,
                List.of(),
                List.of());
    }

    public static FilterRule fromTunnel(String to) {
        return new FilterRule(
                true,
                false,
                Optional.of(Side.TUNNEL),
                Optional.empty(),
                PortRange.ANY,
                Optional.empty(),
                Optional.of(Cidr.parse(to)),
                "staff");
    }

    public static FilterRule port(boolean allow, String transport, int port) {
        FilterRule r = FilterRule.allowPort(
                new Protocol.PortSpec(transport.equals("udp") ? Transport.UDP : Transport.TCP, new Port(port)), "port");
        return new FilterRule(
                allow, r.toDevice(), r.via(), r.transport(), r.ports(), r.source(), r.destination(), r.label());
    }

    private static FilterRule through(IpAddress to) {
        return new FilterRule(
                true,
                false,
                Optional.of(Side.OUTSIDE),
                Optional.of(Transport.UDP),
                PortRange.of(new Port(1194)),
                Optional.empty(),
                Optional.of(Cidr.host(to)),
                "to the NAS");
    }

    private static Office.Gateway gateway(String name, String site, String kind, Device device, Uplink uplink) {
        return new Office.Gateway(
                "id-" + name,
                name,
                site,
                kind,
                true,
                Optional.of(NOW.minusSeconds(60)),
                Optional.empty(),
                Optional.of(NOW.minusSeconds(60)),
                device,
                List.of(uplink),
                List.of(),
                Office.Factory.CHANGED,
                Optional.of("3.2.0"),
                0,
                0,
                false,
                List.of());
    }

    public static Office office() {
        Network pier = new Network(
                "office",
                Cidr.parse("10.20.4.0/24"),
                Optional.of(Network.Pool.parse("10.20.4.100-10.20.4.199")),
                Map.of("printer", IpAddress.parse("10.20.4.9")));
        Network slip = Network.plain("workshop", Cidr.parse("10.20.2.0/24"));
        HostName pierName = HostName.parse("pier2.skerrivane.example");
        HostName slipName = HostName.parse("slip.skerrivane.example");
        Office.Gateway pier2 = gateway(
                "pier2",
                "pier-two",
                "router",
                device(
                                "198.51.100.4/24",
                                "10.20.4.1/24",
                                pier,
                                new Filter(List.of(port(true, "udp", 51820), fromTunnel("10.20.4.0/24")), false),
                                List.of())
                        .withListener(wireguard()),
                Uplink.of(Uplink.Kind.FIXED, Optional.of(IpAddress.parse("198.51.100.4")), Optional.of(pierName)));
        Office.Gateway front = gateway(
                "slip-front",
                "dunmar-slip",
                "router",
                device(
                        "198.51.100.2/24",
                        "10.20.2.1/24",
                        slip,
                        new Filter(List.of(through(NAS)), false),
                        List.of(new Forward(Transport.UDP, new Port(1194), NAS, new Port(1194), "NAS"))),
                Uplink.of(Uplink.Kind.FIXED, Optional.of(IpAddress.parse("198.51.100.2")), Optional.of(slipName)));
        Device nasDevice = device(
                        "10.20.2.5/24",
                        "10.20.2.6/24",
                        slip,
                        new Filter(List.of(port(true, "udp", 1194), fromTunnel("10.20.2.0/24")), false),
                        List.of())
                .withListener(openvpn())
                .withAccounts(List.of(
                        new Device.Account("bram", true, false, true),
                        new Device.Account("keeper", false, true, false)));
        Office.Gateway nas = gateway("slip-nas", "dunmar-slip", "nas", nasDevice, Uplink.behind("slip-front"));
        Map<String, Office.Gateway> gateways = new LinkedHashMap<>();
        List.of(pier2, front, nas).forEach(g -> gateways.put(g.name(), g));
        return new Office(
                NOW,
                List.of(
                        new Office.Site("s1", "pier-two", "company", "Europe/Oslo", List.of(pier)),
                        new Office.Site("s2", "dunmar-slip", "company", "Europe/Oslo", List.of(slip))),
                gateways,
                List.of(),
                List.of(mara(), bram()),
                Map.of(
                        pierName,
                        List.of(IpAddress.parse("198.51.100.4")),
                        slipName,
                        List.of(IpAddress.parse("198.51.100.2"))));
    }

    public static Office.IssuedProfile mara() {
        return new Office.IssuedProfile(
                "p1",
                "mara-phone-pier2",
                "Mara Tveit",
                "mara",
                "pier2",
                "wg0",
                Map.of(
                        Attribute.PORT, "51820",
                        Attribute.TRANSPORT, "udp",
                        Attribute.PUBLIC_KEY, "KEY",
                        Attribute.TUNNEL_NETWORK, "10.99.4.0/24",
                        Attribute.REACH, "10.20.4.0/24, 10.99.4.0/24"),
                List.of(Endpoint.parse("pier2.skerrivane.example:51820", Transport.UDP)),
                false,
                Optional.empty());
    }

    public static Office.IssuedProfile bram() {
        return new Office.IssuedProfile(
                "p2",
                "bram-laptop-slip",
                "Bram Osei",
                "bram",
                "slip-nas",
                "staff",
                Map.of(
                        Attribute.PORT, "1194",
                        Attribute.TRANSPORT, "udp",
                        Attribute.CIPHERS, "AES-256-GCM, CHACHA20-POLY1305",
                        Attribute.DIGEST, "SHA256"),
                List.of(Endpoint.parse("slip.skerrivane.example:1194", Transport.UDP)),
                false,
                Optional.of(Instant.parse("2027-06-01T00:00:00Z")));
    }

    // one thing changed

    private static Office.IssuedProfile issued(
            Office.IssuedProfile h, Map<Attribute, String> madeFor, List<Endpoint> endpoints, Optional<Instant> ends) {
        return new Office.IssuedProfile(
                h.profileId(),
                h.label(),
                h.person(),
                h.account(),
                h.gateway(),
                h.listener(),
                madeFor,
                endpoints,
                h.refreshes(),
                ends);
    }

    /** The same file, calling these. */
    public static Office.IssuedProfile calling(Office.IssuedProfile h, Transport transport, String... endpoints) {
        return issued(
                h,
                h.madeFor(),
                List.of(endpoints).stream()
                        .map(e -> Endpoint.parse(e, transport))
                        .toList(),
                h.credentialEnds());
    }

    /** The same file, whose credential ends then. */
    public static Office.IssuedProfile ending(Office.IssuedProfile h, Instant end) {
        return issued(h, h.madeFor(), h.endpoints(), Optional.of(end));
    }

    /** The same file, made for another value; null for none. */
    public static Office.IssuedProfile madeFor(Office.IssuedProfile h, Attribute attribute, String value) {
        Map<Attribute, String> madeFor = new LinkedHashMap<>(h.madeFor());
        madeFor.remove(attribute);
        if (value != null) {
            madeFor.put(attribute, value);
        }
        return issued(h, madeFor, h.endpoints(), h.credentialEnds());
    }

    /** The same device, reporting these networks. */
    public static Device reporting(Device d, Network... networks) {
        return new Device(
                d.make(),
                d.model(),
                d.release(),
                d.zone(),
                d.clockOffset(),
                d.insideHost(),
                d.interfaces(),
                List.of(networks),
                d.uplinks(),
                d.forwards(),
                d.filter(),
                d.listeners(),
                d.accounts());
    }

    public static Office gateway(Office o, String name, UnaryOperator<Office.Gateway> change) {
        return o.with(change.apply(o.gateway(name).orElseThrow()));
    }

    public static Office device(Office o, String name, UnaryOperator<Device> change) {
        return gateway(o, name, g -> g.with(change.apply(g.device())));
    }

    /** An attribute of a gateway's first listener. */
    public static Office set(Office o, String gateway, Attribute attribute, String value) {
        return device(o, gateway, d -> d.withListener(d.listeners().get(0).with(attribute, value)));
    }

    public static Office filter(Office o, String gateway, FilterRule... rules) {
        return device(o, gateway, d -> d.withFilter(new Filter(List.of(rules), false)));
    }

    public static Office hosts(Office o, String gateway, String... hosts) {
        return gateway(
                o,
                gateway,
                g -> g.withHosts(List.of(hosts).stream().map(Host::parse).toList()));
    }

    public static Office uplink(Office o, String gateway, Uplink uplink) {
        return gateway(o, gateway, g -> g.withSaid(List.of(uplink)));
    }

    public static Office names(Office o, String name, String... addresses) {
        Map<HostName, List<IpAddress>> names = new LinkedHashMap<>(o.names());
        names.put(
                HostName.parse(name),
                List.of(addresses).stream().map(IpAddress::parse).toList());
        return new Office(o.now(), o.sites(), o.gateways(), o.joined(), o.issuedProfiles(), names);
    }

    public static Office issuedProfiles(Office o, Office.IssuedProfile... issuedProfiles) {
        return new Office(o.now(), o.sites(), o.gateways(), o.joined(), List.of(issuedProfiles), o.names());
    }

    public static Office joined(Office o, String one, String other) {
        return new Office(
                o.now(),
                o.sites(),
                o.gateways(),
                List.of(new Office.Joined(one, other)),
                o.issuedProfiles(),
                o.names());
    }

    public static Office networks(Office o, String site, Network... networks) {
        List<Office.Site> sites = new ArrayList<>();
        o.sites()
                .forEach(s -> sites.add(
                        s.name().equals(site)
                                ? new Office.Site(s.id(), s.name(), s.domain(), s.zone(), List.of(networks))
                                : s));
        Office out = new Office(o.now(), sites, o.gateways(), o.joined(), o.issuedProfiles(), o.names());
        for (Office.Gateway g : o.gateways().values()) {
            if (g.site().equals(site)) {
                out = out.with(g.with(reporting(g.device())));
            }
        }
        return out;
    }
}
