package tender.core.handout;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tender.core.handout.Fitness.Facts;
import tender.core.handout.Fitness.Standing;
import tender.core.inspect.Inspection;
import tender.core.inspect.Inspector;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.network.Transport;

/** Each reason alone holds a file back, and nothing else does. */
class FitnessTest {
    private static final Instant NOW = Instant.parse("2026-11-28T12:00:00Z");
    private static final HostName NAME = HostName.parse("pier2.skerrivane.example");

    private static Endpoint endpoint(String text) {
        return Endpoint.parse(text, Transport.UDP);
    }

    private static Facts fit() {
        return new Facts(
                Standing.READY,
                "",
                Optional.of(NOW.plusSeconds(1)),
                2,
                2,
                false,
                List.of(),
                Optional.empty(),
                List.of(endpoint("pier2.skerrivane.example:51820")),
                List.of(),
                Map.of(NAME, List.of(IpAddress.parse("192.0.2.10"))),
                List.of(),
                false,
                List.of());
    }

    private record Case(Unfit reason, UnaryOperator<Facts> wrong) {
        @Override
        public String toString() {
            return reason.code();
        }
    }

    private static Facts standing(Facts f, Standing s) {
        return new Facts(
                s,
                f.problem(),
                f.expires(),
                f.revision(),
                f.newestRevision(),
                f.listenerGone(),
                f.differences(),
                f.lastTrialFailed(),
                f.calls(),
                f.outside(),
                f.names(),
                f.content(),
                f.decided(),
                f.revoked());
    }

    private static Facts listener(
            Facts f, boolean gone, List<String> differences, Optional<String> failed, int revision) {
        return new Facts(
                f.standing(),
                f.problem(),
                f.expires(),
                revision,
                f.newestRevision(),
                gone,
                differences,
                failed,
                f.calls(),
                f.outside(),
                f.names(),
                f.content(),
                f.decided(),
                f.revoked());
    }

    private static Facts calls(Facts f, String... endpoints) {
        return new Facts(
                f.standing(),
                f.problem(),
                f.expires(),
                f.revision(),
                f.newestRevision(),
                f.listenerGone(),
                f.differences(),
                f.lastTrialFailed(),
                Arrays.stream(endpoints).map(FitnessTest::endpoint).toList(),
                List.of(Cidr.parse("10.1.0.0/16")),
                Map.of(NAME, List.of(), HostName.parse("other.skerrivane.example"), List.of()),
                f.content(),
                f.decided(),
                f.revoked());
    }

    private static Facts content(
            Facts f, boolean decided, List<String> revoked, Optional<Instant> expires, String text) {
        List<Inspection> content = text.isEmpty()
                ? List.of()
                : List.of(Inspector.of("office.ovpn", text.getBytes(StandardCharsets.UTF_8), NOW, Optional.empty()));
        return new Facts(
                f.standing(),
                f.problem(),
                expires,
                f.revision(),
                f.newestRevision(),
                f.listenerGone(),
                f.differences(),
                f.lastTrialFailed(),
                f.calls(),
                f.outside(),
                f.names(),
                content,
                decided,
                revoked);
    }

    private static String corpus(String file) {
        try (var in = FitnessTest.class.getResourceAsStream("/corpus/openvpn/" + file)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (java.io.IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static Stream<Case> cases() {
        Optional<Instant> ok = Optional.empty();
        return Stream.of(
                new Case(Unfit.PROFILE_WITHDRAWN, f -> standing(f, Standing.WITHDRAWN)),
                new Case(Unfit.PROFILE_FAILED, f -> standing(f, Standing.FAILED)),
                new Case(Unfit.PROFILE_NOT_WRITTEN, f -> standing(f, Standing.NOT_WRITTEN)),
                new Case(Unfit.PROFILE_EXPIRED, f -> content(f, false, List.of(), Optional.of(NOW), "")),
                new Case(Unfit.REVISION_NOT_NEWEST, f -> listener(f, false, List.of(), Optional.empty(), 1)),
                new Case(Unfit.LISTENER_GONE, f -> listener(f, true, List.of("port was 1"), Optional.empty(), 2)),
                new Case(Unfit.LISTENER_CHANGED, f -> listener(f, false, List.of("port was 1"), Optional.empty(), 2)),
                new Case(Unfit.LAST_TRIAL_FAILED, f -> listener(f, false, List.of(), Optional.of("at port"), 2)),
                new Case(Unfit.ENDPOINT_MISSING, f -> calls(f)),
                new Case(Unfit.ENDPOINT_PLACEHOLDER, f -> calls(f, "your-server:51830")),
                new Case(
                        Unfit.ENDPOINT_WRONG,
                        f -> content(f, false, List.of(), ok, corpus("good.ovpn") + "remote 192.0.2.300 1194\n")),
                new Case(Unfit.ENDPOINT_PRIVATE, f -> calls(f, "192.168.1.10:1194")),
                new Case(Unfit.ENDPOINT_UNRESOLVED, f -> calls(f, "pier2.skerrivane.example:51820")),
                new Case(
                        Unfit.DANGEROUS_UNDECIDED,
                        f -> content(f, false, List.of(), ok, corpus("good.ovpn") + "up /usr/local/bin/mount\n")),
                new Case(
                        Unfit.PART_MISSING,
                        f -> content(
                                f,
                                false,
                                List.of(),
                                ok,
                                corpus("good.ovpn").replaceAll("(?s)<key>.*</key>", "key mara.key"))),
                new Case(Unfit.CERTIFICATE_INVALID, f -> content(f, false, List.of(), ok, corpus("ended.ovpn"))),
                new Case(Unfit.CERTIFICATE_REVOKED, f -> content(f, false, List.of("1005"), ok, "")));
    }

    @ParameterizedTest
    @MethodSource("cases")
    void eachReasonAloneHoldsItBack(Case c) {
        assertThat(Fitness.reasons(c.wrong().apply(fit()), NOW).stream().map(Fitness.Reason::unfit))
                .containsExactly(c.reason());
    }

    @Test
    void everyReasonHasACaseWordsAndAFix() {
        assertThat(cases().map(Case::reason).collect(Collectors.toSet()))
                .isEqualTo(Set.copyOf(EnumSet.allOf(Unfit.class)));
        assertThat(Unfit.values()).allSatisfy(u -> {
            assertThat(u.words()).endsWith(".");
            assertThat(u.fix()).endsWith(".");
            assertThat(u.code()).matches("[a-z]+(-[a-z]+)+");
        });
    }

    @Test
    void whatIsSoundIsFit() {
        assertThat(Fitness.reasons(fit(), NOW)).isEmpty();
        assertThat(Fitness.reasons(content(fit(), false, List.of(), Optional.empty(), corpus("good.ovpn")), NOW))
                .isEmpty();
        assertThat(Fitness.reasons(calls(fit(), "10.1.2.3:51820"), NOW))
                .as("a private network that counts as outside")
                .isEmpty();
        assertThat(Fitness.reasons(
                        content(
                                fit(),
                                true,
                                List.of(),
                                Optional.empty(),
                                corpus("good.ovpn") + "up /usr/local/bin/mount\n"),
                        NOW))
                .as("somebody decided that its lines may stay")
                .isEmpty();
    }
}
