package tender.core.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Base64;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.certificate.Authority.Purpose;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKeyPair;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.openvpn.Pushed;
import tender.core.profile.IkeProfile;
import tender.core.profile.WireGuardFile;
import tender.core.wire.MalformedException;

/** What a trial asks, out of the very file. */
class QuestionTest {
    private static final TunnelKeyPair OWN = TunnelKeyPair.generate(House.RANDOM);
    private static final TunnelKeyPair NEAR = TunnelKeyPair.generate(House.RANDOM);
    private static final TunnelKeyPair FAR = TunnelKeyPair.generate(House.RANDOM);

    private static String secret(TunnelKeyPair pair) {
        return Base64.getEncoder().encodeToString(pair.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
    }

    private static String peer(TunnelKeyPair key, String endpoint, String allowed) {
        return "\n[Peer]\nPublicKey = " + key.publicKey() + "\n"
                + (endpoint.isEmpty() ? "" : "Endpoint = " + endpoint + "\n") + "AllowedIPs = " + allowed + "\n";
    }

    private static String own(String more) {
        return "[Interface]\nPrivateKey = " + secret(OWN) + "\nAddress = 10.99.4.2/32, fd00::2/128\n" + more;
    }

    private static Question of(String text, String host) {
        return Question.of(
                WireGuardFile.read(text).file(),
                Optional.of(IpAddress.parse("10.99.4.1")),
                Optional.ofNullable(host).map(IpAddress::parse));
    }

    @Test
    void takesTheFileAsItIs() {
        Question q = of(
                own("DNS = 10.20.4.53, skerrivane.example\n")
                        + peer(NEAR, "vpn.skerrivane.example:51820", "10.20.0.0/16"),
                "10.20.4.20");
        assertThat(q.own().publicKey()).isEqualTo(OWN.publicKey());
        assertThat(q.gatewayKey()).isEqualTo(NEAR.publicKey());
        assertThat(q.endpoint()).hasToString("vpn.skerrivane.example:51820");
        assertThat(q.presharedKey()).isEmpty();
        assertThat(q.dns()).containsExactly(IpAddress.parse("10.20.4.53"));
        assertThat(q.gatewayInside()).contains(IpAddress.parse("10.99.4.1"));
        assertThat(q.insideHost()).contains(IpAddress.parse("10.20.4.20"));
        assertThat(q.source(IpAddress.Family.V4)).contains(IpAddress.parse("10.99.4.2"));
        assertThat(q.source(IpAddress.Family.V6)).contains(IpAddress.parse("fd00::2"));
        assertThat(q.reaches(IpAddress.parse("10.20.255.1"))).isTrue();
        assertThat(q.reaches(IpAddress.parse("10.21.0.1"))).isFalse();
    }

    @Test
    void ofSeveralPeersTheOneThatPacketsGoToIsAsked() {
        String text = own("")
                + peer(FAR, "far.skerrivane.example:1", "10.0.0.0/8")
                + peer(NEAR, "near.skerrivane.example:2", "10.20.4.0/24, 10.0.0.0/9")
                + peer(TunnelKeyPair.generate(House.RANDOM), "", "10.20.4.20/32");
        assertThatThrownBy(() -> of(text, "10.20.4.20"))
                .as("packets go to a peer that cannot be called")
                .hasMessageContaining("endpoint");
        assertThat(of(text, "10.20.4.21").gatewayKey()).isEqualTo(NEAR.publicKey());
        assertThat(of(text, "10.200.4.20").gatewayKey()).isEqualTo(FAR.publicKey());
        assertThat(of(text, "192.168.1.1").gatewayKey()).as("nobody has it").isEqualTo(FAR.publicKey());
        assertThat(of(text, null).gatewayKey()).isEqualTo(FAR.publicKey());
        String laterCalled =
                own("") + peer(FAR, "", "10.0.0.0/8") + peer(NEAR, "near.skerrivane.example:2", "10.1.0.0/16");
        assertThat(of(laterCalled, "10.1.9.9").gatewayKey()).isEqualTo(NEAR.publicKey());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "an [Interface] section",
                "the private key",
                "a [Peer] section",
                "an endpoint",
                "the gateway's public key"
            })
    void whatIsLackingIsNamed(String what) {
        String text = switch (what) {
            case "an [Interface] section" ->
                peer(NEAR, "a.example:1", "10.0.0.0/8").strip();
            case "the private key" -> "[Interface]\nAddress = 10.99.4.2/32\n" + peer(NEAR, "a.example:1", "10.0.0.0/8");
            case "a [Peer] section" -> own("");
            case "an endpoint" -> own("") + peer(NEAR, "", "10.0.0.0/8");
            default -> own("") + "\n[Peer]\nEndpoint = a.example:1\nAllowedIPs = 10.0.0.0/8\n";
        };
        assertThatThrownBy(() -> of(text, null))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining("lacks " + what);
    }

    // OpenVPN

    private static final House.Pair MARA = House.signed(House.OURS, Purpose.CLIENT, "mara", -9, 90);

    private static String openVpn(String lines) {
        return "client\ndev tun\n" + lines + "\n<ca>\n" + PemText.write("CERTIFICATE", House.OURS.certificate())
                + "</ca>\n<cert>\n" + MARA.pem() + "</cert>\n<key>\n" + MARA.keyPem() + "</key>\n";
    }

    private static List<OpenVpnQuestion> all(String lines) {
        return OpenVpnQuestion.all(
                openVpn(lines), ClientSettings.Added.NOTHING, Optional.empty(), Optional.empty(), House.NOW);
    }

    private static OpenVpnQuestion one(String lines) {
        return all("remote vpn.skerrivane.example 1194 udp\n" + lines).get(0);
    }

    @Test
    void everyPlaceThatCanBeCalledIsAskedInItsOrder() {
        assertThat(
                        all(
                                "remote your-server 1\nremote a.skerrivane.example 2 tcp\nremote no_host! 3\nremote b.skerrivane.example 4"))
                .extracting(OpenVpnQuestion::place)
                .containsExactly("tcp 2 at a.skerrivane.example", "udp 4 at b.skerrivane.example");
        StringBuilder many = new StringBuilder();
        for (int i = 1; i <= 12; i++) {
            many.append("remote a").append(i).append(".skerrivane.example 1194\n");
        }
        assertThat(all(many.toString())).hasSize(8);
        assertThatThrownBy(() -> all("remote your-server 1")).hasMessageContaining("no name or address");
        assertThatThrownBy(() -> all("verb 3")).hasMessageContaining("calls nobody");
    }

    @Test
    void whatTheFileChecksIsChecked() {
        String print = "AB:".repeat(31) + "AB";
        OpenVpnQuestion q = one("remote-cert-tls server\nverify-x509-name vpn- name-prefix\npeer-fingerprint " + print);
        assertThat(q.checks().role()).isTrue();
        assertThat(q.checks().name()).contains("vpn-");
        assertThat(q.checks().form()).isEqualTo(ServerTrust.NameForm.PREFIX);
        assertThat(q.checks().fingerprints()).containsExactly("ab".repeat(32));
        OpenVpnQuestion bare = one("verify-x509-name vpn.skerrivane.example name\npeer-fingerprint AB:CD");
        assertThat(bare.checks().role()).isFalse();
        assertThat(bare.checks().form()).isEqualTo(ServerTrust.NameForm.NAME);
        assertThat(one("verify-x509-name CN=vpn").checks().form()).isEqualTo(ServerTrust.NameForm.SUBJECT);
        assertThat(bare.checks().fingerprints()).isEmpty();
        assertThat(one("<peer-fingerprint>\n" + print + "\n" + print.replace("AB", "CD") + "\n</peer-fingerprint>")
                        .checks()
                        .fingerprints())
                .containsExactly("ab".repeat(32), "cd".repeat(32));
    }

    @ParameterizedTest
    @CsvSource({
        "route 10.20.4.0 255.255.255.0, 10.20.4.20, true",
        "route 10.20.4.0 255.255.255.0, 10.20.5.20, false",
        "redirect-gateway def1, 203.0.113.9, true",
        "redirect-gateway def1, 2001:db8::9, false",
        "verb 3, 10.30.0.9, true",
        "verb 3, 10.31.0.9, false"
    })
    void whatTheFileSaysOrTheServerPushesGoesThroughTheTunnel(String line, String address, boolean through) {
        assertThat(one(line)
                        .reaches(
                                IpAddress.parse(address),
                                new Pushed(List.of("route 10.30.0.0 255.255.0.0", "route-gateway 10.94.0.1"))))
                .isEqualTo(through);
    }

    @ParameterizedTest
    @CsvSource({
        "dev-type tap, true",
        "dev tap0, true",
        "dev tun3, false",
        "dev-type tun, false",
        "'dev tap0\ndev-type tun', false"
    })
    void tapIsToldFromTun(String lines, boolean bridges) {
        assertThat(one(lines).bridges()).isEqualTo(bridges);
    }

    @Test
    void aProxyIsCalledFirst() {
        OpenVpnQuestion q = one(
                "http-proxy proxy.skerrivane.example 3128\n<http-proxy-user-pass>\nmara\nlantern\n</http-proxy-user-pass>");
        assertThat(q.firstHop()).hasToString("proxy.skerrivane.example:3128");
        assertThat(q.proxy().orElseThrow().words()).isEqualTo("HTTP proxy proxy.skerrivane.example:3128");
        assertThat(q.proxy().orElseThrow().login().orElseThrow().name()).isEqualTo("mara");
        assertThat(q.proxy().orElseThrow().login().orElseThrow().password().revealText(RevealSecret.TO_HANDSHAKE))
                .isEqualTo("lantern");
        OpenVpnQuestion socks = one("socks-proxy 192.0.2.9");
        assertThat(socks.firstHop()).hasToString("192.0.2.9:1080");
        assertThat(socks.proxy().orElseThrow().kind().word()).isEqualTo("SOCKS");
        assertThat(one("http-proxy 192.0.2.9\n<http-proxy-user-pass>\nmara\n</http-proxy-user-pass>")
                        .proxy()
                        .orElseThrow()
                        .login()
                        .orElseThrow()
                        .password()
                        .revealText(RevealSecret.TO_HANDSHAKE))
                .isEmpty();
        assertThat(one("verb 3").firstHop()).hasToString("vpn.skerrivane.example:1194");
    }

    @Test
    void aQuestionOfTheServersIsAnsweredWithTheRestUnchanged() {
        OpenVpnQuestion q = OpenVpnQuestion.of(
                openVpn("remote vpn.skerrivane.example\nauth-user-pass"),
                new ClientSettings.Added(
                        Optional.of(new ClientSettings.Login("mara", Secret.of("x"), Optional.of(Secret.of("123456")))),
                        Optional.empty()),
                Optional.of(IpAddress.parse("10.20.4.20")),
                Optional.of("orrin"),
                House.NOW);
        OpenVpnQuestion next = q.answering("AUTH_FAILED,CRV1:R:s:bWFyYQ==:Code").orElseThrow();
        assertThat(next.insideHost()).isEqualTo(q.insideHost());
        assertThat(next.serverName()).contains("orrin");
        assertThat(next.settings().user()).isNotEqualTo(q.settings().user());
        assertThat(q.answering("AUTH_FAILED")).isEmpty();
    }

    // what the gateway says

    private static final String GATEWAY = "[Interface]\nPrivateKey = " + secret(NEAR) + "\nListenPort = 51820\n";

    private static GatewayEvidence evidence(String more) {
        Question q = of(own("") + peer(NEAR, "vpn.skerrivane.example:51820", "10.20.0.0/16"), null);
        return GatewayEvidence.of(q, WireGuardFile.read(GATEWAY + more).file(), Optional.empty());
    }

    @Test
    void theGatewaysFileIsHeldAgainstTheProfile() {
        String written = "\n[Peer]\nPublicKey = " + OWN.publicKey() + "\nAllowedIPs = 10.99.4.2/32\n";
        GatewayEvidence agrees = evidence(written);
        assertThat(agrees)
                .isEqualTo(new GatewayEvidence(false, true, Optional.of(51820), true, true, false, true, true));
        assertThat(evidence("").clientWritten()).isFalse();
        assertThat(evidence(written + "PresharedKey = " + secret(FAR) + "\n").presharedKeyAgrees())
                .isFalse();
        Question other = of(own("") + peer(FAR, "vpn.skerrivane.example:51821", "10.20.0.0/16"), null);
        GatewayEvidence differs =
                GatewayEvidence.of(other, WireGuardFile.read(GATEWAY).file(), Optional.empty());
        assertThat(differs.keyAgrees()).isFalse();
        assertThat(differs.portAgrees()).isFalse();
        assertThat(GatewayEvidence.of(other, WireGuardFile.read("[Interface]\n").file(), Optional.empty()))
                .as("a file that says nothing disagrees with nothing")
                .isEqualTo(new GatewayEvidence(false, true, Optional.empty(), true, false, false, true, true));
    }

    @ParameterizedTest
    @CsvSource({
        "0, false, , , false, false",
        "1, false, , , false, true",
        "0, true, , , false, true",
        "0, false, files.skerrivane.example, , false, true",
        "0, false, , 192.0.2.9, false, true",
        "0, false, , , true, true"
    })
    void anythingThatIsWantedIsMeasured(
            int echoes, boolean size, String name, String outside, boolean transfer, boolean any) {
        assertThat(new MeasurementOptions(
                                echoes,
                                size,
                                Optional.ofNullable(name).map(tender.core.network.HostName::parse),
                                Optional.ofNullable(outside).map(IpAddress::parse),
                                transfer)
                        .anything())
                .isEqualTo(any);
    }

    @ParameterizedTest
    @CsvSource({
        "'connections {', true",
        "'  connections{ x', true",
        "'connection {', false",
        "'# connections {', false",
        "'', false"
    })
    void aSectionForIkeIsKnownByItsName(String text, boolean is) {
        assertThat(IkeProfile.looksLike("x = y\n" + text + "\n")).isEqualTo(is);
    }

    /** As wg gives a network that two peers claim to the later one. */
    @Test
    void ofTwoPeersWithTheSameNetworkTheLaterHasIt() {
        String two = own("")
                + peer(NEAR, "near.skerrivane.example:51820", "10.20.0.0/16")
                + peer(FAR, "far.skerrivane.example:51820", "10.20.0.0/16");

        assertThat(of(two, "10.20.4.20").gatewayKey()).isEqualTo(FAR.publicKey());
    }

    @Test
    void aTableOfItsOwnIsNotLookedAt() {
        String file = "Table = off\n" + "\n" + peer(NEAR, "near.skerrivane.example:51820", "10.20.0.0/16");

        assertThat(of(own(file), "10.20.4.20").notLookedAt()).containsExactly("Table (line 4)");
        assertThat(of(own(file.replace("off", "auto")), "10.20.4.20").notLookedAt())
                .isEmpty();
    }

    @Test
    void aFileThatNamesItsOwnKeyAsTheGatewaysIsToldForCertain() {
        Question q = of(own("") + peer(OWN, "near.skerrivane.example:51820", "10.20.0.0/16"), "10.20.4.20");
        Observation silent = LadderTest.seen(
                Observation.Name.RESOLVED,
                Observation.Path.SILENT,
                Observation.Handshake.SILENT,
                Observation.Echo.NOT_TRIED,
                Observation.Echo.NOT_TRIED);

        assertThat(Ladder.judge(q, silent, Optional.empty())
                        .failure()
                        .orElseThrow()
                        .causes())
                .extracting(Cause::code, Cause::certainty)
                .containsExactly(org.assertj.core.groups.Tuple.tuple("gateway-key-own", Certainty.CERTAIN));
    }
}
