package tender.core.profile;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.wire.ParseProblem;

/** A few of the rules that tests against the real program hold by the thousand. */
class OpenVpnRulesTest {
    private static final String FILE =
            "client\ndev tun\nremote vpn.skerrivane.example 1194\n<ca>\nx\n</ca>\n<cert>\nx\n</cert>\n<key>\nx\n</key>\n";

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "verb 3 | ",
                "data-ciphers AES-256-GCM:BF-CBC | data-ciphers",
                "data-ciphers AES-256-GCM:?BF-CBC | ",
                "proto tcp;fragment 1200 | fragment",
                "http-proxy p 8080 | http-proxy",
                "proto tcp;http-proxy p 8080 | ",
                "nobind;lport 5 | lport",
                "server 10.8.0.0 255.255.255.0 | server",
                "keepalive 10 60;ping 5 | ping",
                "keepalive x y;ping 5 | ",
                "verify-client-cert none | verify-client-cert",
                "setenv A b | setenv",
                "tls-version-min 1.3;tls-version-max 1.2 | tls-version-max",
                "topology NET30 | topology",
                "nosuch | a directive that OpenVPN 2.6 does not know"
            })
    void whatARealClientDoesNotBeginWithIsRefused(String lines, String told) {
        assertThat(OpenVpnRules.refusal(FILE + lines.replace(';', '\n') + "\n").map(ParseProblem::what))
                .as(lines)
                .matches(p -> told == null
                        ? p.isEmpty()
                        : p.filter(w -> w.startsWith(told)).isPresent());
    }

    private static final String SERVER = "dev tun\ndh none\n<ca>\nx\n</ca>\n<cert>\nx\n</cert>\n<key>\nx\n</key>\n";

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "server 10.8.0.0 255.255.255.0 | ",
                "server 10.8.0.0 255.255.255.0;server-ipv6 fd00:8::/64 | ",
                "server 10.8.0.0 255.255.255.252 | server: has too few",
                "server 10.0.0.0 255.0.0.0 | server: is no network",
                "server 10.8.0.5 255.255.255.0 | server: is no network",
                "server 10.8.0.0 255.255.255.0 nopool;server-ipv6 fd00:8::/64 | server-ipv6",
                "server 10.8.0.0 255.255.255.0;ifconfig-pool 10.8.0.5 10.8.0.9 | ifconfig-pool",
                "server 10.8.0.0 255.255.255.0 nopool;ifconfig-pool 10.8.0.5 10.8.0.9 | ",
                "server 10.8.0.0 255.255.255.0;remote 192.0.2.1 1194 | remote: belongs to clients",
                "server 10.8.0.0 255.255.255.0;redirect-gateway def1 | redirect-gateway: belongs to clients",
                "server 10.8.0.0 255.255.255.0;verify-client-cert none | verify-client-cert: needs",
                "server 10.8.0.0 255.255.255.0;verify-client-cert require | ",
                "server 10.8.0.0 255.255.255.0;verify-client-cert none;plugin /p.so | ",
                "server 10.8.0.0 255.255.255.0;port-share 127.0.0.1 443 | port-share",
                "server 10.8.0.0 255.255.255.0;proto tcp;port-share 127.0.0.1 443 | ",
                "server 10.8.0.0 255.255.255.0;auth-gen-token 3600 60 | auth-gen-token",
                "server 10.8.0.0 255.255.255.0;auth-gen-token 3600 120 | ",
                "server 10.8.0.0 255.255.255.0;ccd-exclusive | ccd-exclusive",
                "server-bridge | server-bridge: goes with dev tap",
                "mode server | mode server without tls-server",
                "mode server;tls-server | "
            })
    void whatARealServerDoesNotBeginWithIsRefused(String lines, String told) {
        assertThat(OpenVpnRules.refusal(SERVER + lines.replace(';', '\n') + "\n")
                        .map(ParseProblem::what))
                .as(lines)
                .matches(p -> told == null
                        ? p.isEmpty()
                        : p.filter(w -> w.startsWith(told)).isPresent());
        assertThat(OpenVpnRules.refusal(SERVER.replace("dh none\n", "") + lines.replace(';', '\n') + "\n"))
                .isPresent();
    }

    @Test
    void partsThatMustNotBeMissingAreNamed() {
        assertThat(OpenVpnRules.refusal(FILE.replace("dev tun\n", ""))).isPresent();
        assertThat(OpenVpnRules.refusal(FILE.replaceAll("(?s)<ca>.*</ca>\n", "")))
                .isPresent();
        assertThat(OpenVpnRules.refusal(FILE.replaceAll("(?s)<key>.*</key>\n", "")))
                .isPresent();
        assertThat(OpenVpnRules.refusal(FILE.replaceAll("(?s)<cert>.*</key>\n", "auth-user-pass\n")))
                .isEmpty();
        assertThat(OpenVpnRules.refusal(FILE.replaceAll("remote .*\n", ""))).isPresent();
    }

    @Test
    void ciphersThatClientsEndOnAreNotHandedOut() {
        assertThat(OpenVpnClient.taken(List.of("AES-256-GCM", "BF-CBC", "CHACHA20-POLY1305", "RC2-CBC")))
                .containsExactly("AES-256-GCM", "CHACHA20-POLY1305");
    }
}
