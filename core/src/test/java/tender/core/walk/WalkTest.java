package tender.core.walk;

import static org.assertj.core.api.Assertions.assertThat;
import static tender.core.office.SoundOffice.device;
import static tender.core.office.SoundOffice.filter;
import static tender.core.office.SoundOffice.fromTunnel;
import static tender.core.office.SoundOffice.gateway;
import static tender.core.office.SoundOffice.madeFor;
import static tender.core.office.SoundOffice.names;
import static tender.core.office.SoundOffice.office;
import static tender.core.office.SoundOffice.port;
import static tender.core.office.SoundOffice.set;
import static tender.core.office.SoundOffice.uplink;

import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Forward;
import tender.core.office.Office;
import tender.core.office.Protocol.PortSpec;
import tender.core.office.SoundOffice;
import tender.core.office.Uplink;
import tender.core.walk.Walk.Place;
import tender.core.walk.Walk.Standing;

/** Office cases: what is wrong, the hop that must fail, what the remedy names, and that making it fixes the walk. */
class WalkTest {
    private static final Place HOTEL =
            new Place(Standing.HOTEL, Optional.of(Cidr.parse("192.168.50.0/24")), false, Optional.empty());

    /** {@code byHand} makes the remedy where Tender cannot make it at a device. */
    private record Case(
            String name,
            Office.IssuedProfile from,
            UnaryOperator<Office> wrong,
            Place place,
            Hop.Kind fails,
            String remedy,
            UnaryOperator<Asked> byHand) {
        @Override
        public String toString() {
            return name;
        }
    }

    /** An office and a question to it. */
    private record Asked(Office office, Walk.Question question) {
        Asked from(Office.IssuedProfile issued) {
            return new Asked(office, new Walk.Question(issued, question.place(), question.to(), question.port()));
        }

        Asked at(Place place) {
            return new Asked(office, new Walk.Question(question.from(), place, question.to(), question.port()));
        }

        Asked in(Office changed) {
            return new Asked(changed, question);
        }
    }

    private static Case atDevice(
            String name, Office.IssuedProfile from, UnaryOperator<Office> wrong, Hop.Kind fails, String remedy) {
        return new Case(name, from, wrong, HOTEL, fails, remedy, null);
    }

    static Stream<Case> cases() {
        Office.IssuedProfile mara = SoundOffice.mara();
        Office.IssuedProfile bram = SoundOffice.bram();
        IpAddress elsewhere = IpAddress.parse("10.20.2.77");
        return Stream.of(
                new Case(
                        "the name still leads to yesterday's address",
                        mara,
                        o -> names(o, "pier2.skerrivane.example", "203.0.113.9"),
                        HOTEL,
                        Hop.Kind.NAME,
                        "Let pier2.skerrivane.example follow 198.51.100.4",
                        a -> a.in(names(a.office(), "pier2.skerrivane.example", "198.51.100.4"))),
                new Case(
                        "the hotel lets only the web out",
                        mara,
                        o -> o,
                        new Place(Standing.HOTEL, HOTEL.lan(), true, Optional.empty()),
                        Hop.Kind.PLACE,
                        "Put a listener on tcp 443 beside wg0",
                        a -> a.at(HOTEL)),
                new Case(
                        "the line is behind the carrier's address translation",
                        mara,
                        o -> uplink(o, "pier2", Uplink.of(Uplink.Kind.CARRIER_NAT, Optional.empty(), Optional.empty())),
                        HOTEL,
                        Hop.Kind.LINE,
                        "Ask the provider for an address of its own",
                        a -> a.in(office())),
                atDevice(
                        "the router in front has no forward",
                        bram,
                        o -> device(o, "slip-front", d -> d.withForwards(List.of())),
                        Hop.Kind.FORWARD,
                        "On slip-front, forward udp 1194 to 10.20.2.5 port 1194"),
                atDevice(
                        "the router in front forwards to another host",
                        bram,
                        o -> device(
                                o,
                                "slip-front",
                                d -> d.withForwards(List.of(
                                        new Forward(Transport.UDP, new Port(1194), elsewhere, new Port(1194), "")))),
                        Hop.Kind.FORWARD,
                        "On slip-front, forward udp 1194 to 10.20.2.5 port 1194"),
                atDevice(
                        "the filter in front denies what is forwarded",
                        bram,
                        o -> filter(o, "slip-front"),
                        Hop.Kind.FILTER_IN_FRONT,
                        "On slip-front, add filter rule 1: allow udp 1194 through to 10.20.2.5/32"),
                atDevice(
                        "the allowing rule stands below a denying one",
                        mara,
                        o -> filter(
                                o,
                                "pier2",
                                port(false, "udp", 51820),
                                fromTunnel("10.20.4.0/24"),
                                port(true, "udp", 51820)),
                        Hop.Kind.FILTER,
                        "On pier2, move filter rule 3 to place 1"),
                atDevice(
                        "the listener waits on the inside",
                        bram,
                        o -> set(o, "slip-nas", Attribute.BIND, "lan"),
                        Hop.Kind.LISTENER,
                        "On slip-nas, set bind to any on listener staff"),
                atDevice(
                        "what is written is not active",
                        mara,
                        o -> set(o, "pier2", Attribute.ACTIVE, "no"),
                        Hop.Kind.LISTENER,
                        "On pier2, reload the configuration"),
                new Case(
                        "the file is older than the gateway's key",
                        mara,
                        o -> set(o, "pier2", Attribute.PUBLIC_KEY, "NEWKEY"),
                        HOTEL,
                        Hop.Kind.FILE,
                        "tender profile renew mara-phone-pier2",
                        a -> a.from(madeFor(a.question().from(), Attribute.PUBLIC_KEY, "NEWKEY"))),
                new Case(
                        "the account is missing on the device",
                        bram,
                        o -> device(o, "slip-nas", d -> d.withAccounts(List.of())),
                        HOTEL,
                        Hop.Kind.LOGIN,
                        "Add the account bram on slip-nas",
                        a -> a.in(office())),
                new Case(
                        "the host is not in the file's reach",
                        madeFor(mara, Attribute.REACH, "10.99.4.0/24"),
                        o -> o,
                        HOTEL,
                        Hop.Kind.ROUTE,
                        "Renew mara-phone-pier2 with 10.20.4.0/24 in its reach",
                        a -> a.from(madeFor(a.question().from(), Attribute.REACH, "10.20.4.0/24"))),
                new Case(
                        "the hotel uses the office's network",
                        mara,
                        o -> o,
                        new Place(Standing.HOTEL, Optional.of(Cidr.parse("10.20.4.0/24")), false, Optional.empty()),
                        Hop.Kind.OVERLAP,
                        "Renew mara-phone-pier2 with 10.20.4.20/32 in its reach",
                        a -> a.from(madeFor(a.question().from(), Attribute.REACH, "10.20.4.0/24, 10.20.4.20/32"))),
                atDevice(
                        "the filter keeps the tunnel from the office",
                        mara,
                        o -> filter(o, "pier2", port(true, "udp", 51820)),
                        Hop.Kind.INSIDE_FILTER,
                        "On pier2, add filter rule 2: allow tcp 445 through to 10.20.4.20/32 coming in tunnel"),
                atDevice(
                        "the tunnel network lies inside the office's",
                        madeFor(mara, Attribute.TUNNEL_NETWORK, "10.20.4.128/25"),
                        o -> set(o, "pier2", Attribute.TUNNEL_NETWORK, "10.20.4.128/25"),
                        Hop.Kind.BACK,
                        "On pier2, set tunnel-network to 10.96.0.0/25 on listener wg0"));
    }

    private static Asked ask(Case c) {
        boolean pier = c.from().gateway().equals("pier2");
        IpAddress to = pier ? SoundOffice.PIER_HOST : SoundOffice.SLIP_HOST;
        return new Asked(
                c.wrong().apply(office()),
                new Walk.Question(c.from(), c.place(), to, Optional.of(new PortSpec(Transport.TCP, new Port(445)))));
    }

    private static Walk.Path walk(Asked asked) {
        return Walk.of(asked.office(), asked.question());
    }

    @ParameterizedTest
    @MethodSource("cases")
    void theFirstHopThatFailsAndItsRemedyAreNamed(Case c) {
        Walk.Path path = walk(ask(c));

        Hop failed = path.failed().orElseThrow();
        assertThat(failed.kind()).isEqualTo(c.fails());
        assertThat(failed.remedy().orElseThrow().words()).startsWith(c.remedy());
        assertThat(path.hops()).last().isEqualTo(failed);
        assertThat(failed.remedy().get().change().isPresent()).isEqualTo(c.byHand() == null);
    }

    @ParameterizedTest
    @MethodSource("cases")
    void makingTheChangeItNamesMakesTheWalkPass(Case c) {
        Asked asked = ask(c);
        Hop.Remedy remedy = walk(asked).failed().orElseThrow().remedy().orElseThrow();

        Asked fixed = c.byHand() != null
                ? c.byHand().apply(asked)
                : asked.in(gateway(
                        asked.office(),
                        remedy.gateway().orElseThrow(),
                        g -> g.with(
                                Change.apply(g.device(), List.of(remedy.change().orElseThrow())))));
        if (c.fails() == Hop.Kind.BACK) { // a moved tunnel needs a new file as well, and the walk says so
            assertThat(walk(fixed).failed().orElseThrow().kind()).isEqualTo(Hop.Kind.FILE);
            fixed = fixed.from(madeFor(asked.question().from(), Attribute.TUNNEL_NETWORK, "10.96.0.0/25"));
        }

        assertThat(walk(fixed).failed()).as("%s", walk(fixed).hops()).isEmpty();
    }

    @Test
    void aWalkThatPassesNamesEveryHopAndTheRecordThatDecidesIt() {
        Walk.Path path = Walk.of(
                office(), new Walk.Question(SoundOffice.bram(), HOTEL, SoundOffice.SLIP_HOST, Optional.empty()));

        assertThat(path.failed()).isEmpty();
        assertThat(path.hops().stream().map(h -> h.kind() + " by " + h.decidedBy()))
                .containsExactly(
                        "NAME by the name",
                        "PLACE by the place",
                        "LINE by the uplink's record",
                        "FORWARD by forward 1",
                        "FILTER_IN_FRONT by filter rule 1",
                        "FILTER by filter rule 1",
                        "LISTENER by staff",
                        "FILE by the file's revision",
                        "LOGIN by accounts: local",
                        "TUNNEL_ADDRESS by staff",
                        "ROUTE by the file's reach",
                        "OVERLAP by the place's own network",
                        "INSIDE_FILTER by filter rule 2",
                        "HOST by the site's networks",
                        "BACK by the records");
    }

    @Test
    void gatewaysBehindEachOtherEndTheWalkInsteadOfGoingRound() {
        Office round = uplink(office(), "slip-front", Uplink.behind("slip-nas"));

        Walk.Path path =
                Walk.of(round, new Walk.Question(SoundOffice.bram(), HOTEL, SoundOffice.SLIP_HOST, Optional.empty()));

        assertThat(path.failed().orElseThrow().detail()).contains("stand behind each other");
    }

    private static Walk.Path walk(Office office, Office.IssuedProfile from, Place place, IpAddress to) {
        return Walk.of(office, new Walk.Question(from, place, to, Optional.empty()));
    }

    private static Optional<Hop> hop(Walk.Path path, Hop.Kind kind) {
        return path.hops().stream().filter(h -> h.kind() == kind).findFirst();
    }

    @Test
    void aHostOfAnotherSiteIsReachedWhereTheTwoAreJoinedAndNotOtherwise() {
        Office apart = filter(
                office(), "pier2", port(true, "udp", 51820), fromTunnel("10.20.4.0/24"), fromTunnel("10.20.2.0/24"));
        Office.IssuedProfile wide = madeFor(SoundOffice.mara(), Attribute.REACH, "10.20.4.0/24, 10.20.2.0/24");
        assertThat(hop(walk(apart, wide, HOTEL, SoundOffice.SLIP_HOST), Hop.Kind.HOST)
                        .orElseThrow()
                        .passes())
                .as("nothing joins them")
                .isFalse();
        for (Office.Joined joined :
                List.of(new Office.Joined("pier2", "slip-front"), new Office.Joined("slip-front", "pier2"))) {
            Office together = new Office(
                    apart.now(),
                    apart.sites(),
                    apart.gateways(),
                    List.of(joined),
                    apart.issuedProfiles(),
                    apart.names());
            Walk.Path path = walk(together, wide, HOTEL, SoundOffice.SLIP_HOST);
            assertThat(hop(path, Hop.Kind.HOST).orElseThrow().passes())
                    .as("%s", path.hops())
                    .isTrue();
        }
    }

    @Test
    void aCallFromItsOwnOfficeIsNotTakenForGranted() {
        Place own = new Place(Standing.OFFICE, Optional.of(Cidr.parse("10.20.4.0/24")), false, Optional.of("pier-two"));
        Hop place = hop(walk(office(), SoundOffice.mara(), own, SoundOffice.PIER_HOST), Hop.Kind.PLACE)
                .orElseThrow();
        assertThat(place.verdict()).isEqualTo(Hop.Verdict.UNKNOWN);
        assertThat(place.detail()).contains("inside its own office");
    }

    @Test
    void behindAnotherRouterTheAnswersNeedARoute() {
        Hop back = hop(walk(office(), SoundOffice.bram(), HOTEL, SoundOffice.SLIP_HOST), Hop.Kind.BACK)
                .orElseThrow();
        assertThat(back.verdict()).isEqualTo(Hop.Verdict.UNKNOWN);
        assertThat(back.detail()).contains("slip-front", "10.99.2.0/24", "slip-nas");
        Hop direct = hop(walk(office(), SoundOffice.mara(), HOTEL, SoundOffice.PIER_HOST), Hop.Kind.BACK)
                .orElseThrow();
        assertThat(direct.passes()).isTrue();
    }
}
