package tender.core.walk;

import static org.assertj.core.api.Assertions.assertThat;
import static tender.core.office.SoundOffice.NAS;
import static tender.core.office.SoundOffice.device;
import static tender.core.office.SoundOffice.gateway;
import static tender.core.office.SoundOffice.hosts;
import static tender.core.office.SoundOffice.madeFor;
import static tender.core.office.SoundOffice.networks;
import static tender.core.office.SoundOffice.office;
import static tender.core.office.SoundOffice.reporting;
import static tender.core.office.SoundOffice.set;
import static tender.core.office.SoundOffice.uplink;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Forward;
import tender.core.office.Listener;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.SoundOffice;
import tender.core.office.Uplink;

/** What clients are told to call, whether a file fits its listener, and which networks are known and free. */
class CalledTest {
    private static List<String> called(Office o, String gateway) {
        Office.Gateway g = o.gateway(gateway).orElseThrow();
        return Called.endpoints(Approach.chain(o, g), g.device().listeners().get(0)).stream()
                .map(Endpoint::toString)
                .toList();
    }

    private static Forward forward(int port, IpAddress to, int toPort) {
        return new Forward(Transport.UDP, new Port(port), to, new Port(toPort), "");
    }

    private static Office forwards(Forward... forwards) {
        return device(office(), "slip-front", d -> d.withForwards(List.of(forwards)));
    }

    @Test
    void whatTheLineIsKnownByIsCalledUnlessHostsAreSet() {
        assertThat(called(office(), "pier2")).containsExactly("pier2.skerrivane.example:51820");
        assertThat(called(hosts(office(), "pier2", "a.skerrivane.example", "198.51.100.4"), "pier2"))
                .containsExactly("a.skerrivane.example:51820", "198.51.100.4:51820");
        Uplink nameless = Uplink.of(Uplink.Kind.FIXED, Optional.of(IpAddress.parse("198.51.100.4")), Optional.empty());
        assertThat(called(uplink(office(), "pier2", nameless), "pier2")).containsExactly("198.51.100.4:51820");
        Uplink unknown = Uplink.of(Uplink.Kind.CHANGING, Optional.empty(), Optional.empty());
        assertThat(called(uplink(office(), "pier2", unknown), "pier2")).isEmpty();
        assertThat(called(gateway(office(), "pier2", g -> g.withSaid(List.of())), "pier2"))
                .isEmpty();
    }

    @Test
    void behindARouterTheRoutersHostsAreCalledUnlessTheGatewayHasItsOwn() {
        assertThat(called(office(), "slip-nas")).containsExactly("slip.skerrivane.example:1194");
        Office front = hosts(office(), "slip-front", "front.skerrivane.example");
        assertThat(called(front, "slip-nas")).containsExactly("front.skerrivane.example:1194");
        assertThat(called(hosts(front, "slip-nas", "nas.skerrivane.example"), "slip-nas"))
                .containsExactly("nas.skerrivane.example:1194");
    }

    @Test
    void theOutermostForwardedPortIsCalled() {
        assertThat(called(forwards(forward(2194, NAS, 1194)), "slip-nas"))
                .containsExactly("slip.skerrivane.example:2194");
        assertThat(called(forwards(forward(2194, SoundOffice.SLIP_HOST, 1194)), "slip-nas"))
                .as("forwarded to another host")
                .containsExactly("slip.skerrivane.example:1194");
        assertThat(called(forwards(forward(2194, NAS, 1195)), "slip-nas"))
                .as("forwarded to another port")
                .containsExactly("slip.skerrivane.example:1194");
        assertThat(called(forwards(new Forward(Transport.TCP, new Port(2194), NAS, new Port(1194), "")), "slip-nas"))
                .as("another transport")
                .containsExactly("slip.skerrivane.example:1194");
        Office ike = set(forwards(forward(2500, NAS, 500)), "slip-nas", Attribute.PROTOCOL, "ikev2");
        assertThat(called(ike, "slip-nas")).as("a standard fixes it").containsExactly("slip.skerrivane.example:500");
    }

    private static List<String> differences(Listener l, List<String> now, Office.IssuedProfile issued) {
        return Fit.differences(
                        l,
                        now.stream().map(e -> Endpoint.parse(e, Transport.UDP)).toList(),
                        issued)
                .stream()
                .map(Fit.Difference::words)
                .toList();
    }

    @Test
    void aFileFitsUntilSomethingThatItCopiedDiffers() {
        Listener wg = SoundOffice.wireguard();
        Office.IssuedProfile mara = SoundOffice.mara();
        List<String> now = List.of("other.skerrivane.example:51820", "pier2.skerrivane.example:51820");
        assertThat(differences(wg, now, mara)).isEmpty();
        assertThat(differences(wg, List.of(), mara))
                .as("nobody knows what is called")
                .isEmpty();
        assertThat(differences(wg, List.of("vpn.skerrivane.example:51820", "x.skerrivane.example:1"), mara))
                .containsExactly("endpoint was pier2.skerrivane.example:51820, is vpn.skerrivane.example:51820");
        assertThat(differences(wg.with(Attribute.PUBLIC_KEY, "NEW"), now, mara))
                .containsExactly("public-key was KEY, is NEW");
        assertThat(differences(wg.with(Map.of(Attribute.REACH, "10.0.0.0/8", Attribute.DNS, "10.0.0.1")), now, mara))
                .as("granted to the person, not copied")
                .isEmpty();
    }

    @Test
    void whereAStandardFixesThePortsOnlyTheHostCounts() {
        Listener ike = SoundOffice.wireguard().with(Map.of(Attribute.PROTOCOL, "ikev2", Attribute.PORT, "500"));
        Office.IssuedProfile mara = SoundOffice.mara();
        assertThat(differences(
                        ike.with(Map.of(Attribute.PUBLIC_KEY, "KEY", Attribute.TUNNEL_NETWORK, "10.1.0.0/24")),
                        List.of("pier2.skerrivane.example:4500"),
                        mara))
                .isEmpty();
        assertThat(differences(ike, List.of("vpn.skerrivane.example:51820"), mara))
                .hasSize(1);
    }

    @Test
    void networksThatNobodyHasAnyMoreAreGone() {
        KnownNetworks known = new KnownNetworks(office());
        assertThat(known.isGone("pier-two", Cidr.parse("10.20.4.0/25"))).isFalse();
        assertThat(known.isGone("pier-two", Cidr.parse("10.20.2.0/24")))
                .as("of another site in the same domain")
                .isFalse();
        assertThat(known.isGone("pier-two", Cidr.parse("10.99.4.0/24")))
                .as("a tunnel")
                .isFalse();
        assertThat(known.isGone("pier-two", Cidr.parse("10.77.0.0/24"))).isTrue();
        assertThat(known.isGone("pier-two", Cidr.parse("10.77.0.0/24")))
                .as("asked twice")
                .isTrue();
        assertThat(known.isGone("pier-two", Cidr.parse("203.0.113.0/24")))
                .as("not ours to know")
                .isFalse();
        assertThat(known.isGone("pier-two", Cidr.EVERYTHING_V4)).isFalse();
        assertThat(known.isGone("nowhere", Cidr.parse("10.77.0.0/24")))
                .as("nothing is known there")
                .isFalse();

        Office moved = networks(office(), "pier-two", Network.plain("office", Cidr.parse("10.30.0.0/24")));
        assertThat(new KnownNetworks(moved).isGone("pier-two", Cidr.parse("10.20.4.0/24")))
                .isTrue();
        assertThat(new KnownNetworks(moved)).isNotEqualTo(known).isNotEqualTo("known");
        assertThat(new KnownNetworks(office())).isEqualTo(known).hasSameHashCodeAs(known);
        assertThat(known.hashCode()).isNotZero();
    }

    @Test
    void whatTheGatewayReportsStandsBeforeWhatWasEntered() {
        Office said = device(
                office(),
                "pier2",
                d -> reporting(
                        d,
                        Network.plain("office", Cidr.parse("10.40.0.0/24")),
                        Network.plain("yard", Cidr.parse("10.41.0.0/24"))));
        KnownNetworks known = new KnownNetworks(said);
        assertThat(known.isGone("pier-two", Cidr.parse("10.20.4.0/24")))
                .as("the office moved")
                .isTrue();
        assertThat(known.isGone("pier-two", Cidr.parse("10.40.0.0/24"))).isFalse();
        assertThat(known.isGone("pier-two", Cidr.parse("10.41.0.0/24"))).isFalse();
    }

    @Test
    void aFileThatSendsSuchANetworkThroughTheTunnelIsTold() {
        KnownNetworks known = new KnownNetworks(office());
        Office.IssuedProfile mara = SoundOffice.mara();
        assertThat(Fit.gone(known, "pier-two", mara)).isEmpty();
        Office.IssuedProfile old = madeFor(mara, Attribute.REACH, "10.20.4.0/24, 10.77.0.0/24 ,10.78.0.0/24");
        assertThat(Fit.gone(known, "pier-two", old).stream().map(Fit.Difference::words))
                .containsExactly(
                        "reach was 10.77.0.0/24, is no network of ours",
                        "reach was 10.78.0.0/24, is no network of ours");
    }

    @Test
    void freeNetworksAreClearOfAllThatIsRecorded() {
        Office taken = networks(
                set(office(), "pier2", Attribute.TUNNEL_NETWORK, "10.96.0.0/24"),
                "dunmar-slip",
                Network.plain("workshop", Cidr.parse("10.96.1.0/24")));
        taken = device(taken, "slip-front", d -> reporting(d, Network.plain("store", Cidr.parse("10.96.2.0/24"))));
        FreeNetworks free = new FreeNetworks(taken);
        assertThat(free.like(Cidr.parse("10.20.4.0/24"))).contains(Cidr.parse("10.96.3.0/24"));
        assertThat(free.like(Cidr.parse("10.20.4.0/24"))).contains(Cidr.parse("10.96.3.0/24"));
        assertThat(free.like(Cidr.parse("10.20.4.0/23"))).contains(Cidr.parse("10.96.4.0/23"));
        assertThat(free.like(Cidr.parse("fd00:1::/64"))).contains(Cidr.parse("fd00:96::/64"));
        assertThat(free.like(Cidr.parse("10.0.0.0/8")))
                .as("no wider than where it is looked for")
                .isEmpty();
    }

    @Test
    void aChainOfMoreThanFourInFrontIsBroken() {
        Office o = office();
        Office.Gateway base = o.gateway("slip-front").orElseThrow();
        java.util.Map<String, Office.Gateway> all = new java.util.LinkedHashMap<>(o.gateways());
        for (int i = 0; i < 6; i++) {
            all.put(
                    "r" + i,
                    new Office.Gateway(
                            "id" + i,
                            "r" + i,
                            "dunmar-slip",
                            "router",
                            true,
                            base.readAt(),
                            Optional.empty(),
                            base.newestBackup(),
                            base.device(),
                            List.of(
                                    i < 5
                                            ? Uplink.behind("r" + (i + 1))
                                            : base.said().get(0)),
                            List.of(),
                            base.factory(),
                            Optional.empty(),
                            0,
                            0,
                            false,
                            List.of()));
        }
        Office deep = new Office(o.now(), o.sites(), all, o.joined(), o.issuedProfiles(), o.names());
        assertThat(Approach.chain(deep, all.get("r0")).broken()).isPresent();
        Approach.Chain four = Approach.chain(deep, all.get("r1"));
        assertThat(four.broken()).isEmpty();
        assertThat(four.gateways()).hasSize(5);
        assertThat(four.outermost().name()).isEqualTo("r5");
        assertThat(four.addresses(deep)).containsExactly(IpAddress.parse("198.51.100.2"));
        Uplink byName = Uplink.of(
                Uplink.Kind.CHANGING, Optional.empty(), Optional.of(HostName.parse("slip.skerrivane.example")));
        assertThat(Approach.chain(uplink(o, "slip-front", byName), base).addresses(o))
                .as("by the old record")
                .containsExactly(IpAddress.parse("198.51.100.2"));
    }
}
