package tender.core.openvpn;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

class ReliabilityTest {
    private static final Instant NOW = Instant.parse("2026-11-23T12:00:00Z");

    private final Reliability reliability = new Reliability();

    @Test
    void whatIsNotAcknowledgedIsSentAgainLaterAndLater() {
        reliability.send(7, new byte[] {1});

        assertThat(reliability.due(NOW)).hasSize(1);
        assertThat(reliability.due(NOW.plusMillis(600))).isEmpty();
        assertThat(reliability.due(NOW.plusMillis(800))).hasSize(1);
        assertThat(reliability.due(NOW.plusMillis(1_600))).as("twice the wait").isEmpty();
        assertThat(reliability.due(NOW.plusMillis(2_400))).hasSize(1);
        reliability.acknowledged(List.of(0));
        assertThat(reliability.due(NOW.plusSeconds(60))).isEmpty();
        assertThat(reliability.allAcknowledged()).isTrue();
    }

    @Test
    void packetsComeOutInOrderHoweverTheyArrive() {
        assertThat(reliability.arrived(1, new byte[] {1})).isTrue();
        assertThat(reliability.next()).isEmpty();
        reliability.arrived(0, new byte[] {0});
        reliability.arrived(0, new byte[] {9});

        assertThat(reliability.next()).hasValueSatisfying(p -> assertThat(p).containsExactly(0));
        assertThat(reliability.next()).hasValueSatisfying(p -> assertThat(p).containsExactly(1));
        reliability.arrived(0, new byte[] {0});
        assertThat(reliability.next()).as("a late copy").isEmpty();
        assertThat(reliability.takeAcknowledgements(8)).contains(0, 1);
    }

    @Test
    void whatLiesFarAheadIsNotKept() {
        assertThat(reliability.arrived(5_000, new byte[1_000])).isFalse();
        assertThat(reliability.arrived(-1, new byte[1_000])).isFalse();
        assertThat(reliability.owesAcknowledgement()).isFalse();
    }

    @Test
    void noMoreAreOnTheWayThanTheWindowHolds() {
        for (int i = 0; i < 40; i++) {
            reliability.send(4, new byte[1]);
        }

        assertThat(reliability.due(NOW)).hasSize(12);
        reliability.acknowledged(List.of(0, 1, 2));
        assertThat(reliability.due(NOW)).hasSize(3);
    }
}
