package tender.core.office;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;

class DriftTest {
    private static Device with(String peers, String port) {
        return Device.UNREAD.withListeners(List.of(new Listener(
                "wg0",
                Map.of(
                        Attribute.PROTOCOL, "wireguard",
                        Attribute.PORT, port,
                        Attribute.PEERS, peers))));
    }

    private static Device forwards(int... ports) {
        return Device.UNREAD.withForwards(java.util.Arrays.stream(ports)
                .mapToObj(p -> new Forward(Transport.UDP, new Port(p), IpAddress.parse("10.2.0.9"), new Port(p), ""))
                .toList());
    }

    private static Device rules(int... ports) {
        return Device.UNREAD.withFilter(new Filter(
                java.util.Arrays.stream(ports)
                        .mapToObj(p -> FilterRule.allowPort(new Protocol.PortSpec(Transport.UDP, new Port(p)), "r" + p))
                        .toList(),
                false));
    }

    @Test
    void aChangeIsMadeWhenWhatWasToBecomeAnotherIsSoWhateverElseChanged() {
        Device before = with("3", "51820");
        Device wanted = with("3", "443");
        assertThat(Drift.isMade(before, wanted, before)).isFalse();
        assertThat(Drift.isMade(before, wanted, with("9", "444"))).isFalse();
        assertThat(Drift.isMade(before, wanted, with("9", "443").withZone("Europe/Oslo")))
                .isTrue();
        assertThat(Drift.isMade(before, before, before))
                .as("what no reading can show")
                .isFalse();
    }

    @Test
    void forwardsAndRulesAreMadeByWhatTheySayNotByTheirNumber() {
        assertThat(Drift.isMade(forwards(1), forwards(1, 2), forwards(1))).isFalse();
        assertThat(Drift.isMade(forwards(1), forwards(1, 2), forwards(7, 2, 1))).isTrue();
        assertThat(Drift.isMade(forwards(1, 2), forwards(1), forwards(2, 1))).isFalse();
        assertThat(Drift.isMade(forwards(1, 2), forwards(1), forwards(1, 9))).isTrue();
        assertThat(Drift.isMade(rules(1), rules(2, 1), rules(1))).isFalse();
        assertThat(Drift.isMade(rules(1), rules(2, 1), rules(5, 2, 1))).isTrue();
        assertThat(Drift.isMade(rules(1), rules(2, 1), rules(1, 2)))
                .as("the first that matches decides")
                .isFalse();
        assertThat(Drift.isMade(rules(1, 2), rules(2, 1), rules(1, 2))).isFalse();
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
