package tender.core.repair;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.profile.OpenVpnClient;

class RepairsTest {
    private static final Path CORPUS = Path.of("src/test/resources/corpus");
    private static final Listener LISTENER = new Listener(
            "staff",
            Map.of(
                    Attribute.PROTOCOL, "openvpn",
                    Attribute.TRANSPORT, "udp",
                    Attribute.PORT, "1195",
                    Attribute.DIGEST, "SHA256",
                    Attribute.CIPHERS, "AES-256-GCM, CHACHA20-POLY1305",
                    Attribute.COMPRESSION, "no",
                    Attribute.SERVER_NAMES, "orrin.skerrivane.example"));
    private static final Endpoint CALLED = Endpoint.parse("orrin.skerrivane.example:1195", Transport.UDP);

    private static String text(String name) throws IOException {
        return Files.readString(CORPUS.resolve(name), StandardCharsets.ISO_8859_1);
    }

    private static Target target(RepairRule... refused) {
        return new Target(LISTENER, List.of(CALLED), Optional.empty(), List.of(), Set.of(refused));
    }

    private static List<String> rules(Repaired repaired) {
        return repaired.repairs().stream().map(r -> r.rule().code()).toList();
    }

    @ParameterizedTest
    @CsvSource({
        "openvpn/good.ovpn,",
        "openvpn/good-crlf.ovpn,",
        "openvpn/placeholder.ovpn,endpoint",
        "openvpn/inside-address.ovpn,endpoint",
        "openvpn/no-remote.ovpn,endpoint",
        "openvpn/several-remotes.ovpn,endpoint",
        "openvpn/connection-blocks.ovpn,endpoint",
        "openvpn/unchecked.ovpn,server-check digest",
        "openvpn/weak.ovpn,compression successor successor endpoint digest ciphers",
        "openvpn/cipher-none.ovpn,digest ciphers"
    })
    void eachFileIsMendedByTheRulesThatItNeeds(String name, String expected) throws IOException {
        Repaired repaired = OpenVpnRepairs.of(text(name), target());

        assertThat(rules(repaired)).containsExactly(expected == null ? new String[0] : expected.split(" "));
        OpenVpnClient after = OpenVpnClient.read(repaired.text());
        assertThat(after.calls()).extracting(c -> c.endpoint().orElseThrow()).containsExactly(CALLED);
        assertThat(after.digest()).isEqualTo("SHA256");
        assertThat(rules(OpenVpnRepairs.of(repaired.text(), target())))
                .as("a repaired file needs no repairing")
                .isEmpty();
    }

    @Test
    void aRepairTouchesItsLinesAndNoOther() throws IOException {
        String before = text("openvpn/placeholder.ovpn");

        Repaired repaired = OpenVpnRepairs.of(before, target());

        assertThat(repaired.text())
                .isEqualTo(before.replace(
                        "proto udp\nremote PUT_NAME_HERE 1194\n", "remote orrin.skerrivane.example 1195 udp\n"));
        assertThat(repaired.repairs().get(0).before()).isEqualTo("proto udp\nremote PUT_NAME_HERE 1194");
        assertThat(repaired.repairs().get(0).line()).isEqualTo(3);
    }

    @Test
    void whatIsRefusedStays() throws IOException {
        String before = text("openvpn/placeholder.ovpn");
        assertThat(OpenVpnRepairs.of(before, target(RepairRule.ENDPOINT)).text())
                .isEqualTo(before);
    }

    @Test
    void aFileIsHeldToWhatWasGranted() throws IOException {
        List<Cidr> granted = List.of(Cidr.parse("10.20.0.0/24"), Cidr.parse("2001:db8:20::/48"));
        Repaired repaired = OpenVpnRepairs.of(
                text("openvpn/full-tunnel.ovpn"),
                new Target(LISTENER, List.of(CALLED), Optional.of(granted), List.of(), Set.of()));

        OpenVpnClient after = OpenVpnClient.read(repaired.text());
        assertThat(rules(repaired)).containsExactly("reach");
        assertThat(after.full4()).isFalse();
        assertThat(after.reach()).isEqualTo(granted);
    }

    @Test
    void aWireGuardFileCallsTheListenerAsItIsNow() throws IOException {
        String before = text("wireguard/inside-address.conf");
        Endpoint now = Endpoint.parse("pier2.skerrivane.example:51820", Transport.UDP);

        Repaired repaired =
                WireGuardRepairs.of(before, new Target(LISTENER, List.of(now), Optional.empty(), List.of(), Set.of()));

        assertThat(repaired.text())
                .isEqualTo(before.replace("Endpoint = 192.168.1.1:51820", "Endpoint = pier2.skerrivane.example:51820"));
        String several = text("wireguard/several-peers.conf");
        assertThat(WireGuardRepairs.of(
                                several, new Target(LISTENER, List.of(now), Optional.empty(), List.of(), Set.of()))
                        .text())
                .as("which peer is meant is not guessed")
                .isEqualTo(several);
    }
}
