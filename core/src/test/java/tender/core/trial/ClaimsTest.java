package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.network.Cidr;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.wire.ParseProblem;

/** What a trial was asked to show, against what it showed. */
class ClaimsTest {
    private static final IpAddress HOST = IpAddress.parse("10.20.4.20");
    private static final IpAddress SERVER = IpAddress.parse("10.20.4.53");
    private static final IpAddress OUTSIDE = IpAddress.parse("198.51.100.9");
    private static final MeasurementOptions NAME_AND_OUTSIDE = new MeasurementOptions(
            0, false, Optional.of(HostName.parse("files.skerrivane.example")), Optional.of(OUTSIDE), false);

    /** One letter a rung: holds, fails, open, not tried. */
    private static Ladder ladder(String verdicts) {
        List<RungResult> rungs = new ArrayList<>();
        for (Rung rung : Rung.values()) {
            Verdict verdict = switch (verdicts.charAt(rung.ordinal())) {
                case 'h' -> Verdict.OK;
                case 'f' -> Verdict.FAILS;
                case 'o' -> Verdict.OPEN;
                default -> Verdict.NOT_TRIED;
            };
            rungs.add(new RungResult(
                    rung,
                    verdict,
                    0,
                    "",
                    verdict == Verdict.FAILS
                            ? List.of(new Cause("x", Certainty.CERTAIN, "why at " + rung.label(), "do"))
                            : List.of()));
        }
        return new Ladder(rungs);
    }

    private static Optional<Measured> measured(Optional<Measured.InsideName> name, Optional<Exit> exit) {
        return Optional.of(new Measured(List.of(), 0, Optional.empty(), name, exit, Optional.empty()));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            hhhhhhh- | yes  | connects
            hhohhhoh | yes  | connects
            hhhhhho- | no   | is not shown to connect: nothing came back through the tunnel
            hhhhhh-- | no   | is not shown to connect: nothing came back through the tunnel
            hhhhohhh | no   | is not shown to connect: lines that decide trust, keys or reach were not looked at
            hhhf---- | no   | does not connect: it fails at handshake
            f------- | no   | does not connect: it fails at name
            hhhhhhf- | no   | does not connect: it fails at tunnel address
            """)
    void aConnectionIsClaimedWhereSomethingCameBackThroughTheTunnel(String verdicts, String shown, String words) {
        Claims claims = Claims.of(ladder(verdicts), Optional.empty(), MeasurementOptions.NOTHING, Optional.empty());

        assertThat(claims.areShown()).isEqualTo(shown.equals("yes"));
        assertThat(claims.words()).isEqualTo(words);
    }

    @Test
    void aHostThatWasAskedForAndDoesNotAnswerIsNotProven() {
        Claims silent = Claims.of(ladder("hhhhhhhf"), Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty());
        Claims notTried =
                Claims.of(ladder("hhhhhhh-"), Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty());
        Claims answered =
                Claims.of(ladder("hhhhhhhh"), Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty());

        assertThat(silent.areShown()).isFalse();
        assertThat(silent.words()).isEqualTo("connects; does not reach 10.20.4.20");
        assertThat(notTried.areShown()).isFalse();
        assertThat(notTried.words()).isEqualTo("connects; 10.20.4.20 was not asked");
        assertThat(answered.areShown()).isTrue();
        assertThat(answered.words()).isEqualTo("connects; reaches 10.20.4.20");
    }

    @Test
    void aNameAndTheWayOutsideAreProvenWhereTheyWereSeen() {
        Measured.InsideName known =
                new Measured.InsideName("files.skerrivane.example", SERVER, true, Optional.of(HOST));
        Measured.InsideName unknown =
                new Measured.InsideName("files.skerrivane.example", SERVER, true, Optional.empty());
        Measured.InsideName silent =
                new Measured.InsideName("files.skerrivane.example", SERVER, false, Optional.empty());
        Exit full = new Exit(true, Optional.of(OUTSIDE), Optional.of(SERVER));
        Exit shut = new Exit(true, Optional.of(OUTSIDE), Optional.empty());
        Exit split = new Exit(false, Optional.of(OUTSIDE), Optional.empty());

        assertThat(said(measured(Optional.of(known), Optional.of(full))))
                .isEqualTo("proven: connects; resolves files.skerrivane.example; full tunnel as seen from outside");
        assertThat(said(measured(Optional.of(known), Optional.of(split))))
                .contains("split tunnel as seen from outside");
        assertThat(said(measured(Optional.of(known), Optional.of(shut))))
                .isEqualTo("not: connects; resolves files.skerrivane.example; full tunnel not shown: 198.51.100.9 does"
                        + " not answer");
        assertThat(said(measured(Optional.of(unknown), Optional.of(full))))
                .contains("not: ", "the name server inside, 10.20.4.53, does not know it");
        assertThat(said(measured(Optional.of(silent), Optional.of(full))))
                .contains("not: ", "the name server inside, 10.20.4.53, does not answer");
        assertThat(said(Optional.empty()))
                .contains("not: ", "no name server inside was asked", "198.51.100.9 was not asked");
    }

    private static String said(Optional<Measured> measured) {
        Claims claims = Claims.of(ladder("hhhhhhh-"), Optional.empty(), NAME_AND_OUTSIDE, measured);
        return (claims.areShown() ? "proven: " : "not: ") + claims.words();
    }

    @Test
    void whatIsMissingSaysSomethingOfTheProfileOnlyWhereTheProfileClaimsIt() {
        Optional<Measured> shut =
                measured(Optional.empty(), Optional.of(new Exit(true, Optional.of(OUTSIDE), Optional.empty())));
        MeasurementOptions outside = new MeasurementOptions(0, false, Optional.empty(), Optional.of(OUTSIDE), false);
        MeasurementOptions name =
                new MeasurementOptions(0, false, NAME_AND_OUTSIDE.insideName(), Optional.empty(), false);

        assertThat(ofProfile("hhhhhhhh", Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty(), true))
                .contains(true);
        assertThat(ofProfile("hhhhhhhf", Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty(), true))
                .as("the host that the records name")
                .contains(false);
        assertThat(ofProfile("hhhhhhhf", Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty(), false))
                .as("a host that somebody asked for")
                .isEmpty();
        assertThat(ofProfile("hhhhhhh-", Optional.empty(), name, Optional.empty(), true))
                .isEmpty();
        assertThat(ofProfile("hhhhhhh-", Optional.empty(), outside, shut, true)).contains(false);
        assertThat(ofProfile("hhhf----", Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty(), false))
                .contains(false);
        assertThat(ofProfile("hhhhohhh", Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty(), true))
                .as("not looked at")
                .isEmpty();
    }

    private static Optional<Boolean> ofProfile(
            String verdicts,
            Optional<IpAddress> host,
            MeasurementOptions wanted,
            Optional<Measured> measured,
            boolean recorded) {
        Ladder ladder = ladder(verdicts);
        return Claims.of(ladder, host, wanted, measured).ofProfile(ladder, recorded);
    }

    @Test
    void aFileThatItsOwnProgramRefusesIsNotProvenWhateverAnswers() {
        ParseProblem refusal = new ParseProblem(7, "refused", "a setting that [Peer] does not have");
        Ladder well = ladder("hhhhhhhh");
        Ladder silent = ladder("hhhf----");
        Claims all = Claims.of(well, Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty());
        Claims none = Claims.of(silent, Optional.of(HOST), MeasurementOptions.NOTHING, Optional.empty());

        assertThat(all.refused(Optional.empty()).areShown()).isTrue();
        assertThat(all.refused(Optional.of(refusal)).areShown()).isFalse();
        assertThat(all.refused(Optional.of(refusal)).words())
                .isEqualTo(
                        "the client's program refuses the file, line 7: a setting that [Peer] does not have; connects;"
                                + " reaches 10.20.4.20");
        assertThat(none.refused(Optional.of(refusal)).words())
                .endsWith("does not have; does not connect: it fails at handshake");
        assertThat(all.refused(Optional.of(refusal)).ofProfile(well, true)).contains(false);
    }

    @Test
    void aProbeSaysWhetherWhoAnswersIsBelieved() {
        Claims untrusted = Claims.ofProbe(ladder("hhhhf---"));

        assertThat(Claims.ofProbe(ladder("hhhhh---")).words()).isEqualTo("answers; its certificate is believed");
        assertThat(Claims.ofProbe(ladder("hhhh----")).words()).isEqualTo("answers");
        assertThat(untrusted.words()).isEqualTo("answers; why at trust");
        assertThat(untrusted.areShown()).isFalse();
        assertThat(Claims.ofProbe(ladder("hhf-----")).words()).isEqualTo("does not answer");
        assertThat(Result.of(true, false, Optional.of(Rung.TRUST)).label()).isEqualTo("answers, not trusted");
        assertThat(Result.of(true, false, Optional.of(Rung.PORT)).label()).isEqualTo("does not answer");
        assertThat(Result.of(true, true, Optional.empty()).label()).isEqualTo("answers");
        assertThat(Result.of(false, true, Optional.empty()).label()).isEqualTo("proven");
        assertThat(Result.of(false, false, Optional.of(Rung.TRUST)).label()).isEqualTo("not proven");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            10.20.4.0/24                 |            | 10.99.4.2    | 10.20.4.1
            10.20.4.20/32                |            | 10.99.4.2    | 10.20.4.20
            10.20.4.0/24, 10.99.4.0/24   |            | 10.99.4.2    | 10.20.4.1, 10.99.4.1
            10.99.4.0/24                 |            | 10.99.4.1    |
            10.20.4.0/24                 | 10.20.4.53 | 10.99.4.2    | 10.20.4.53, 10.20.4.1
            10.20.4.0/24                 | 192.0.2.53 | 10.99.4.2    | 10.20.4.1
            0.0.0.0/0                    |            | 10.99.4.2    | 10.99.4.1
            0.0.0.0/1, 128.0.0.0/1       | 10.20.4.53 | 10.99.4.2    | 10.20.4.53, 10.99.4.1
            2001:db8:20::/64             |            | 2001:db8::2  | 2001:db8:20::1
            """)
    void theFirstHostsAreThoseOfTheNetworksInside(String reach, String dns, String own, String asked) {
        assertThat(FirstHosts.of(
                        List.of(reach.split(", ")).stream().map(Cidr::parse).toList(),
                        dns == null ? List.of() : List.of(IpAddress.parse(dns)),
                        List.of(IpAddress.parse(own))))
                .isEqualTo(
                        asked == null
                                ? List.of()
                                : List.of(asked.split(", ")).stream()
                                        .map(IpAddress::parse)
                                        .toList());
    }
}
