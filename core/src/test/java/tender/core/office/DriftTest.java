package tender.core.office;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class DriftTest {
    private static Device with(String peers, String port) {
        return Device.UNREAD.withListeners(List.of(new Listener(
                "wg0",
                Map.of(
                        Attribute.PROTOCOL, "wireguard",
                        Attribute.PORT, port,
                        Attribute.PEERS, peers))));
    }

    @Test
    void peersComeAndGoWithoutBeingDriftAndStillDifferInABackup() {
        assertThat(Drift.between(with("3", "51820"), with("4", "51820"))).isEmpty();
        assertThat(Drift.ofBackups(with("3", "51820"), with("4", "443")))
                .containsExactly(
                        new Drift.Difference("wg0 port", "51820", "443"), new Drift.Difference("wg0 peers", "3", "4"));
        assertThat(Drift.ofBackups(with("3", "51820"), with("3", "51820"))).isEmpty();
        assertThat(Drift.ofBackups(Device.UNREAD, with("3", "51820")))
                .as("of a listener that is new as a whole, nothing is said a second time")
                .containsExactly(new Drift.Difference("listener wg0", "", "there"));
    }
}
