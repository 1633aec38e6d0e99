package tender.core.walk;

import static org.assertj.core.api.Assertions.assertThat;
import static tender.core.office.SoundOffice.calling;
import static tender.core.office.SoundOffice.device;
import static tender.core.office.SoundOffice.ending;
import static tender.core.office.SoundOffice.filter;
import static tender.core.office.SoundOffice.fromTunnel;
import static tender.core.office.SoundOffice.gateway;
import static tender.core.office.SoundOffice.hosts;
import static tender.core.office.SoundOffice.joined;
import static tender.core.office.SoundOffice.madeFor;
import static tender.core.office.SoundOffice.names;
import static tender.core.office.SoundOffice.networks;
import static tender.core.office.SoundOffice.office;
import static tender.core.office.SoundOffice.port;
import static tender.core.office.SoundOffice.set;
import static tender.core.office.SoundOffice.uplink;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.Written;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.Forward;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.PortRange;
import tender.core.office.Protocol.PortSpec;
import tender.core.office.Side;
import tender.core.office.SoundOffice;
import tender.core.office.Uplink;
import tender.core.walk.Walk.Place;
import tender.core.walk.Walk.Standing;

/** What a walk says, hop by hop and word by word, held against {@code walks.txt}. */
class WalkWordsTest {
    private static final Place HOTEL =
            new Place(Standing.HOTEL, Optional.of(Cidr.parse("192.168.50.0/24")), false, Optional.empty());
    private static final Written WRITTEN = Written.in("walk/walks.txt");
    private static final PortSpec FILES = new PortSpec(Transport.TCP, new Port(445));

    private record Case(
            String name, Office office, Office.IssuedProfile from, Place place, IpAddress to, Optional<PortSpec> port) {
        @Override
        public String toString() {
            return name;
        }
    }

    private static Case mara(String name, Office office) {
        return mara(name, office, SoundOffice.mara(), HOTEL);
    }

    private static Case mara(String name, Office office, Office.IssuedProfile from, Place place) {
        return new Case(name, office, from, place, SoundOffice.PIER_HOST, Optional.of(FILES));
    }

    private static Case bram(String name, Office office) {
        return bram(name, office, SoundOffice.bram());
    }

    private static Case bram(String name, Office office, Office.IssuedProfile from) {
        return new Case(name, office, from, HOTEL, SoundOffice.SLIP_HOST, Optional.empty());
    }

    private static Case to(String name, Office office, Office.IssuedProfile from, String to) {
        return new Case(name, office, from, HOTEL, IpAddress.parse(to), Optional.of(FILES));
    }

    private static Place at(Standing standing, String lan, boolean onlyWeb, String site) {
        return new Place(standing, Optional.ofNullable(lan).map(Cidr::parse), onlyWeb, Optional.ofNullable(site));
    }

    private static Uplink line(Uplink.Kind kind, String address, String name) {
        return Uplink.of(
                kind,
                Optional.ofNullable(address).map(IpAddress::parse),
                Optional.ofNullable(name).map(HostName::parse));
    }

    private static Forward forward(int port, String to, int toPort) {
        return new Forward(Transport.UDP, new Port(port), IpAddress.parse(to), new Port(toPort), "");
    }

    private static FilterRule passing(boolean allow, Side via, String to) {
        return new FilterRule(
                allow,
                false,
                Optional.of(via),
                Optional.of(Transport.UDP),
                PortRange.of(new Port(1194)),
                Optional.empty(),
                Optional.of(Cidr.parse(to)),
                "");
    }

    /** pier2 with IKEv2, whose ports a standard fixes: 500 and 4500. */
    private static Office ike() {
        return device(
                office(),
                "pier2",
                d -> d.withListener(SoundOffice.wireguard()
                                .with(Attribute.PROTOCOL, "ikev2")
                                .with(Attribute.PORT, "500"))
                        .withFilter(new Filter(
                                List.of(port(true, "udp", 500), port(true, "udp", 4500), fromTunnel("10.20.4.0/24")),
                                false)));
    }

    /** slip-nas's own router behind another one, both of the same site. */
    private static Office twoInFront() {
        Office o = office();
        Office.Gateway front = o.gateway("slip-front").orElseThrow();
        Office.Gateway far = new Office.Gateway(
                "id-far",
                "slip-far",
                "dunmar-slip",
                "router",
                true,
                front.readAt(),
                Optional.empty(),
                front.newestBackup(),
                front.device()
                        .withForwards(List.of(forward(2194, "198.51.100.2", 1194)))
                        .withFilter(Filter.OPEN),
                List.of(line(Uplink.Kind.CHANGING, null, "slip.skerrivane.example")),
                List.of(),
                Office.Factory.CHANGED,
                Optional.empty(),
                0,
                0,
                false,
                List.of());
        Map<String, Office.Gateway> gateways = new LinkedHashMap<>(o.gateways());
        gateways.put("slip-far", far);
        return uplink(
                new Office(o.now(), o.sites(), gateways, o.joined(), o.issuedProfiles(), o.names()),
                "slip-front",
                Uplink.behind("slip-far"));
    }

    private static Office withoutOutsideAddress(Office o, String name) {
        return gateway(o, name, g -> {
            var d = g.device();
            return g.with(new tender.core.office.Device(
                    d.make(),
                    d.model(),
                    d.release(),
                    d.zone(),
                    d.clockOffset(),
                    d.insideHost(),
                    List.of(),
                    d.networks(),
                    d.uplinks(),
                    d.forwards(),
                    d.filter(),
                    d.listeners(),
                    d.accounts()));
        });
    }

    static List<Case> cases() {
        Office.IssuedProfile mara = SoundOffice.mara();
        Office.IssuedProfile bram = SoundOffice.bram();
        Office.IssuedProfile wide = madeFor(mara, Attribute.REACH, "10.20.0.0/16, 10.20.4.0/24, fd00:4::/48");
        Office.IssuedProfile far = calling(bram, Transport.UDP, "slip.skerrivane.example:2194");
        List<Case> out = new ArrayList<>();
        out.add(mara("all well", office()));
        out.add(bram("all well behind a router", office()));
        out.add(to("a network of one's own reach", office(), mara, "10.99.4.7"));
        // the name
        out.add(mara("the file calls nobody", office(), calling(mara, Transport.UDP), HOTEL));
        out.add(mara("a template's text", office(), calling(mara, Transport.UDP, "your-server:51820"), HOTEL));
        out.add(mara("an inside address", office(), calling(mara, Transport.UDP, "10.20.4.1:51820"), HOTEL));
        out.add(mara("a name that leads nowhere", names(office(), "pier2.skerrivane.example")));
        out.add(mara(
                "a name that leads nowhere, on a line nobody knows the address of",
                uplink(office(), "pier2", line(Uplink.Kind.CHANGING, null, null)),
                calling(mara, Transport.UDP, "lost.skerrivane.example:51820"),
                HOTEL));
        out.add(mara(
                "an address that is the line's", office(), calling(mara, Transport.UDP, "198.51.100.4:51820"), HOTEL));
        out.add(mara(
                "an address that is another's", office(), calling(mara, Transport.UDP, "198.51.100.77:51820"), HOTEL));
        out.add(mara(
                "a name that follows a changing line",
                uplink(office(), "pier2", line(Uplink.Kind.CHANGING, null, "pier2.skerrivane.example"))));
        out.add(mara(
                "a changing line whose name leads elsewhere",
                uplink(
                        names(office(), "line.skerrivane.example", "198.51.100.99"),
                        "pier2",
                        line(Uplink.Kind.CHANGING, null, "line.skerrivane.example"))));
        // the place
        out.add(mara("only the web is let out", office(), mara, at(Standing.HOTEL, null, true, null)));
        out.add(mara(
                "only the web is let out, and another listener fits",
                device(
                        office(),
                        "pier2",
                        d -> d.withListener(SoundOffice.openvpn()
                                .with(Attribute.TRANSPORT, "tcp")
                                .with(Attribute.PORT, "443"))),
                mara,
                at(Standing.CARRIER, null, true, null)));
        Office web = device(
                office(),
                "pier2",
                d -> d.withListener(SoundOffice.openvpn()
                                .with(Attribute.TRANSPORT, "tcp")
                                .with(Attribute.PORT, "443")
                                .with(Attribute.ACCOUNTS, "directory")
                                .with(Attribute.TUNNEL_NETWORK, "10.99.5.0/24"))
                        .withFilter(new Filter(List.of(port(true, "tcp", 443), fromTunnel("10.20.4.0/24")), false)));
        Office.IssuedProfile webProfile = new Office.IssuedProfile(
                "p9",
                "mara-laptop-pier2",
                "Mara Tveit",
                "mara",
                "pier2",
                "staff",
                Map.of(Attribute.PORT, "443", Attribute.REACH, "10.20.4.0/24"),
                List.of(Endpoint.parse("pier2.skerrivane.example:443", Transport.TCP)),
                false,
                Optional.empty());
        out.add(mara(
                "only the web is let out, and the file calls it",
                web,
                webProfile,
                at(Standing.HOTEL, null, true, null)));
        out.add(mara(
                "only the web is let out, and the file calls udp 443",
                office(),
                calling(mara, Transport.UDP, "pier2.skerrivane.example:443"),
                at(Standing.HOTEL, null, true, null)));
        out.add(mara("from its own office", office(), mara, at(Standing.OFFICE, null, false, "pier-two")));
        out.add(mara("from another office", office(), mara, at(Standing.OFFICE, "10.20.2.0/24", false, "dunmar-slip")));
        // the line and what stands in front
        out.add(mara("an uplink that is not recorded", gateway(office(), "pier2", g -> g.withSaid(List.of()))));
        out.add(bram("behind a router nobody recorded", uplink(office(), "slip-nas", Uplink.behind("old-router"))));
        out.add(bram("behind each other", uplink(office(), "slip-front", Uplink.behind("slip-nas"))));
        out.add(bram("two routers in front", twoInFront(), far));
        out.add(bram(
                "two routers in front, nothing forwarded at the first",
                device(twoInFront(), "slip-far", d -> d.withForwards(List.of())),
                far));
        out.add(bram(
                "two routers in front, the first one's filter is shut",
                device(twoInFront(), "slip-far", d -> d.withFilter(new Filter(List.of(), false))),
                far));
        out.add(bram(
                "two routers in front, nothing forwarded at the second",
                device(twoInFront(), "slip-front", d -> d.withForwards(List.of())),
                far));
        out.add(bram(
                "forwarded from another port",
                device(office(), "slip-front", d -> d.withForwards(List.of(forward(2194, "10.20.2.5", 1194))))));
        out.add(bram(
                "forwarded to a port nobody waits on",
                device(office(), "slip-front", d -> d.withForwards(List.of(forward(1194, "10.20.2.5", 5000))))
                        .with(filter(office(), "slip-nas", port(true, "udp", 5000))
                                .gateway("slip-nas")
                                .orElseThrow())));
        out.add(bram(
                "no forward, and where to is not known",
                withoutOutsideAddress(device(office(), "slip-front", d -> d.withForwards(List.of())), "slip-nas")));
        out.add(bram("forwarded, and where to is not known", withoutOutsideAddress(office(), "slip-nas")));
        out.add(bram(
                "the filter in front denies first and allows later",
                filter(
                        office(),
                        "slip-front",
                        passing(false, Side.INSIDE, "10.20.2.5/32"),
                        passing(false, Side.OUTSIDE, "10.20.2.0/24"),
                        passing(false, Side.OUTSIDE, "10.20.2.5/32"),
                        passing(true, Side.OUTSIDE, "10.20.2.5/32"))));
        out.add(bram("the filter in front has no rule", filter(office(), "slip-front")));
        // the gateway itself
        out.add(mara("its filter has no rule", filter(office(), "pier2")));
        out.add(mara(
                "its filter allows the connection last",
                filter(
                        office(),
                        "pier2",
                        port(false, "udp", 51820),
                        fromTunnel("10.20.4.0/24"),
                        port(true, "udp", 51820))));
        out.add(mara("another port than the file's", set(office(), "pier2", Attribute.PORT, "51821"), mara, HOTEL));
        out.add(mara(
                "another port than the file's, the filter lets both in",
                filter(
                        set(office(), "pier2", Attribute.PORT, "51821"),
                        "pier2",
                        port(true, "udp", 51820),
                        port(true, "udp", 51821))));
        out.add(mara("bound to the outside", set(office(), "pier2", Attribute.BIND, "wan")));
        out.add(mara("bound to the inside", set(office(), "pier2", Attribute.BIND, "lan")));
        out.add(mara("not active", set(office(), "pier2", Attribute.ACTIVE, "no")));
        // two ports
        out.add(mara("two fixed ports", ike(), calling(mara, Transport.UDP, "pier2.skerrivane.example:500"), HOTEL));
        out.add(mara(
                "the second fixed port is shut",
                filter(ike(), "pier2", port(true, "udp", 500), fromTunnel("10.20.4.0/24")),
                calling(mara, Transport.UDP, "pier2.skerrivane.example:500"),
                HOTEL));
        out.add(mara(
                "the first fixed port is shut, the second called",
                filter(ike(), "pier2", port(true, "udp", 4500), fromTunnel("10.20.4.0/24")),
                calling(mara, Transport.UDP, "pier2.skerrivane.example:4500"),
                HOTEL));
        // the file and the login
        out.add(mara("the file has an older key", set(office(), "pier2", Attribute.PUBLIC_KEY, "NEW")));
        out.add(mara(
                "the gateway is called by another name now",
                hosts(names(office(), "vpn.skerrivane.example", "198.51.100.4"), "pier2", "vpn.skerrivane.example")));
        out.add(bram("the credential ends this moment", office(), ending(bram, SoundOffice.NOW)));
        out.add(bram("the credential ends in a moment", office(), ending(bram, SoundOffice.NOW.plusSeconds(1))));
        out.add(bram("the credential ended", office(), ending(bram, SoundOffice.NOW.minusSeconds(86_400))));
        out.add(bram(
                "the account may not use the VPN",
                device(
                        office(),
                        "slip-nas",
                        d -> d.withAccounts(
                                List.of(new tender.core.office.Device.Account("bram", false, true, true))))));
        out.add(mara("accounts in a directory", web, webProfile, HOTEL));
        // the tunnel
        out.add(mara(
                "no tunnel network",
                set(office(), "pier2", Attribute.TUNNEL_NETWORK, ""),
                madeFor(mara, Attribute.TUNNEL_NETWORK, null),
                HOTEL));
        out.add(to("in nobody's reach", office(), mara, "10.20.77.7"));
        out.add(to("another site's host in nobody's reach", office(), mara, "10.20.2.20"));
        out.add(mara(
                "the listener's reach where the file has none", office(), madeFor(mara, Attribute.REACH, null), HOTEL));
        out.add(mara("the narrower route", office(), wide, at(Standing.HOME, "10.20.0.0/16", false, null)));
        out.add(mara("the place has the same network", office(), wide, at(Standing.HOME, "10.20.4.0/24", false, null)));
        out.add(mara(
                "the place has the tunnel's network", office(), wide, at(Standing.HOME, "10.99.0.0/16", false, null)));
        out.add(mara("a place nobody knows the network of", office(), wide, at(Standing.HOME, null, false, null)));
        // inside
        out.add(mara(
                "a rule keeps people out of the office",
                filter(
                        office(),
                        "pier2",
                        port(true, "udp", 51820),
                        new FilterRule(
                                false,
                                false,
                                Optional.of(Side.TUNNEL),
                                Optional.empty(),
                                PortRange.ANY,
                                Optional.of(Cidr.parse("10.99.4.0/24")),
                                Optional.empty(),
                                ""))));
        out.add(new Case(
                "the filter's default keeps an echo out",
                filter(office(), "pier2", port(true, "udp", 51820)),
                mara,
                HOTEL,
                SoundOffice.PIER_HOST,
                Optional.empty()));
        Office openInside =
                filter(office(), "pier2", port(true, "udp", 51820), fromTunnel("10.0.0.0/8"), fromTunnel("fd00::/8"));
        out.add(to("a host that no network holds", openInside, wide, "10.20.9.9"));
        out.add(to("a host that no network holds, IPv6", openInside, wide, "fd00:4::9"));
        out.add(to("a host of a site that nothing joins", openInside, wide, "10.20.2.20"));
        out.add(to("a host of a joined site", joined(openInside, "slip-front", "pier2"), wide, "10.20.2.20"));
        out.add(to(
                "a host of a site joined to a third",
                joined(openInside, "slip-front", "slip-nas"),
                wide,
                "10.20.2.20"));
        // the return path
        out.add(mara(
                "the tunnel lies in the office's network",
                set(office(), "pier2", Attribute.TUNNEL_NETWORK, "10.20.4.128/25"),
                madeFor(mara, Attribute.TUNNEL_NETWORK, "10.20.4.128/25"),
                HOTEL));
        out.add(mara(
                "the tunnel lies in the office's network, and none is free",
                networks(
                        set(office(), "pier2", Attribute.TUNNEL_NETWORK, "10.20.4.128/25"),
                        "pier-two",
                        Network.plain("office", Cidr.parse("10.20.4.0/24")),
                        Network.plain("all", Cidr.parse("10.96.0.0/11"))),
                madeFor(mara, Attribute.TUNNEL_NETWORK, "10.20.4.128/25"),
                HOTEL));
        out.add(bram(
                "a router in front that is at another site",
                gateway(
                        office(),
                        "slip-front",
                        g -> new Office.Gateway(
                                g.id(),
                                g.name(),
                                "pier-two",
                                g.kind(),
                                true,
                                g.readAt(),
                                Optional.empty(),
                                g.newestBackup(),
                                g.device(),
                                g.said(),
                                List.of(),
                                g.factory(),
                                Optional.empty(),
                                0,
                                0,
                                false,
                                List.of()))));
        return out;
    }

    private static String told(Case c) {
        Walk.Path path = Walk.of(c.office(), new Walk.Question(c.from(), c.place(), c.to(), c.port()));
        StringBuilder out = new StringBuilder();
        for (Hop h : path.hops()) {
            out.append(String.format(
                    "%s %s, %s: %s%n",
                    h.verdict() == Hop.Verdict.PASSES ? " " : h.verdict() == Hop.Verdict.FAILS ? "x" : "?",
                    h.place(),
                    h.decidedBy(),
                    h.detail()));
            h.remedy()
                    .ifPresent(r -> out.append("    remedy")
                            .append(r.change().isPresent() ? " (a change): " : ": ")
                            .append(r.words())
                            .append('\n'));
        }
        assertThat(path.failed())
                .isEqualTo(path.hops().stream()
                        .filter(h -> h.verdict() == Hop.Verdict.FAILS)
                        .findFirst());
        return out.toString();
    }

    @ParameterizedTest
    @MethodSource("cases")
    void everyHopSaysWhatDecidesItAndWhatToDo(Case c) {
        WRITTEN.holds(c.name(), told(c));
    }

    @Test
    void everyCaseIsWrittenOnce() {
        Map<String, String> all = new LinkedHashMap<>();
        cases().forEach(c -> all.put(c.name(), told(c)));
        WRITTEN.holdsExactly(all);
    }
}
