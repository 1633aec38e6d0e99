package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.security.SecureRandom;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.Endpoint;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.trial.Observation.Echo;
import tender.core.trial.Observation.Handshake;
import tender.core.trial.Observation.Name;
import tender.core.trial.Observation.Path;

/** The table of causes, row by row. */
class LadderTest {
    private static final SecureRandom RANDOM = new SecureRandom();

    static Question question(String reach) {
        return question(reach, Optional.of(IpAddress.parse("10.99.4.1")), Optional.of(IpAddress.parse("10.20.4.20")));
    }

    /** A file alone: nothing is known of what should answer inside. */
    static Question unnamed() {
        return question("10.20.4.0/24", Optional.empty(), Optional.empty());
    }

    private static Question question(String reach, Optional<IpAddress> gateway, Optional<IpAddress> host) {
        return new Question(
                TunnelKeyPair.generate(RANDOM),
                List.of(InterfaceAddress.parse("10.99.4.2/32")),
                TunnelKeyPair.generate(RANDOM).publicKey(),
                Optional.empty(),
                Endpoint.parse("pier2.skerrivane.example:51820", Transport.UDP),
                List.of(InterfaceAddress.parse(reach)),
                List.of(),
                gateway,
                host,
                List.of());
    }

    static Observation seen(Name name, Path path, Handshake handshake, Echo gateway, Echo inside) {
        return new Observation(
                name,
                Optional.of(IpAddress.parse("192.0.2.7")),
                path,
                handshake,
                gateway,
                inside,
                List.of(1L, 2L, 3L, 4L, 5L, 6L));
    }

    static Observation asked(FirstHosts first) {
        return new Observation(
                Name.RESOLVED,
                Optional.of(IpAddress.parse("192.0.2.7")),
                Path.ANSWERED,
                Handshake.ESTABLISHED,
                Echo.NOT_TRIED,
                Echo.NOT_TRIED,
                first,
                Optional.empty(),
                List.of(1L, 2L, 3L, 4L, 5L, 6L));
    }

    static Observation silence() {
        return seen(Name.RESOLVED, Path.SILENT, Handshake.SILENT, Echo.NOT_TRIED, Echo.NOT_TRIED);
    }

    private static GatewayEvidence evidence(
            boolean key, boolean port, boolean written, boolean live, boolean psk, boolean address) {
        return new GatewayEvidence(true, key, Optional.of(51820), port, written, live, psk, address);
    }

    static Stream<Arguments> rows() {
        GatewayEvidence agrees = evidence(true, true, true, true, true, true);
        String reach = "10.20.4.0/24";
        return Stream.of(
                Arguments.of(
                        seen(Name.UNKNOWN, Path.NOT_TRIED, Handshake.NOT_TRIED, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        null,
                        reach,
                        Rung.NAME,
                        "name-unknown",
                        Certainty.CERTAIN),
                Arguments.of(
                        seen(Name.WITHOUT_ADDRESS, Path.NOT_TRIED, Handshake.NOT_TRIED, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        null,
                        reach,
                        Rung.NAME,
                        "name-without-address",
                        Certainty.CERTAIN),
                Arguments.of(
                        seen(Name.RESOLVER_SILENT, Path.NOT_TRIED, Handshake.NOT_TRIED, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        null,
                        reach,
                        Rung.NAME,
                        "resolver-silent",
                        Certainty.CERTAIN),
                Arguments.of(
                        seen(Name.LITERAL, Path.UNREACHABLE, Handshake.NOT_TRIED, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        null,
                        reach,
                        Rung.ADDRESS,
                        "no-way-there",
                        Certainty.CERTAIN),
                Arguments.of(
                        seen(Name.RESOLVED, Path.REFUSED, Handshake.NOT_TRIED, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        null,
                        reach,
                        Rung.PORT,
                        "port-refused",
                        Certainty.LIKELY),
                Arguments.of(
                        seen(Name.RESOLVED, Path.REFUSED, Handshake.NOT_TRIED, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        agrees,
                        reach,
                        Rung.PORT,
                        "listener-off",
                        Certainty.LIKELY),
                Arguments.of(
                        silence(),
                        evidence(true, false, true, true, true, true),
                        reach,
                        Rung.PORT,
                        "port-differs",
                        Certainty.CERTAIN),
                Arguments.of(
                        seen(Name.RESOLVED, Path.ANSWERED, Handshake.UNREADABLE, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        null,
                        reach,
                        Rung.HANDSHAKE,
                        "preshared-key-differs",
                        Certainty.CERTAIN),
                Arguments.of(
                        seen(Name.RESOLVED, Path.ANSWERED, Handshake.UNDER_LOAD, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        null,
                        reach,
                        Rung.HANDSHAKE,
                        "under-load",
                        Certainty.CERTAIN),
                Arguments.of(
                        silence(),
                        evidence(false, true, true, true, true, true),
                        reach,
                        Rung.HANDSHAKE,
                        "gateway-key-differs",
                        Certainty.CERTAIN),
                Arguments.of(
                        silence(),
                        evidence(true, true, false, false, true, true),
                        reach,
                        Rung.HANDSHAKE,
                        "client-unknown",
                        Certainty.CERTAIN),
                Arguments.of(
                        silence(),
                        evidence(true, true, true, false, true, true),
                        reach,
                        Rung.HANDSHAKE,
                        "client-not-active",
                        Certainty.CERTAIN),
                Arguments.of(silence(), agrees, reach, Rung.HANDSHAKE, "path-blocked", Certainty.LIKELY),
                Arguments.of(silence(), null, reach, Rung.HANDSHAKE, "path-blocked", Certainty.POSSIBLE),
                Arguments.of(
                        seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.SILENT, Echo.SILENT),
                        evidence(true, true, true, true, true, false),
                        reach,
                        Rung.TUNNEL_ADDRESS,
                        "tunnel-address-differs",
                        Certainty.CERTAIN),
                Arguments.of(
                        seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.SILENT, Echo.SILENT),
                        agrees,
                        reach,
                        Rung.TUNNEL_ADDRESS,
                        "inside-filter",
                        Certainty.LIKELY),
                Arguments.of(
                        seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.ANSWERED, Echo.NOT_TRIED),
                        null,
                        "10.99.4.0/24",
                        Rung.ECHO,
                        "outside-reach",
                        Certainty.CERTAIN),
                Arguments.of(
                        seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.ANSWERED, Echo.SILENT),
                        null,
                        reach,
                        Rung.ECHO,
                        "host-silent",
                        Certainty.LIKELY),
                Arguments.of(
                        seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.NOT_TRIED, Echo.SILENT),
                        null,
                        reach,
                        Rung.ECHO,
                        "host-silent",
                        Certainty.POSSIBLE));
    }

    @ParameterizedTest
    @MethodSource("rows")
    void givesRungCauseAndCertainty(
            Observation seen, GatewayEvidence evidence, String reach, Rung rung, String code, Certainty certainty) {
        Ladder ladder = Ladder.judge(question(reach), seen, Optional.ofNullable(evidence));

        RungResult failure = ladder.failure().orElseThrow();
        assertThat(failure.rung()).isEqualTo(rung);
        assertThat(failure.causes().get(0))
                .extracting(Cause::code, Cause::certainty)
                .containsExactly(code, certainty);
        assertThat(failure.causes()).allSatisfy(c -> assertThat(c.remedy()).isNotBlank());
        assertThat(ladder.rungs().subList(Rung.OF_KEYS.indexOf(rung) + 1, 6))
                .allMatch(r -> r.verdict() == Verdict.NOT_TRIED);
    }

    static TrialContext around(String at, boolean fixed, String tcp, String clash) {
        return new TrialContext(
                Optional.empty(),
                false,
                false,
                Optional.empty(),
                List.of(),
                new EndpointRecords(
                        Optional.ofNullable(at).map(IpAddress::parse),
                        fixed,
                        Optional.ofNullable(tcp),
                        Optional.ofNullable(clash)));
    }

    static Stream<Arguments> recorded() {
        Observation dropped = seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.SILENT, Echo.SILENT);
        Observation hostless = seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.ANSWERED, Echo.SILENT);
        String clash = "pier2 wg0 tunnel 10.99.4.0/24 shares addresses with pier-two office 10.99.4.0/25";
        return Stream.of(
                Arguments.of(
                        silence(),
                        around("192.0.2.99", true, null, null),
                        Rung.HANDSHAKE,
                        "name-not-updated",
                        Certainty.CERTAIN,
                        "the uplink is at 192.0.2.99"),
                Arguments.of(
                        silence(),
                        around("192.0.2.99", false, null, null),
                        Rung.HANDSHAKE,
                        "name-not-updated",
                        Certainty.LIKELY,
                        "at the last reading: the uplink is at 192.0.2.99"),
                Arguments.of(
                        seen(Name.RESOLVED, Path.REFUSED, Handshake.NOT_TRIED, Echo.NOT_TRIED, Echo.NOT_TRIED),
                        around("192.0.2.99", true, null, null),
                        Rung.PORT,
                        "name-not-updated",
                        Certainty.CERTAIN,
                        "192.0.2.99"),
                Arguments.of(
                        silence(),
                        new TrialContext(
                                Optional.empty(),
                                false,
                                false,
                                Optional.of("pier2-front: forwards 51821 alone"),
                                List.of(),
                                EndpointRecords.UNKNOWN),
                        Rung.HANDSHAKE,
                        "path-blocked",
                        Certainty.CERTAIN,
                        "pier2-front: forwards 51821 alone"),
                Arguments.of(
                        silence(),
                        around("192.0.2.7", true, "pier2 spare on tcp 443", null),
                        Rung.HANDSHAKE,
                        "udp-shut-here",
                        Certainty.POSSIBLE,
                        "pier2 spare on tcp 443 would pass there"),
                Arguments.of(
                        dropped,
                        around(null, false, null, clash),
                        Rung.TUNNEL_ADDRESS,
                        "networks-clash",
                        Certainty.LIKELY,
                        clash),
                Arguments.of(
                        hostless,
                        around(null, false, null, clash),
                        Rung.ECHO,
                        "networks-clash",
                        Certainty.LIKELY,
                        clash));
    }

    @ParameterizedTest
    @MethodSource("recorded")
    void theRecordsSayWhatTheWireDoesNot(
            Observation seen, TrialContext known, Rung rung, String code, Certainty certainty, String words) {
        Ladder ladder = Ladder.judge(question("10.20.4.0/24"), seen, Optional.empty(), Optional.of(known));

        RungResult failure = ladder.failure().orElseThrow();
        assertThat(failure.rung()).isEqualTo(rung);
        assertThat(failure.causes()).as(failure.toString()).anySatisfy(c -> {
            assertThat(c.code()).isEqualTo(code);
            assertThat(c.certainty()).isEqualTo(certainty);
            assertThat(c.what()).contains(words);
        });
    }

    @Test
    void aNameThatLeadsWhereTheLineIsRaisesNoSuspicion() {
        Ladder ladder = Ladder.judge(
                question("10.20.4.0/24"),
                silence(),
                Optional.empty(),
                Optional.of(around("192.0.2.7", true, null, null)));

        Ladder other = Ladder.judge(
                question("10.20.4.0/24"),
                silence(),
                Optional.empty(),
                Optional.of(around("2001:db8::7", true, null, null)));

        assertThat(ladder.failure().orElseThrow().causes())
                .extracting(Cause::code)
                .doesNotContain("name-not-updated", "udp-shut-here", "networks-clash");
        assertThat(other.failure().orElseThrow().causes())
                .as("an address of the other family says nothing")
                .extracting(Cause::code)
                .doesNotContain("name-not-updated");
    }

    @Test
    void everyRowOfTheTableIsTriedAbove() {
        Set<String> table = new HashSet<>();
        Causes.TABLE.rows().forEach(row -> table.add(row.code()));
        Set<String> tried = new HashSet<>();
        rows().forEach(a -> tried.add((String) a.get()[4]));
        recorded().forEach(a -> tried.add((String) a.get()[3]));
        tried.add("stamp-not-newer");
        tried.add("gateway-key-own"); // QuestionTest
        tried.add("first-hosts-silent"); // whereNobodyNamesAHostTheFirstOnesAreAsked

        assertThat(tried).isEqualTo(table);
    }

    @Test
    void whereNobodyNamesAHostTheFirstOnesAreAsked() {
        IpAddress first = IpAddress.parse("10.20.4.1");
        Ladder silent =
                Ladder.judge(unnamed(), asked(new FirstHosts(List.of(first), Optional.empty())), Optional.empty());
        Ladder answered =
                Ladder.judge(unnamed(), asked(new FirstHosts(List.of(first), Optional.of(first))), Optional.empty());

        assertThat(silent.failure().orElseThrow().rung()).isEqualTo(Rung.ECHO);
        assertThat(silent.failure().orElseThrow().causes())
                .extracting(Cause::code)
                .containsExactly("first-hosts-silent", "tunnel-address-differs");
        assertThat(silent.isProven()).isFalse();
        assertThat(answered.isProven()).as(answered.toString()).isTrue();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "tls-crypt unwrap error: packet authentication failed | control-channel-key-differs",
                "received proposals unacceptable | cipher-mismatch",
                "TLS Error: TLS handshake failed | handshake-unfinished"
            })
    void whatTheGatewaysOtherListenersMetSettlesNothing(String line, String code) {
        assertThat(LogLine.read(List.of(line)))
                .extracting(r -> r.meaning().cause().code())
                .containsExactly(code);

        Ladder ladder = Ladder.judge(
                question("10.20.4.0/24"), silence(), Optional.empty(), Optional.of(TrialContext.ofLog(List.of(line))));

        assertThat(ladder.failure().orElseThrow().causes())
                .isNotEmpty()
                .extracting(Cause::code)
                .doesNotContain(code);
    }

    @Test
    void anAddressBesideTheOwnThatIsAnsweredIsTheOneThatTheGatewayAdmits() {
        Observation silent = asked(new FirstHosts(List.of(IpAddress.parse("10.20.4.1")), Optional.empty()));
        Ladder ladder = Ladder.judge(
                unnamed(),
                new Observation(
                        silent.name(),
                        silent.dialled(),
                        silent.path(),
                        silent.handshake(),
                        silent.gateway(),
                        silent.inside(),
                        silent.firstHosts(),
                        Optional.of(IpAddress.parse("10.99.4.7")),
                        silent.millis()),
                Optional.empty());

        RungResult failure = ladder.failure().orElseThrow();
        assertThat(failure.rung()).isEqualTo(Rung.TUNNEL_ADDRESS);
        assertThat(failure.detail()).contains("10.99.4.7 is answered");
        assertThat(failure.causes())
                .extracting(Cause::code, Cause::certainty)
                .containsExactly(tuple("tunnel-address-differs", Certainty.CERTAIN));
    }

    @Test
    void neighboursAreTheOwnAddressAndThoseAroundItNoneTwice() {
        IpAddress own = IpAddress.parse("10.99.4.7");
        IpAddress six = IpAddress.parse("fd00:99::7");

        assertThat(Neighbours.of(List.of(own, six)))
                .startsWith(own, six)
                .contains(IpAddress.parse("10.99.4.1"), IpAddress.parse("10.99.4.254"), IpAddress.parse("fd00:99::fe"))
                .doesNotContain(IpAddress.parse("10.99.4.0"), IpAddress.parse("10.99.4.255"))
                .doesNotHaveDuplicates()
                .hasSize(508);
    }

    @Test
    void aHostThatAnswersProvesEvenIfTheGatewayItselfKeepsSilent() {
        Ladder ladder = Ladder.judge(
                question("10.20.4.0/24"),
                seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.SILENT, Echo.ANSWERED),
                Optional.empty());

        assertThat(ladder.isProven()).isTrue();
        assertThat(ladder.rungs().get(Rung.OF_KEYS.indexOf(Rung.TUNNEL_ADDRESS)).verdict())
                .isEqualTo(Verdict.OPEN);
    }

    /** A gateway that drops this profile's address fails that rung, a gateway that merely ignores echo does not. */
    @Test
    void theVerdictOnTheTunnelAddressFollowsWhatTheGatewaySays() {
        Question q = question("10.20.4.0/24");
        GatewayEvidence other = evidence(true, true, true, true, true, false);
        GatewayEvidence same = evidence(true, true, true, true, true, true);
        Observation untried = seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.NOT_TRIED, Echo.NOT_TRIED);
        Observation silent = seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.SILENT, Echo.SILENT);
        Observation inside = seen(Name.RESOLVED, Path.ANSWERED, Handshake.ESTABLISHED, Echo.SILENT, Echo.ANSWERED);

        assertThat(tunnel(q, untried, other)).isEqualTo(Verdict.FAILS);
        assertThat(tunnel(q, untried, same)).isEqualTo(Verdict.NOT_TRIED);
        assertThat(tunnel(q, silent, same)).isEqualTo(Verdict.FAILS);
        assertThat(tunnel(q, inside, same)).isEqualTo(Verdict.OPEN);
    }

    private static Verdict tunnel(Question q, Observation seen, GatewayEvidence evidence) {
        return Ladder.judge(q, seen, Optional.of(evidence)).rungs().stream()
                .filter(s -> s.rung() == Rung.TUNNEL_ADDRESS)
                .findFirst()
                .orElseThrow()
                .verdict();
    }
}
