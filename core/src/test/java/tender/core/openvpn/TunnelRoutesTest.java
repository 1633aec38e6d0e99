package tender.core.openvpn;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.network.IpAddress;
import tender.core.profile.OpenVpnFile;

/** Which addresses go into the tunnel, by the file's own lines and what it takes of the server's. */
class TunnelRoutesTest {
    private static final String PUSHED = ",route 10.20.0.0 255.255.0.0,route-ipv6 fd00:20::/32,route-gateway 10.94.0.1,"
            + "topology subnet,ifconfig 10.94.0.7 255.255.255.0,dhcp-option DNS 10.20.0.53,route 10.20.9.0 255.255.255.0 net_gateway";

    private static TunnelRoutes routes(String lines, String pushed) {
        OpenVpnFile file = OpenVpnFile.read(lines).file();
        return TunnelRoutes.of(file, Pushed.of(List.of(pushed), PullRules.of(file)));
    }

    @ParameterizedTest
    @CsvSource({
        "client, 10.20.4.20, true",
        "client, 10.20.9.20, false",
        "client, 10.21.4.20, false",
        "client, 10.94.0.200, true",
        "client, fd00:20:1::7, true",
        "client, fd00:21::7, false",
        "tls-client, 10.20.4.20, false",
        "'tls-client\npull', 10.20.4.20, true",
        "'client\nroute-nopull', 10.20.4.20, false",
        "'client\nroute-nopull', 10.94.0.1, true",
        "'client\nroute-nopull\nroute 10.20.4.0 255.255.255.0', 10.20.4.20, true",
        "'client\nroute-nopull\nroute 10.20.4.0 255.255.255.0', 10.20.5.20, false",
        "'client\nroute-nopull\nroute 10.20.4.20', 10.20.4.20, true",
        "'client\nroute-nopull\nroute 10.20.4.20', 10.20.4.21, false",
        "'client\nroute-nopull\nroute 10.20.4.0 255.255.255.0 default 5', 10.20.4.20, true",
        "'client\nroute-nopull\nroute 10.20.4.0 255.255.255.0 vpn_gateway', 10.20.4.20, true",
        "'client\nroute-nopull\nroute 10.20.4.0 255.255.255.0 10.94.0.1', 10.20.4.20, true",
        "'client\nroute-nopull\nroute 10.20.4.0 255.255.255.0 10.94.0.66', 10.20.4.20, true",
        "'client\nroute-nopull\nroute 10.20.4.0 255.255.255.0 192.168.1.1', 10.20.4.20, false",
        "'client\nroute 10.20.4.20 255.255.255.255 net_gateway', 10.20.4.20, false",
        "'client\nroute 10.20.4.20 255.255.255.255 net_gateway', 10.20.4.21, true",
        "'client\nroute 10.20.0.0 255.255.0.0 net_gateway', 10.20.4.20, true",
        "'client\nroute-nopull\nroute 10.20.0.0 255.255.0.0\nroute 10.20.0.0 255.255.0.0 net_gateway', 10.20.4.20, false",
        "'client\npull-filter ignore route', 10.20.4.20, false",
        "'client\npull-filter accept \"route 10.20.0\"\npull-filter ignore route', 10.20.4.20, false",
        "'client\npull-filter ignore route-gateway\nredirect-gateway def1', 203.0.113.7, false",
        "'client\npull-filter ignore route-gateway\nroute-gateway 10.94.0.1', 10.20.4.20, true",
        "'client\npull-filter ignore \"route 10.20.9\"', 10.20.9.20, true",
        "'client\npull-filter accept \"route 10.20.0\"\npull-filter ignore \"route \"', 10.20.4.20, true",
        "'client\npull-filter ignore \"route \"\npull-filter accept \"route 10.20.0\"', 10.20.4.20, false",
        "'client\npull-filter ignore \"redirect-gateway\"', 10.20.4.20, true",
        "'client\nredirect-gateway def1', 203.0.113.7, true",
        "'client\nredirect-gateway def1', 10.20.9.20, false",
        "'client\nredirect-gateway def1', 2001:db8::7, false",
        "'client\nredirect-gateway def1 ipv6', 2001:db8::7, true",
        "'client\nredirect-gateway ipv6 !ipv4', 203.0.113.7, false",
        "'client\nredirect-gateway ipv6 !ipv4', fd00:99::7, true",
        "'client\nredirect-private def1', 203.0.113.7, false",
        "'client\nroute 0.0.0.0 0.0.0.0', 203.0.113.7, true",
        "'client\nroute-ipv6 2001:db8::/32', 2001:db8::7, true",
        "'client\nroute-ipv6 2001:db8::7', 2001:db8::8, false",
        "'client\nroute vpn_gateway', 10.94.0.1, true",
        "'client\nroute remote_host', 10.20.4.20, true",
        "'client\nroute nonsense 255.255.255.0', 10.20.4.20, true",
        "'client\nroute 10.21.0.0 255.0.255.0', 10.21.4.20, false"
    })
    void theLongestPrefixDecides(String lines, String address, boolean inside) {
        assertThat(routes(lines + "\n", PUSHED).leadIn(IpAddress.parse(address)))
                .isEqualTo(inside);
    }

    @ParameterizedTest
    @CsvSource({
        "',ifconfig 10.94.0.6 10.94.0.5,route 10.94.0.1', 10.94.0.5, true",
        "',ifconfig 10.94.0.6 10.94.0.5,route 10.94.0.1', 10.94.0.1, true",
        "',ifconfig 10.94.0.6 10.94.0.5', 10.94.0.9, false",
        "',ifconfig-ipv6 fd00::7/64 fd00::1', fd00::99, true",
        "',ifconfig-ipv6 fd00::7/64 fd00::1', fd00:0:0:1::99, false",
        "',redirect-gateway def1', 203.0.113.7, false",
        "',redirect-gateway def1,ifconfig 10.94.0.6 10.94.0.5', 203.0.113.7, true",
        "',redirect-gateway !ipv4', 203.0.113.7, false"
    })
    void whateverFormTheTunnelHas(String pushed, String address, boolean inside) {
        assertThat(routes("client\n", pushed).leadIn(IpAddress.parse(address))).isEqualTo(inside);
    }

    @Test
    void anOptionThatTheFileRejectsEndsTheConnection() {
        PullRules rules = PullRules.of(
                OpenVpnFile.read("client\npull-filter reject \"route 10\"\n").file());
        assertThat(Pushed.rejected(List.of(",ping 10,route 10.0.0.0 255.0.0.0"), rules))
                .contains("route 10.0.0.0 255.0.0.0");
        assertThat(Pushed.rejected(List.of(",ping 10,route 192.168.0.0 255.255.0.0"), rules))
                .isEmpty();
        assertThat(Pushed.rejected(List.of(",route 10.0.0.0 255.0.0.0"), PullRules.ALL))
                .isEmpty();
    }
}
