package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import tender.core.network.Cidr;

class OwnNetworksTest {
    private static List<OwnNetworks.Own> in(String network) {
        return List.of(
                new OwnNetworks.Own("eth0", Cidr.parse("192.168.178.0/24")),
                new OwnNetworks.Own("tun3", Cidr.parse(network)));
    }

    @Test
    void anOwnNetworkThatIsAlsoBehindTheTunnelIsTold() {
        assertThat(OwnNetworks.clash(in("10.20.4.0/25"), List.of(Cidr.parse("10.20.4.0/24"))))
                .hasValueSatisfying(
                        words -> assertThat(words).contains("10.20.4.0/25 (tun3)", "10.20.4.0/24 behind the tunnel"));
    }

    @Test
    void othersAndAFullTunnelAreNone() {
        assertThat(OwnNetworks.clash(in("10.30.0.0/16"), List.of(Cidr.parse("10.20.4.0/24"))))
                .isEmpty();
        assertThat(OwnNetworks.clash(in("10.30.0.0/16"), List.of(Cidr.EVERYTHING_V4, Cidr.EVERYTHING_V6)))
                .isEmpty();
    }

    @Test
    void whatThisMachineIsInHasNamesAndNoLoopback() {
        assertThat(OwnNetworks.now()).allSatisfy(own -> {
            assertThat(own.device()).isNotBlank();
            assertThat(own.network().overlaps(Cidr.parse("127.0.0.0/8"))).isFalse();
        });
    }
}
