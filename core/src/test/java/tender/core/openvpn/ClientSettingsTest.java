package tender.core.openvpn;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Base64;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.Authority.Purpose;
import tender.core.certificate.KeyStoreFile;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.IpAddress;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.StaticKey;
import tender.core.trial.House;
import tender.core.wire.MalformedException;

/** What a file gives a client, and what a server's push says. */
class ClientSettingsTest {
    private static final House.Pair MARA = House.signed(House.OURS, Purpose.CLIENT, "mara", -10, 90);
    private static final String CA = "<ca>\n" + PemText.write("CERTIFICATE", House.OURS.certificate()) + "</ca>\n";
    private static final String OWN = "<cert>\n" + MARA.pem() + "</cert>\n<key>\n" + MARA.keyPem() + "</key>\n";
    private static final String CALLS = "client\ndev tun\nremote vpn.skerrivane.example 1194 udp\n";

    private static ClientSettings of(String text) {
        return of(text, ClientSettings.Added.NOTHING);
    }

    private static ClientSettings of(String text, ClientSettings.Added added) {
        OpenVpnClient file = OpenVpnClient.read(text);
        return ClientSettings.of(file, file.calls().get(0), added);
    }

    private static ClientSettings.Added login(String code) {
        return new ClientSettings.Added(
                Optional.of(new ClientSettings.Login(
                        "mara", Secret.of("harbour"), Optional.ofNullable(code).map(Secret::of))),
                Optional.empty());
    }

    @Test
    void takesCertificatesKeysAndCiphers() {
        ClientSettings s =
                of(CALLS + CA + OWN + "auth SHA512\nkey-direction 1\n<tls-auth>\n" + StaticKey.generate(House.RANDOM)
                        + "</tls-auth>\ndata-ciphers AES-128-GCM:BF-CBC:CHACHA20-POLY1305\n");
        assertThat(s.call().host()).isEqualTo("vpn.skerrivane.example");
        assertThat(s.overTcp()).isFalse();
        assertThat(s.controlChannelKey().kind()).isEqualTo("auth");
        assertThat(s.controlChannelKey().direction()).contains(1);
        assertThat(s.authorities()).hasSize(1);
        assertThat(s.authorities().get(0)).isEqualTo(House.OURS.certificate());
        assertThat(s.identity().orElseThrow().chain().get(0)).isEqualTo(MARA.certificate());
        assertThat(s.identity().orElseThrow().key().digest())
                .isEqualTo(MARA.key().digest());
        assertThat(s.ciphers()).containsExactly("AES-128-GCM", "CHACHA20-POLY1305");
        assertThat(s.fallback()).isEmpty();
        ClientSettings old = of(CALLS + CA + "cipher AES-256-CBC\n");
        assertThat(old.ciphers()).containsExactly("AES-256-GCM", "AES-128-GCM", "CHACHA20-POLY1305");
        assertThat(old.fallback()).contains("AES-256-CBC");
        assertThat(of(CALLS + CA + "data-ciphers ?AES-128-GCM:AES-256-CBC\ndata-ciphers-fallback AES-128-CBC\n")
                        .ciphers())
                .containsExactly("AES-128-GCM", "AES-256-CBC");
        assertThat(s.digest()).isEqualTo("SHA512");
        assertThat(s.framing()).isEqualTo(Framing.NONE);
        assertThat(s.asksPassword()).isFalse();
        assertThat(s.user()).isEmpty();
        ClientSettings bare = of(CALLS.replace("udp", "tcp") + CA);
        assertThat(bare.overTcp()).isTrue();
        assertThat(bare.ciphers()).containsExactly("AES-256-GCM", "AES-128-GCM", "CHACHA20-POLY1305");
        assertThat(bare.identity()).isEmpty();
        assertThat(bare.controlChannelKey().kind()).isEqualTo("none");
        assertThat(of(CALLS).authorities()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({
        "comp-lzo, PREFIX",
        "compress, SWAP",
        "compress stub-v2, ESCAPE",
        "'comp-lzo\ncompress stub-v2', ESCAPE",
        "verb 3, NONE"
    })
    void whatStandsAroundPacketsIsAsTheFileSays(String line, Framing framing) {
        assertThat(of(CALLS + CA + line + "\n").framing()).isEqualTo(framing);
    }

    @Test
    void nameAndPasswordCountWhereTheFileAsksForThem() {
        assertThat(of(CALLS + CA, login(null)).user()).isEmpty();
        ClientSettings s = of(CALLS + CA + "auth-user-pass\n", login("123456"));
        assertThat(s.asksPassword()).isTrue();
        assertThat(s.asksCode()).isFalse();
        assertThat(s.user().orElseThrow().sent(s.asksCode()).revealText(RevealSecret.TO_HANDSHAKE))
                .isEqualTo("harbour");
        ClientSettings asks = of(CALLS + CA + "auth-user-pass\nstatic-challenge \"The code\" 1\n", login("123456"));
        assertThat(asks.asksCode()).isTrue();
        assertThat(asks.user().orElseThrow().sent(true).revealText(RevealSecret.TO_HANDSHAKE))
                .isEqualTo("SCRV1:" + Base64.getEncoder().encodeToString("harbour".getBytes()) + ":"
                        + Base64.getEncoder().encodeToString("123456".getBytes()));
        assertThat(login(null).login().orElseThrow().sent(true).revealText(RevealSecret.TO_HANDSHAKE))
                .as("no code was given")
                .isEqualTo("harbour");
    }

    @Test
    void aQuestionOfTheServersIsAnsweredWithTheCode() {
        ClientSettings s = of(CALLS + CA + "auth-user-pass\n", login("123456"));
        ClientSettings answer =
                s.answering("AUTH_FAILED,CRV1:R,E:state:bWFyYQ==:The code: now").orElseThrow();
        assertThat(answer.user().orElseThrow().name()).isEqualTo("mara");
        assertThat(answer.user().orElseThrow().sent(answer.asksCode()).revealText(RevealSecret.TO_HANDSHAKE))
                .isEqualTo("CRV1::state::123456");
        assertThat(answer.asksPassword()).isTrue();
        assertThat(answer.authorities()).hasSize(1);
        assertThat(s.answering("AUTH_FAILED")).isEmpty();
        assertThat(s.answering("AUTH_FAILED,CRV1:R,E:state:bWFyYQ=="))
                .as("no question")
                .isEmpty();
        assertThat(of(CALLS + CA + "auth-user-pass\n", login(null))
                        .answering("AUTH_FAILED,CRV1:R,E:state:bWFyYQ==:Code"))
                .as("no code")
                .isEmpty();
        assertThat(of(CALLS + CA).answering("AUTH_FAILED,CRV1:R,E:state:bWFyYQ==:Code"))
                .isEmpty();
    }

    @Test
    void aKeyStoreGivesAllOfItWithItsPassphrase() {
        byte[] store = KeyStoreFile.write(
                KeyStoreFile.Form.MODERN,
                "mara",
                MARA.key(),
                List.of(MARA.certificate(), House.OURS.certificate()),
                "lantern",
                House.RANDOM);
        String text = CALLS + "<pkcs12>\n" + Base64.getMimeEncoder().encodeToString(store) + "\n</pkcs12>\n";
        ClientSettings s = of(text, new ClientSettings.Added(Optional.empty(), Optional.of("lantern")));
        assertThat(s.authorities()).hasSize(1);
        assertThat(s.authorities().get(0)).isEqualTo(House.OURS.certificate());
        assertThat(s.identity().orElseThrow().chain().get(0)).isEqualTo(MARA.certificate());
        assertThat(s.identity().orElseThrow().key().digest())
                .isEqualTo(MARA.key().digest());
        assertThatThrownBy(() -> of(text))
                .isInstanceOfSatisfying(
                        MalformedException.class, e -> assertThat(e.code()).isEqualTo("passphrase"));
    }

    @ParameterizedTest
    @CsvSource({
        "'ca other.pem', 'ca stands in another file, other.pem; put it in', line 4",
        "'cert mara.pem', 'cert stands in another file, mara.pem; put it in', line 4",
        "'tls-crypt ta.key', 'tls-crypt stands in another file, ta.key; put it in', line 4",
        "'data-ciphers BF-CBC', none of the file's ciphers is tried: BF-CBC, cipher"
    })
    void whatIsMissingIsNamed(String line, String says, String place) {
        assertThatThrownBy(() -> of(CALLS + line + "\n")).isInstanceOfSatisfying(MalformedException.class, e -> {
            assertThat(e.what()).isEqualTo(says);
            assertThat(e.place()).isEqualTo(place);
        });
    }

    @Test
    void aCertificateWithoutItsKeyIsNoIdentity() {
        assertThatThrownBy(() -> of(CALLS + CA + "<cert>\n" + MARA.pem() + "</cert>\n"))
                .hasMessageContaining("no key");
    }

    // what is pushed

    private static Pushed pushed(String... messages) {
        return Pushed.of(List.of(messages), PullRules.ALL);
    }

    @Test
    void optionsComeFromAllMessagesInOrder() {
        Pushed p =
                pushed(",route 10.0.0.0 255.0.0.0, ping 10,,", ",ifconfig 10.99.2.7 255.255.255.0,push-continuation 2");
        assertThat(p.options())
                .containsExactly(
                        "route 10.0.0.0 255.0.0.0",
                        "ping 10",
                        "ifconfig 10.99.2.7 255.255.255.0",
                        "push-continuation 2");
        assertThat(p.has("ping")).isTrue();
        assertThat(p.has("pin")).isFalse();
        assertThat(p.address()).contains(IpAddress.parse("10.99.2.7"));
        assertThat(pushed(",x".repeat(600)).options()).hasSize(500);
    }

    @ParameterizedTest
    @CsvSource({
        "'route-gateway 10.99.2.1,ifconfig 10.99.2.7 255.255.255.0', 10.99.2.1",
        "'route 10.99.2.1,ifconfig 10.99.2.6 10.99.2.5', 10.99.2.1",
        "'route 10.20.0.0 255.255.0.0,ifconfig 10.99.2.6 10.99.2.5', 10.99.2.5",
        "'ifconfig 10.99.2.7 255.255.255.0', ",
        "'ifconfig-ipv6 fd00::7/64 fd00::1', fd00::1",
        "'ifconfig 10.99.2.7 255.255.255.0,ifconfig-ipv6 fd00::7/64 fd00::1', ",
        "'route-gateway dhcp', "
    })
    void theOtherEndIsFoundHoweverItIsTold(String options, String gateway) {
        assertThat(pushed("," + options).gateway())
                .isEqualTo(Optional.ofNullable(gateway).map(IpAddress::parse));
    }

    @Test
    void addressesNameServersAndKeysAreTold() {
        Pushed p = pushed(
                ",ifconfig-ipv6 fd00::7/64 fd00::1,dhcp-option DNS,dhcp-option DOMAIN x,dhcp-option DNS fd00::53,"
                        + "dhcp-option DNS 10.20.2.53,cipher AES-128-GCM,peer-id 7,key-derivation tls-ekm,comp-lzo no");
        assertThat(p.address(IpAddress.Family.V6)).contains(IpAddress.parse("fd00::7"));
        assertThat(p.address(IpAddress.Family.V4)).isEmpty();
        assertThat(p.dns()).contains(IpAddress.parse("10.20.2.53"));
        assertThat(p.cipher()).contains("AES-128-GCM");
        assertThat(p.peerId()).isEqualTo(7);
        assertThat(p.exportsKeys()).isTrue();
        assertThat(p.framing()).contains(Framing.PREFIX);
        Pushed none = pushed(",ping 1");
        assertThat(none.peerId()).isEqualTo(-1);
        assertThat(none.exportsKeys()).isFalse();
        assertThat(none.cipher()).isEmpty();
        assertThat(none.framing()).isEmpty();
        assertThat(none.dns()).isEmpty();
        assertThat(pushed(",peer-id x,key-derivation other").peerId()).isEqualTo(-1);
        assertThat(pushed(",key-derivation other").exportsKeys()).isFalse();
        assertThat(pushed(",protocol-flags cc-exit tls-ekm dyn-tls-crypt").exportsKeys())
                .isTrue();
        assertThat(pushed(",protocol-flags cc-exit").exportsKeys()).isFalse();
        assertThat(pushed(",x tls-ekm").exportsKeys()).isFalse();
    }
}
