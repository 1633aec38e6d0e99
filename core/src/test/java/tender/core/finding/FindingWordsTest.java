package tender.core.finding;

import static org.assertj.core.api.Assertions.assertThat;
import static tender.core.office.SoundOffice.NAS;
import static tender.core.office.SoundOffice.NOW;
import static tender.core.office.SoundOffice.bram;
import static tender.core.office.SoundOffice.calling;
import static tender.core.office.SoundOffice.device;
import static tender.core.office.SoundOffice.ending;
import static tender.core.office.SoundOffice.filter;
import static tender.core.office.SoundOffice.fromTunnel;
import static tender.core.office.SoundOffice.issuedProfiles;
import static tender.core.office.SoundOffice.mara;
import static tender.core.office.SoundOffice.office;
import static tender.core.office.SoundOffice.port;
import static tender.core.office.SoundOffice.set;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.Written;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Forward;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.SoundOffice;

/** What each finding says: values, whom it breaks what for, remedy and the one step; held against {@code findings.txt}. */
class FindingWordsTest {
    private static final Written WRITTEN = Written.in("finding/findings.txt");

    private record Told(String name, Office office) {
        @Override
        public String toString() {
            return name;
        }
    }

    private static Office second(Attribute attribute, String first, String second) {
        Office one = set(office(), "pier2", attribute, first);
        return device(
                one,
                "pier2",
                d -> d.withListener(SoundOffice.wireguard()
                        .named("wg1")
                        .with(Attribute.TUNNEL_NETWORK, "10.99.5.0/24")
                        .with(attribute, second)));
    }

    static List<Told> cases() {
        Map<Rule, Integer> count = new LinkedHashMap<>();
        Stream<Told> each = FindingsTest.cases().map(c -> {
            int n = count.merge(c.rule(), 1, Integer::sum);
            return new Told(c.rule().code() + (n == 1 ? "" : " " + n), c.wrong().apply(office()));
        });
        Office.IssuedProfile elsewhere = calling(bram(), Transport.UDP, "slip.skerrivane.example:1195");
        Office from1195 = device(
                office(),
                "slip-front",
                d -> d.withForwards(List.of(new Forward(Transport.UDP, new Port(1194), NAS, new Port(1195), "NAS"))));
        Stream<Told> more = Stream.of(
                new Told(
                        "the listener is the odd one of three",
                        issuedProfiles(
                                filter(
                                        set(office(), "pier2", Attribute.PORT, "51821"),
                                        "pier2",
                                        port(true, "udp", 51820),
                                        fromTunnel("10.20.4.0/24")),
                                mara())),
                new Told(
                        "the filter is the odd one of three",
                        filter(office(), "pier2", port(true, "udp", 51821), fromTunnel("10.20.4.0/24"))),
                new Told(
                        "the files are the odd ones of three",
                        issuedProfiles(office(), calling(mara(), Transport.UDP, "pier2.skerrivane.example:51821"))),
                new Told("the forward is the odd one of three", issuedProfiles(from1195, bram())),
                new Told(
                        "the forward and the files against the listener and the filter: no odd one",
                        issuedProfiles(from1195, elsewhere)),
                new Told(
                        "the filter and the forward agree against the listener",
                        filter(
                                device(
                                        set(office(), "slip-nas", Attribute.PORT, "1199"),
                                        "slip-front",
                                        d -> d.withForwards(List.of(new Forward(
                                                Transport.UDP, new Port(1194), NAS, new Port(1194), "NAS")))),
                                "slip-nas",
                                port(true, "udp", 1194),
                                fromTunnel("10.20.2.0/24"))),
                new Told("one port at two addresses", second(Attribute.BIND, "wan", "lan")),
                new Told("one port at one address", second(Attribute.BIND, "wan", "wan")),
                new Told("one port at any address and at one", second(Attribute.BIND, "any", "wan")),
                new Told("the credential ends now", issuedProfiles(office(), ending(mara(), NOW))),
                new Told(
                        "the credential ends in a second",
                        issuedProfiles(office(), ending(mara(), NOW.plusSeconds(1)))),
                new Told("the credential ended", issuedProfiles(office(), ending(mara(), NOW.minusSeconds(60)))),
                new Told("two IPsec listeners share their ports", ipsec()));
        return Stream.concat(each, more).toList();
    }

    private static Office ipsec() {
        Listener ike = SoundOffice.wireguard()
                .named("ike")
                .with(Attribute.PROTOCOL, "ikev2")
                .with(Attribute.PORT, "500");
        Listener l2tp =
                ike.named("l2tp").with(Attribute.PROTOCOL, "l2tp-ipsec").with(Attribute.TUNNEL_NETWORK, "10.99.7.0/24");
        return device(
                office(),
                "pier2",
                d -> d.withListener(ike.with(Attribute.TUNNEL_NETWORK, "10.99.6.0/24"))
                        .withListener(l2tp));
    }

    private static String told(Office office) {
        StringBuilder out = new StringBuilder();
        for (Finding f : Findings.of(office).all()) {
            out.append(f.severity())
                    .append(' ')
                    .append(f.code())
                    .append(", ")
                    .append(f.subjectKind())
                    .append(' ');
            out.append(f.subject()).append(": ").append(f.evidence()).append('\n');
            out.append("    breaks: ").append(f.breaks()).append('\n');
            out.append("    remedy: ").append(f.remedy()).append('\n');
            f.fix().ifPresent(x -> out.append("    " + x.words() + '\n'));
        }
        return out.toString();
    }

    @ParameterizedTest
    @MethodSource("cases")
    void aFindingSaysItsValuesWhomItBreaksAndTheRemedy(Told c) {
        WRITTEN.holds(c.name(), told(c.office()));
    }

    @Test
    void everyCaseIsWrittenOnce() {
        Map<String, String> all = new LinkedHashMap<>();
        cases().forEach(c -> all.put(c.name(), told(c.office())));
        assertThat(all).hasSize(cases().size());
        WRITTEN.holdsExactly(all);
    }
}
