package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.trial.Observation.Name;
import tender.core.trial.Observation.Path;

/** Each cause of the table of probes, with what is seen when it applies. */
class ProbeLadderTest {
    private static final String NAME = "portal.skerrivane.example";

    static ReachabilityProbe probe(ReachabilityProbe.Kind kind) {
        boolean tls = kind == ReachabilityProbe.Kind.TLS;
        return new ReachabilityProbe(
                kind,
                Endpoint.parse(NAME + (tls ? ":443" : ":500"), tls ? Transport.TCP : Transport.UDP),
                tls ? Optional.of(NAME) : Optional.empty(),
                List.of(House.OURS.certificate()),
                House.NOW);
    }

    static ProbeSeen seen(Name name, Path path, boolean answered, List<byte[]> chain) {
        return new ProbeSeen(
                name,
                Optional.of(IpAddress.parse("192.0.2.7")),
                path,
                answered ? Optional.of("TLS 1.3") : Optional.empty(),
                answered ? List.of("TLS 1.3", "TLS 1.1") : List.of(),
                chain,
                List.of(1L, 2L, 3L, 4L, 5L));
    }

    private static TrialContext blocked() {
        return new TrialContext(
                Optional.empty(),
                false,
                false,
                Optional.of("slip-front: forwards nothing to udp 500"),
                List.of(),
                EndpointRecords.UNKNOWN);
    }

    static Stream<Arguments> rows() {
        ReachabilityProbe.Kind tls = ReachabilityProbe.Kind.TLS;
        ReachabilityProbe.Kind l2tp = ReachabilityProbe.Kind.L2TP;
        return Stream.of(
                Arguments.of(
                        tls,
                        seen(Name.UNKNOWN, Path.NOT_TRIED, false, List.of()),
                        null,
                        Rung.NAME,
                        "name-unknown",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(Name.WITHOUT_ADDRESS, Path.NOT_TRIED, false, List.of()),
                        null,
                        Rung.NAME,
                        "name-without-address",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVER_SILENT, Path.NOT_TRIED, false, List.of()),
                        null,
                        Rung.NAME,
                        "resolver-silent",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVED, Path.UNREACHABLE, false, List.of()),
                        null,
                        Rung.ADDRESS,
                        "no-way-there",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVED, Path.REFUSED, false, List.of()),
                        null,
                        Rung.PORT,
                        "port-refused",
                        Certainty.LIKELY),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVED, Path.SILENT, false, List.of()),
                        null,
                        Rung.PORT,
                        "port-silent",
                        Certainty.LIKELY),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVED, Path.ANSWERED, false, List.of()),
                        null,
                        Rung.HANDSHAKE,
                        "no-tls",
                        Certainty.POSSIBLE),
                Arguments.of(
                        l2tp,
                        seen(Name.RESOLVED, Path.SILENT, false, List.of()),
                        null,
                        Rung.HANDSHAKE,
                        "filtered",
                        Certainty.LIKELY),
                Arguments.of(
                        l2tp,
                        seen(Name.RESOLVED, Path.SILENT, false, List.of()),
                        blocked(),
                        Rung.HANDSHAKE,
                        "path-blocked",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVED, Path.ANSWERED, true, House.shown(House.OURS, NAME, -90, -1)),
                        null,
                        Rung.TRUST,
                        "server-certificate-expired",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVED, Path.ANSWERED, true, House.shown(House.OURS, NAME, 2, 90)),
                        null,
                        Rung.TRUST,
                        "server-certificate-not-yet",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(
                                Name.RESOLVED,
                                Path.ANSWERED,
                                true,
                                House.shown(House.OURS, "old.skerrivane.example", -9, 90)),
                        null,
                        Rung.TRUST,
                        "server-name-differs",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVED, Path.ANSWERED, true, List.of(House.OTHER.certificate())),
                        null,
                        Rung.TRUST,
                        "server-self-signed",
                        Certainty.CERTAIN),
                Arguments.of(
                        tls,
                        seen(Name.RESOLVED, Path.ANSWERED, true, House.shown(House.OTHER, NAME, -9, 90)),
                        null,
                        Rung.TRUST,
                        "server-foreign-authority",
                        Certainty.LIKELY));
    }

    @ParameterizedTest
    @MethodSource("rows")
    void givesRungCauseAndCertainty(
            ReachabilityProbe.Kind kind,
            ProbeSeen seen,
            TrialContext known,
            Rung rung,
            String code,
            Certainty certainty) {
        Ladder ladder = ProbeLadder.judge(probe(kind), seen, Optional.ofNullable(known));

        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).isEqualTo(rung);
        assertThat(failure.causes().get(0))
                .extracting(Cause::code, Cause::certainty)
                .containsExactly(code, certainty);
        assertThat(ladder.isAnswered()).isFalse();
        assertThat(ladder.isProven()).isFalse();
    }

    @Test
    void everyCauseOfTheTableStandsAbove() {
        Set<String> tried = new HashSet<>(Set.of(
                "name-not-updated",
                "udp-shut-here",
                "networks-clash",
                "outside-reach",
                "host-silent",
                "first-hosts-silent")); // LadderTest
        rows().forEach(a -> tried.add((String) a.get()[4]));

        assertThat(tried).isEqualTo(ProbeLadder.codes());
    }

    @Test
    void whoAnswersIsNoProofThatAnybodyGetsIn() {
        Ladder ladder = ProbeLadder.judge(
                probe(ReachabilityProbe.Kind.TLS),
                seen(Name.RESOLVED, Path.ANSWERED, true, House.shown(House.OURS, NAME, -9, 90)),
                Optional.empty());

        assertThat(ladder.rungs().get(Rung.TRUST.ordinal()).detail())
                .as("what to compare with the listener's own word")
                .matches(".*; SHA-256 of the certificate [0-9a-f]{64}, of its public key [0-9a-f]{64}");
        assertThat(ladder.isAnswered()).isTrue();
        assertThat(ladder.isProven()).isFalse();
        assertThat(ladder.rungs())
                .filteredOn(r -> r.rung().compareTo(Rung.TRUST) > 0)
                .allMatch(r -> r.verdict() == Verdict.NOT_TRIED);
    }
}
