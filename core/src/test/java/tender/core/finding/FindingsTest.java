package tender.core.finding;

import static org.assertj.core.api.Assertions.assertThat;
import static tender.core.office.SoundOffice.NAS;
import static tender.core.office.SoundOffice.NOW;
import static tender.core.office.SoundOffice.device;
import static tender.core.office.SoundOffice.ending;
import static tender.core.office.SoundOffice.filter;
import static tender.core.office.SoundOffice.fromTunnel;
import static tender.core.office.SoundOffice.gateway;
import static tender.core.office.SoundOffice.hosts;
import static tender.core.office.SoundOffice.mara;
import static tender.core.office.SoundOffice.names;
import static tender.core.office.SoundOffice.networks;
import static tender.core.office.SoundOffice.office;
import static tender.core.office.SoundOffice.port;
import static tender.core.office.SoundOffice.set;
import static tender.core.office.SoundOffice.uplink;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Change;
import tender.core.office.Device;
import tender.core.office.Disagreement;
import tender.core.office.FilterRule;
import tender.core.office.Forward;
import tender.core.office.Listener;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.PortRange;
import tender.core.office.SettingSource;
import tender.core.office.SoundOffice;
import tender.core.office.Uplink;

class FindingsTest {
    /** One thing put wrong, and all that must be found: code and subject. */
    record Case(Rule rule, UnaryOperator<Office> wrong, List<String> found) {
        @Override
        public String toString() {
            return rule.code();
        }
    }

    private static Case of(Rule rule, String subject, UnaryOperator<Office> wrong, String... more) {
        List<String> found = new ArrayList<>(List.of(rule.code() + " " + subject));
        found.addAll(List.of(more));
        return new Case(rule, wrong, found);
    }

    private static Case listener(Rule rule, Attribute attribute, String value, String... more) {
        return of(rule, "slip-nas staff", o -> set(o, "slip-nas", attribute, value), more);
    }

    private static Office notes(Office o, Office.Factory factory, int drift, int temporary, Optional<String> problem) {
        return gateway(
                o,
                "pier2",
                g -> new Office.Gateway(
                        g.id(),
                        g.name(),
                        g.site(),
                        g.kind(),
                        true,
                        g.readAt(),
                        problem,
                        g.newestBackup(),
                        g.device(),
                        g.said(),
                        g.hosts(),
                        factory,
                        g.oldestRelease(),
                        drift,
                        temporary,
                        false,
                        List.of()));
    }

    private static Office otherwiseSeen(Office o) {
        Disagreement dns = new Disagreement("wg0", Attribute.DNS, "10.20.4.1", SettingSource.ENTERED, "10.20.4.9", NOW);
        return gateway(
                o,
                "pier2",
                g -> new Office.Gateway(
                        g.id(),
                        g.name(),
                        g.site(),
                        g.kind(),
                        g.identityAccepted(),
                        g.readAt(),
                        g.readProblem(),
                        g.newestBackup(),
                        g.device(),
                        g.said(),
                        g.hosts(),
                        g.factory(),
                        g.oldestRelease(),
                        g.drift(),
                        g.temporary(),
                        g.manual(),
                        List.of(dns)));
    }

    private static Office times(Office o, boolean accepted, Optional<Instant> read, Optional<Instant> backup) {
        return gateway(
                o,
                "pier2",
                g -> new Office.Gateway(
                        g.id(),
                        g.name(),
                        g.site(),
                        g.kind(),
                        accepted,
                        read,
                        Optional.empty(),
                        backup,
                        g.device(),
                        g.said(),
                        g.hosts(),
                        g.factory(),
                        g.oldestRelease(),
                        0,
                        0,
                        false,
                        List.of()));
    }

    private static Office facts(Office o, String release, String zone, Duration clock) {
        return device(
                o,
                "pier2",
                d -> new Device(
                        d.make(),
                        d.model(),
                        release,
                        Optional.of(zone),
                        Optional.of(clock),
                        d.insideHost(),
                        d.interfaces(),
                        d.networks(),
                        d.uplinks(),
                        d.forwards(),
                        d.filter(),
                        d.listeners(),
                        d.accounts()));
    }

    private static Network plain(String network) {
        return Network.plain("office", Cidr.parse(network));
    }

    private static Network pool(String pool, Map<String, IpAddress> fixed) {
        return new Network("office", Cidr.parse("10.20.4.0/24"), Optional.of(Network.Pool.parse(pool)), fixed);
    }

    private static Map<String, IpAddress> fixed(String... pairs) {
        Map<String, IpAddress> out = new LinkedHashMap<>();
        for (int i = 0; i < pairs.length; i += 2) {
            out.put(pairs[i], IpAddress.parse(pairs[i + 1]));
        }
        return out;
    }

    private static Office beside(Office o, String name, Map<Attribute, String> values) {
        return device(
                o,
                "pier2",
                d -> d.withListener(SoundOffice.wireguard().named(name).with(values)));
    }

    private static FilterRule wide(boolean allow) {
        return new FilterRule(
                allow,
                true,
                Optional.empty(),
                Optional.empty(),
                PortRange.ANY,
                Optional.empty(),
                Optional.empty(),
                "all");
    }

    private static Office forward(Office o, Forward forward) {
        return device(o, "slip-front", d -> d.withForwards(List.of(forward)));
    }

    private static Office.IssuedProfile numbered(int number, Office.IssuedProfile h) {
        return new Office.IssuedProfile(
                "p" + number,
                h.label() + number,
                h.person(),
                h.account(),
                h.gateway(),
                h.listener(),
                h.madeFor(),
                h.endpoints(),
                false,
                h.credentialEnds());
    }

    private static final FilterRule WG_PORT = port(true, "udp", 51820);
    private static final FilterRule WG_INSIDE = fromTunnel("10.20.4.0/24");

    static Stream<Case> cases() {
        return Stream.of(
                of(
                        Rule.TUNNEL_OVERLAPS_SITE,
                        "pier2 wg0",
                        o -> SoundOffice.issuedProfiles(
                                set(o, "pier2", Attribute.TUNNEL_NETWORK, "10.20.2.128/25"), SoundOffice.bram())),
                of(
                        Rule.TUNNELS_OVERLAP_ON_DEVICE,
                        "pier2 wg1",
                        o -> filter(
                                beside(o, "wg1", Map.of(Attribute.PORT, "51821", Attribute.PUBLIC_KEY, "OTHER")),
                                "pier2",
                                WG_PORT,
                                port(true, "udp", 51821),
                                WG_INSIDE)),
                of(
                        Rule.TUNNELS_OVERLAP_ACROSS,
                        "slip-nas staff",
                        o -> set(o, "slip-nas", Attribute.TUNNEL_NETWORK, "10.99.4.0/25")),
                of(
                        Rule.SITES_OVERLAP,
                        "dunmar-slip store",
                        o -> networks(
                                o,
                                "dunmar-slip",
                                Network.plain("workshop", Cidr.parse("10.20.2.0/24")),
                                Network.plain("store", Cidr.parse("10.20.4.64/26")))),
                of(
                        Rule.JOINED_SITES_OVERLAP,
                        "dunmar-slip store",
                        o -> SoundOffice.joined(
                                networks(
                                        o,
                                        "dunmar-slip",
                                        Network.plain("workshop", Cidr.parse("10.20.2.0/24")),
                                        Network.plain("store", Cidr.parse("10.20.4.64/26"))),
                                "pier2",
                                "slip-front")),
                of(
                        Rule.POOL_OUTSIDE_NETWORK,
                        "pier-two office",
                        o -> networks(o, "pier-two", pool("10.20.5.1-10.20.5.9", Map.of()))),
                of(
                        Rule.RESERVED_ADDRESS_IN_POOL,
                        "pier-two office crane",
                        o -> networks(o, "pier-two", pool("10.20.4.100-10.20.4.199", fixed("crane", "10.20.4.150")))),
                of(
                        Rule.RESERVED_ADDRESS_TWICE,
                        "pier-two office scale",
                        o -> networks(
                                o,
                                "pier-two",
                                pool("10.20.4.100-10.20.4.199", fixed("crane", "10.20.4.7", "scale", "10.20.4.7")))),
                of(
                        Rule.RESERVED_ADDRESS_OUTSIDE,
                        "pier-two office crane",
                        o -> networks(o, "pier-two", pool("10.20.4.100-10.20.4.199", fixed("crane", "10.20.5.7")))),
                of(
                        Rule.NETWORK_GONE,
                        "pier2",
                        o -> device(
                                o,
                                "pier2",
                                d -> d.withForwards(List.of(new Forward(
                                        Transport.TCP,
                                        new Port(8443),
                                        IpAddress.parse("10.77.0.9"),
                                        new Port(443),
                                        "crane"))))),
                of(
                        Rule.SITE_LIKE_A_HOME,
                        "pier-two office",
                        o -> networks(o, "pier-two", plain("10.20.4.0/24"), plain("192.168.1.0/24"))),
                of(
                        Rule.TUNNEL_LIKE_A_HOME,
                        "slip-nas staff",
                        o -> set(o, "slip-nas", Attribute.TUNNEL_NETWORK, "192.168.0.0/24")),
                of(
                        Rule.NETWORK_NOT_PRIVATE,
                        "slip-nas staff",
                        o -> set(o, "slip-nas", Attribute.TUNNEL_NETWORK, "203.0.113.0/24")),
                of(Rule.TUNNEL_FULL, "pier2 wg0", o -> set(o, "pier2", Attribute.PEERS, "250")),
                of(
                        Rule.ENDPOINT_MISSING,
                        "pier2 wg0",
                        o -> uplink(o, "pier2", Uplink.of(Uplink.Kind.FIXED, Optional.empty(), Optional.empty()))),
                of(
                        Rule.ENDPOINT_PLACEHOLDER,
                        "pier2 wg0",
                        o -> SoundOffice.issuedProfiles(hosts(o, "pier2", "your-server"), SoundOffice.bram())),
                of(
                        Rule.ENDPOINT_PRIVATE,
                        "pier2 wg0",
                        o -> SoundOffice.issuedProfiles(hosts(o, "pier2", "10.20.4.1"), SoundOffice.bram())),
                of(
                        Rule.ENDPOINT_LITERAL_ON_CHANGING_LINE,
                        "pier2 wg0",
                        o -> SoundOffice.issuedProfiles(
                                uplink(
                                        hosts(o, "pier2", "198.51.100.4"),
                                        "pier2",
                                        Uplink.of(
                                                Uplink.Kind.CHANGING,
                                                Optional.of(IpAddress.parse("198.51.100.4")),
                                                Optional.empty())),
                                SoundOffice.bram())),
                of(Rule.ENDPOINT_NAME_UNKNOWN, "pier2 wg0", o -> names(o, "pier2.skerrivane.example")),
                of(
                        Rule.ENDPOINT_NAME_ELSEWHERE,
                        "pier2 wg0",
                        o -> names(o, "pier2.skerrivane.example", "203.0.113.77")),
                of(
                        Rule.ENDPOINT_BEHIND_CARRIER,
                        "pier2",
                        o -> hosts(
                                uplink(
                                        o,
                                        "pier2",
                                        Uplink.of(Uplink.Kind.CARRIER_NAT, Optional.empty(), Optional.empty())),
                                "pier2",
                                "pier2.skerrivane.example")),
                of(
                        Rule.ENDPOINT_ADDRESS_DIFFERS,
                        "pier2 wg0",
                        o -> SoundOffice.issuedProfiles(hosts(o, "pier2", "203.0.113.4"), SoundOffice.bram())),
                of(
                        Rule.UPLINK_UNKNOWN,
                        "pier2",
                        o -> hosts(
                                gateway(o, "pier2", g -> g.withSaid(List.of())), "pier2", "pier2.skerrivane.example")),
                of(
                        Rule.PORTS_DISAGREE,
                        "pier2 wg0",
                        o -> set(o, "pier2", Attribute.PORT, "51821"),
                        "port-open-unused pier2 rule udp 51820",
                        "file-out-of-date mara-phone-pier2"),
                of(
                        Rule.FORWARD_MISSING,
                        "slip-nas staff",
                        o -> device(o, "slip-front", d -> d.withForwards(List.of()))),
                of(
                        Rule.FORWARD_WRONG,
                        "slip-nas staff",
                        o -> forward(
                                o,
                                new Forward(
                                        Transport.UDP,
                                        new Port(1194),
                                        IpAddress.parse("10.20.2.8"),
                                        new Port(1194),
                                        ""))),
                of(Rule.FILTER_DENIES, "pier2 wg0", o -> filter(o, "pier2", WG_INSIDE)),
                of(Rule.RULE_SHADOWED, "pier2 wg0", o -> filter(o, "pier2", wide(false), WG_PORT, WG_INSIDE)),
                of(
                        Rule.RULE_WITHOUT_EFFECT,
                        "pier2 rule deny udp 51820 to the device coming in outside",
                        o -> filter(o, "pier2", WG_PORT, port(false, "udp", 51820), WG_INSIDE)),
                listener(Rule.LISTENER_BOUND_INSIDE, Attribute.BIND, "lan"),
                of(
                        Rule.PORT_CLAIMED_TWICE,
                        "pier2 wg1",
                        o -> beside(
                                o,
                                "wg1",
                                Map.of(Attribute.TUNNEL_NETWORK, "10.99.5.0/24", Attribute.PUBLIC_KEY, "OTHER"))),
                of(
                        Rule.PORT_OPEN_UNUSED,
                        "pier2 rule tcp 8443",
                        o -> filter(o, "pier2", WG_PORT, port(true, "tcp", 8443), WG_INSIDE)),
                of(Rule.RULE_TOO_WIDE, "pier2 rule 2", o -> filter(o, "pier2", WG_PORT, wide(true), WG_INSIDE)),
                of(Rule.TUNNEL_MAY_NOT_REACH, "pier2 wg0", o -> filter(o, "pier2", WG_PORT)),
                of(
                        Rule.PROTOCOL_BROKEN,
                        "pier2 old",
                        o -> filter(
                                device(
                                        o,
                                        "pier2",
                                        d -> d.withListener(new Listener("old", Map.of(Attribute.PROTOCOL, "pptp")))),
                                "pier2",
                                WG_PORT,
                                port(true, "tcp", 1723),
                                WG_INSIDE)),
                listener(Rule.PROTOCOL_WEAK, Attribute.SHARED_SECRET, "yes"),
                of(
                        Rule.CIPHER_WEAK,
                        "slip-nas staff",
                        o -> SoundOffice.issuedProfiles(
                                set(o, "slip-nas", Attribute.CIPHERS, "AES-256-GCM, BF-CBC"), mara())),
                of(
                        Rule.DIGEST_WEAK,
                        "slip-nas staff",
                        o -> SoundOffice.issuedProfiles(set(o, "slip-nas", Attribute.DIGEST, "SHA1"), mara())),
                listener(Rule.TLS_OLD, Attribute.TLS_MINIMUM, "1.0"),
                of(
                        Rule.TLS_OLD,
                        "slip-nas staff",
                        o -> device(
                                o,
                                "slip-nas",
                                d -> d.withListener(d.listeners()
                                        .get(0)
                                        .without(Attribute.TLS_MINIMUM)
                                        .with(Attribute.TLS_VERSION, "1.1")))),
                listener(Rule.KEY_SHORT, Attribute.KEY_BITS, "1024"),
                listener(Rule.COMPRESSION_ON, Attribute.COMPRESSION, "yes"),
                listener(Rule.CERTIFICATE_NOT_ASKED, Attribute.CLIENT_CERTIFICATE, "no"),
                listener(Rule.SECOND_FACTOR_MISSING, Attribute.SECOND_FACTOR, "no"),
                listener(Rule.CONTROL_CHANNEL_KEY_MISSING, Attribute.CONTROL_CHANNEL_KEY, "none"),
                of(
                        Rule.ACCOUNT_ADMINISTERS,
                        "slip-nas account bram",
                        o -> device(
                                o,
                                "slip-nas",
                                d -> d.withAccounts(List.of(new Device.Account("bram", true, true, true))))),
                of(Rule.FACTORY_CREDENTIALS, "pier2", o -> notes(o, Office.Factory.STILL_WORK, 0, 0, Optional.empty())),
                of(Rule.FACTORY_NOT_ASKED, "pier2", o -> notes(o, Office.Factory.NOT_ASKED, 0, 0, Optional.empty())),
                of(
                        Rule.SERVER_NAME_DIFFERS,
                        "pier2 ike",
                        o -> filter(
                                device(
                                        o,
                                        "pier2",
                                        d -> d.withListener(new Listener(
                                                "ike",
                                                Map.of(
                                                        Attribute.PROTOCOL,
                                                        "ikev2",
                                                        Attribute.SERVER_NAMES,
                                                        "old.skerrivane.example")))),
                                "pier2",
                                WG_PORT,
                                port(true, "udp", 500),
                                port(true, "udp", 4500),
                                WG_INSIDE)),
                of(
                        Rule.LIMIT_TOO_SMALL,
                        "slip-nas staff",
                        o -> SoundOffice.issuedProfiles(
                                set(
                                        set(o, "slip-nas", Attribute.LIMIT_TOTAL, "1"),
                                        "slip-nas",
                                        Attribute.LIMIT_PER_ACCOUNT,
                                        "0"),
                                numbered(3, SoundOffice.bram()),
                                numbered(4, SoundOffice.bram()))),
                of(
                        Rule.LIMIT_PER_ACCOUNT_TOO_SMALL,
                        "slip-nas staff",
                        o -> SoundOffice.issuedProfiles(
                                set(o, "slip-nas", Attribute.LIMIT_PER_ACCOUNT, "1"),
                                numbered(3, SoundOffice.bram()),
                                numbered(4, SoundOffice.bram()))),
                of(Rule.DNS_OUT_OF_REACH, "pier2 wg0", o -> set(o, "pier2", Attribute.DNS, "10.20.9.53")),
                listener(Rule.REACH_LEAKS_V6, Attribute.REACH, "0.0.0.0/0"),
                of(Rule.IDENTITY_NOT_ACCEPTED, "pier2", o -> times(o, false, Optional.of(NOW), Optional.of(NOW))),
                of(Rule.READ_FAILED, "pier2", o -> notes(o, Office.Factory.CHANGED, 0, 0, Optional.of("no answer"))),
                of(
                        Rule.READ_LONG_AGO,
                        "pier2",
                        o -> times(o, true, Optional.of(NOW.minus(Duration.ofDays(8))), Optional.of(NOW))),
                of(Rule.NEVER_BACKED_UP, "pier2", o -> times(o, true, Optional.of(NOW), Optional.empty())),
                of(Rule.CHANGED_AT_DEVICE, "pier2", o -> notes(o, Office.Factory.CHANGED, 2, 0, Optional.empty())),
                of(Rule.TEMPORARY_CHANGE, "pier2", o -> notes(o, Office.Factory.CHANGED, 0, 1, Optional.empty())),
                of(Rule.SETTING_DISAGREES, "pier2 wg0", FindingsTest::otherwiseSeen),
                of(Rule.NOT_ACTIVE, "pier2 wg0", o -> set(o, "pier2", Attribute.ACTIVE, "no")),
                of(Rule.RELEASE_TOO_OLD, "pier2", o -> facts(o, "3.1.9", "Europe/Oslo", Duration.ZERO)),
                of(Rule.CLOCK_OFF, "pier2", o -> facts(o, "3.2.1", "Europe/Oslo", Duration.ofMinutes(-4))),
                of(Rule.ZONE_DIFFERS, "pier2", o -> facts(o, "3.2.1", "Etc/UTC", Duration.ZERO)),
                listener(Rule.CERTIFICATE_EXPIRED, Attribute.CERTIFICATE_EXPIRES, "2026-11-23T10:00:00Z"),
                listener(Rule.CERTIFICATE_EXPIRES_SOON, Attribute.CERTIFICATE_EXPIRES, "2026-12-20T00:00:00Z"),
                listener(Rule.REVOCATION_LIST_EXPIRED, Attribute.REVOCATION_LIST_EXPIRES, "2026-11-20T00:00:00Z"),
                listener(Rule.REVOCATION_LIST_EXPIRES_SOON, Attribute.REVOCATION_LIST_EXPIRES, "2026-11-28T00:00:00Z"),
                of(
                        Rule.CREDENTIAL_EXPIRED,
                        "mara-phone-pier2",
                        o -> SoundOffice.issuedProfiles(o, ending(mara(), NOW.minusSeconds(1)))),
                of(
                        Rule.CREDENTIAL_EXPIRES_SOON,
                        "mara-phone-pier2",
                        o -> SoundOffice.issuedProfiles(o, ending(mara(), NOW.plus(Duration.ofDays(13))))),
                of(Rule.FILE_OUT_OF_DATE, "mara-phone-pier2", o -> set(o, "pier2", Attribute.PUBLIC_KEY, "NEWKEY")));
    }

    private static Set<String> found(Office office) {
        return Findings.of(office).all().stream()
                .map(f -> f.code() + " " + f.subject())
                .collect(Collectors.toSet());
    }

    @Test
    void aSoundOfficeHasNoFinding() {
        assertThat(Findings.of(office()).all()).isEmpty();
    }

    @ParameterizedTest
    @MethodSource("cases")
    void oneThingWrongIsFoundAndNothingElse(Case c) {
        Set<String> found = found(c.wrong().apply(office()));

        assertThat(found).isEqualTo(Set.copyOf(c.found()));
    }

    static Stream<Arguments> fixes() {
        return cases().flatMap(c -> {
            Office wrong = c.wrong().apply(office());
            return Findings.of(wrong).all().stream()
                    .filter(f -> f.fix().isPresent())
                    .map(f -> Arguments.of(f.key(), wrong, f));
        });
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("fixes")
    void theOneStepFixMakesItGoAway(String name, Office wrong, Finding finding) {
        Finding.Fix fix = finding.fix().orElseThrow();
        Office fixed = gateway(wrong, fix.gateway(), g -> g.with(Change.apply(g.device(), List.of(fix.change()))));

        assertThat(Findings.of(fixed).all().stream().map(Finding::key)).doesNotContain(finding.key());
    }

    @ParameterizedTest
    @MethodSource("cases")
    void judgingAgainAfterAChangeGivesTheSameAsJudgingEverything(Case c) {
        Findings kept = Findings.of(office());
        Office wrong = c.wrong().apply(office());

        kept.changed(wrong, wrong.gateways().keySet());

        assertThat(kept.all()).isEqualTo(Findings.of(wrong).all());
    }

    @ParameterizedTest
    @MethodSource("cases")
    void whatIsJudgedAroundAGatewayIsWhatIsFoundThereWhenEverythingIsJudged(Case c) {
        Office wrong = c.wrong().apply(office());
        Map<String, List<Finding>> everything = Findings.of(wrong).byScope();
        for (String gateway : wrong.gateways().keySet()) {
            Map<String, List<Finding>> around =
                    Findings.around(wrong, List.of(gateway)).byScope();

            assertThat(around).containsKey("gateway " + gateway);
            around.forEach((scope, found) -> assertThat(found).as(scope).isEqualTo(everything.get(scope)));
        }
    }

    @ParameterizedTest
    @MethodSource("cases")
    void aGatewayThatIsRemovedLeavesNothing(Case c) {
        Office wrong = c.wrong().apply(office());
        for (String gateway : wrong.gateways().keySet()) {
            Map<String, Office.Gateway> others = new LinkedHashMap<>(wrong.gateways());
            others.remove(gateway);
            Office less = new Office(
                    wrong.now(), wrong.sites(), others, wrong.joined(), wrong.issuedProfiles(), wrong.names());
            Findings kept = Findings.of(wrong);

            kept.changed(less, List.of());

            assertThat(kept.all()).as(gateway).isEqualTo(Findings.of(less).all());
        }
    }

    @Test
    void aChangeInFrontIsJudgedForThoseBehind() {
        Findings kept = Findings.of(office());
        Office wrong = device(office(), "slip-front", d -> d.withForwards(List.of()));

        kept.changed(wrong, List.of("slip-front"));

        assertThat(kept.all().stream().map(Finding::subject)).containsExactly("slip-nas staff");
    }

    @Test
    void everyRuleHasACaseACodeAndTexts() {
        Set<Rule> ofTheOffice = EnumSet.complementOf(EnumSet.of(
                Rule.LISTENER_FAILS,
                Rule.AUTHORITY_EXPIRES,
                Rule.WITHDRAWN_STILL_ACTIVE,
                Rule.REVOCATION_LIST_INCOMPLETE));
        assertThat(cases().map(Case::rule).collect(Collectors.toSet())).isEqualTo(ofTheOffice);
        assertThat(Rule.values()).hasSizeGreaterThanOrEqualTo(40).allSatisfy(rule -> {
            assertThat(rule.code()).matches("[a-z0-9]+(-[a-z0-9]+)+");
            assertThat(List.of(rule.looks(), rule.breaks(), rule.remedy())).allMatch(t -> t.endsWith("."));
        });
    }

    @Test
    void theNamedFindingSaysTheValues() {
        Office wrong = device(
                office(),
                "slip-front",
                d -> d.withForwards(List.of(new Forward(Transport.UDP, new Port(1195), NAS, new Port(1194), "NAS"))));
        // the forward leads to the NAS from another port: what clients call follows it, so only the old file is wrong
        assertThat(Findings.of(wrong).all()).singleElement().satisfies(f -> {
            assertThat(f.code()).isEqualTo("file-out-of-date");
            assertThat(f.evidence())
                    .isEqualTo("endpoint was slip.skerrivane.example:1194, is slip.skerrivane.example:1195");
            assertThat(f.breaks()).startsWith("Bram Osei holds a file");
        });
    }

    @Test
    void whatTenderRunsItselfIsJudgedToo() {
        Instant now = Instant.parse("2026-11-23T12:00:00Z");
        List<Finding> found = OwnChecks.of(
                List.of(new OwnChecks.Failing(
                        "7",
                        "pier2",
                        "wg0",
                        Optional.of(now.minusSeconds(60)),
                        Optional.of("handshake"),
                        Optional.of("no answer"))),
                List.of(
                        new OwnChecks.AuthorityLife("1", "old", now.plus(Duration.ofDays(200))),
                        new OwnChecks.AuthorityLife("2", "new", now.plus(Duration.ofDays(2_000)))),
                now);

        assertThat(found.stream().map(Finding::rule)).containsExactly(Rule.LISTENER_FAILS, Rule.AUTHORITY_EXPIRES);
        assertThat(found.get(0).evidence()).isEqualTo("since 2026-11-23T11:59:00Z, at handshake: no answer");
        assertThat(found.get(1).subject()).isEqualTo("old");
    }

    @Test
    void whoeverIsStillLetInIsNamedWithTheirGateway() {
        List<Finding> found = OwnChecks.admitted(
                List.of(new OwnChecks.StillIn("7", "ebba-phone-pier2", "pier2", "its key in wg0")),
                List.of(new OwnChecks.Incomplete("3", "slip-nas", "openvpn", List.of("a", "b", "c", "d", "e", "f"))));

        assertThat(found.stream().map(Finding::rule))
                .containsExactly(Rule.WITHDRAWN_STILL_ACTIVE, Rule.REVOCATION_LIST_INCOMPLETE);
        assertThat(found).allMatch(f -> f.severity() == Severity.ERROR);
        assertThat(found.get(0).breaks()).contains("ebba-phone-pier2", "pier2");
        assertThat(found.get(1).evidence()).isEqualTo("6 missing: a, b, c, d, e");
    }

    @Test
    void theDocumentIsMadeFromTheRules() throws IOException {
        Path document = Path.of("../docs/findings.md");
        if (Boolean.getBoolean("write.docs")) {
            Files.writeString(document, Catalogue.markdown());
        }
        assertThat(document).hasContent(Catalogue.markdown());
    }
}
