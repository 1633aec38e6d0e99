package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;
import tender.core.network.IpAddress;

/** What measured values say in words. */
class MeasuredTest {
    private static final Optional<IpAddress> OFFICE = Optional.of(IpAddress.parse("192.0.2.10"));
    private static final Optional<IpAddress> HOTEL = Optional.of(IpAddress.parse("198.51.100.7"));

    @Test
    void aFullTunnelIsProvenByTheAddressThatTheOutsideSees() {
        Exit exit = new Exit(true, HOTEL, OFFICE);

        assertThat(exit.asClaimed()).isTrue();
        assertThat(exit.words())
                .isEqualTo("full tunnel: the outside sees 192.0.2.10; without the tunnel it sees 198.51.100.7");
    }

    @Test
    void aFullTunnelThatLeadsNowhereIsToldThoughTheInsideAnswers() {
        Exit exit = new Exit(true, HOTEL, Optional.empty());

        assertThat(exit.asClaimed()).isFalse();
        assertThat(exit.words()).contains("nothing comes back from the outside", "198.51.100.7");
    }

    @Test
    void bothByOneLineProvesNothingOfTheWay() {
        assertThat(new Exit(true, OFFICE, OFFICE).words()).contains("as without it: both leave by one line");
    }

    @Test
    void aSplitTunnelLeavesTheOutsideAlone() {
        assertThat(new Exit(false, HOTEL, Optional.empty()).asClaimed()).isTrue();
        assertThat(new Exit(false, HOTEL, Optional.empty()).words()).contains("split tunnel", "198.51.100.7");
        assertThat(new Exit(false, Optional.empty(), Optional.empty()).asClaimed())
                .isFalse();
    }

    @Test
    void aRateStandsBesideTheLineAndEarlierOnes() {
        Transfer transfer = new Transfer(1_000_000, 1_000); // 8 Mbit/s

        assertThat(transfer.megabits()).isEqualTo(8);
        assertThat(transfer.words(OptionalInt.empty(), List.of())).isEqualTo("8.0 Mbit/s each way");
        assertThat(transfer.words(OptionalInt.of(20), List.of()))
                .isEqualTo("8.0 Mbit/s each way, 40 % of what the line takes (20)");
        assertThat(transfer.words(OptionalInt.of(0), List.of(7.0, 8.5))).isEqualTo("8.0 Mbit/s each way");
        assertThat(transfer.words(OptionalInt.empty(), List.of(7.0, 8.5, 9.0))).endsWith(", usually 8.5");
        assertThat(transfer.words(OptionalInt.empty(), List.of(30.0, 28.0, 3.0)))
                .endsWith(", much less than the usual 28.0");
        assertThat(new Transfer(5, 0).megabits()).isZero();
    }

    @Test
    void lossAndRoundTripsAreCountedOverWhatWasSent() {
        Measured m = new Measured(
                List.of(10.0, 20.0, 30.0), 4, Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());

        assertThat(m.loss()).isEqualTo(0.25);
        assertThat(m.least()).isEqualTo(10);
        assertThat(m.mean()).isEqualTo(20);
        assertThat(m.most()).isEqualTo(30);
    }
}
