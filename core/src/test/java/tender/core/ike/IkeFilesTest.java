package tender.core.ike;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.Authority;
import tender.core.certificate.PemText;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.profile.IkeProfile;
import tender.core.trial.House;
import tender.core.trial.IkeQuestion;
import tender.core.wire.MalformedException;

/** What a trial takes of swanctl files as people write them. */
class IkeFilesTest {
    private static final Authority BETWEEN = House.under(House.OURS, "Pier Office");
    private static final House.Pair MARA = House.signed(BETWEEN, Authority.Purpose.CLIENT, "mara", -9, 90);

    private static String section(String connection, String local, String remote, String child, String rest) {
        return "connections {\n  waits { local { auth = psk } }\n  orrin {\n    remote_addrs = vpn.skerrivane.example, other\n"
                + "    vips = 0.0.0.0, ::\n" + connection + "\n    local {\n" + local + "\n    }\n    remote {\n"
                + remote
                + "\n    }\n    children {\n      net {\n" + child
                + "\n      }\n      more { remote_ts = 10.99.0.0/16 }\n"
                + "    }\n  }\n}\n" + rest;
    }

    private static Map<String, byte[]> parts() {
        Map<String, byte[]> out = new LinkedHashMap<>();
        out.put("x509/mara.pem", bytes(MARA.pem()));
        out.put("private/mara.pem", bytes(MARA.keyPem()));
        out.put("x509ca/root.pem", bytes(PemText.write("CERTIFICATE", House.OURS.certificate())));
        out.put("x509ca/between.der", BETWEEN.certificate());
        return out;
    }

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.US_ASCII);
    }

    private static IkeSettings settings(String section) {
        return IkeSettings.of(IkeProfile.read(IkeProfile.of(section, parts()).text()), IkeSettings.Added.NOTHING);
    }

    private static IkeSettings byCertificate(String connection, String child) {
        return settings(section(connection, "auth = pubkey\ncerts = mara.pem", "auth = pubkey\nid = orrin", child, ""));
    }

    private static Optional<String> secret(IkeSettings settings) {
        return settings.secret().map(s -> s.revealText(RevealSecret.TO_HANDSHAKE));
    }

    @Test
    void partsInStrongSwansFoldersAndTheChainBetweenAreTaken() {
        IkeSettings s = byCertificate("", "remote_ts = 10.20.0.0/16");

        assertThat(s.chain()).hasSize(2);
        assertThat(s.chain().get(0)).isEqualTo(MARA.certificate());
        assertThat(s.chain().get(1)).isEqualTo(BETWEEN.certificate());
        assertThat(s.authorities()).hasSize(2);
        assertThat(s.v6()).isTrue();
        assertThat(s.reach()).containsExactly(Cidr.parse("10.20.0.0/16"));
        assertThat(s.server()).contains("orrin");
        assertThat(s.askingNobody(false).server()).isEmpty();
        assertThat(s.askingNobody(false).proof()).isEqualTo("pubkey");
        assertThat(s.askingNobody(true).proof()).isEqualTo("eap-mschapv2");
        assertThat(s.askingNobody(true).secret()).isEmpty();
    }

    /** As strongSwan does with what stands in its folders and nobody names. */
    @Test
    void partsThatNobodyNamesAndThatCannotBeReadAreInNobodysWay() {
        Map<String, byte[]> parts = parts();
        parts.put("private/damaged.pem", bytes(PemText.write("PRIVATE KEY", new byte[] {1, 2, 3})));
        parts.put("x509ca/damaged.der", new byte[] {0x30, 1, 2});
        parts.put("x509ca/damaged.pem", bytes(PemText.write("CERTIFICATE", new byte[] {1, 2, 3})));
        String section = section("", "auth = pubkey\ncerts = mara.pem", "auth = pubkey", "remote_ts = 10.0.0.0/8", "");

        assertThat(IkeProfile.of(section, parts).text())
                .isEqualTo(IkeProfile.of(section, parts()).text());
        parts.put("x509/mara.pem", bytes(PemText.write("CERTIFICATE", new byte[] {1, 2, 3})));
        assertThatThrownBy(() -> IkeProfile.of(section, parts)).isInstanceOf(MalformedException.class);
    }

    @Test
    void anAuthorityThatIsNamedIsBelievedAlone() {
        IkeSettings s = settings(section(
                "",
                "auth = pubkey\ncerts = mara.pem",
                "auth = pubkey\ncacerts = root.pem",
                "remote_ts = 10.0.0.0/8",
                ""));

        assertThat(s.authorities()).singleElement().isEqualTo(House.OURS.certificate());
        assertThat(s.chain()).hasSize(1);
    }

    @ParameterizedTest
    @CsvSource({
        "10.20.77.20, '10.20.77.20/32'",
        "10.20.77.0/33, '10.20.77.0/32'",
        "%any, '0.0.0.0/0'",
        "%any6, '::/0'",
        "'10.20.77.10-10.20.77.12', '10.20.77.10/31,10.20.77.12/32'",
        "'255.255.255.254-255.255.255.255', '255.255.255.254/31'",
        "'10.1.0.0/16, dynamic, 10.2.0.0/16[tcp/80]', '10.1.0.0/16,10.2.0.0/16'"
    })
    void reachIsReadAsStrongSwanReadsIt(String written, String networks) {
        assertThat(byCertificate("", "remote_ts = " + written).reach())
                .containsExactlyElementsOf(
                        List.of(networks.split(",")).stream().map(Cidr::parse).toList());
    }

    @ParameterizedTest
    @CsvSource({
        "'eap-1 { id = mara\n secret = harbour }', harbour",
        "'eap-1 { id = jonas\n secret = tide }\n eap-2 { id-x = mara\n secret = harbour }', harbour",
        "'eap-1 { id = jonas\n secret = tide }\n xauth-2 { secret = harbour }', harbour",
        "'eap-1 { id = jonas\n secret = tide }', tide",
        "'ike-1 { secret = tide }', ",
        "'ntlm { secret = 0x68617262 }', harb",
        "'eap { secret = 0saGFyYg== }', harb",
        "'eap { secret = 0xzz }', 0xzz"
    })
    void thePasswordOfTheAccountIsTaken(String secrets, String taken) {
        IkeSettings s = settings(section(
                "",
                "auth = eap-mschapv2\nid = mara",
                "auth = pubkey",
                "remote_ts = 10.0.0.0/8",
                "secrets {\n" + secrets + "\n}\n"));

        assertThat(secret(s)).isEqualTo(Optional.ofNullable(taken));
        assertThat(s.user()).contains("mara");
    }

    @Test
    void aSharedSecretIsNotAnAccountsPassword() {
        String secrets = "secrets { eap-1 { secret = tide }\n ike-1 { id = mara\n secret = harbour } }\n";
        IkeSettings s = settings(section("", "auth = PSK\nid = mara", "auth = Psk", "remote_ts = 10.0.0.0/8", secrets));

        assertThat(s.proof()).isEqualTo("psk");
        assertThat(s.serverProof()).isEqualTo("psk");
        assertThat(secret(s)).contains("harbour");
        assertThat(secret(IkeSettings.of(
                        IkeProfile.read(section("", "auth = psk", "auth = psk", "remote_ts = 10.0.0.0/8", secrets)),
                        new IkeSettings.Added(Optional.empty(), Optional.of(Secret.of("given"))))))
                .contains("given");
    }

    @ParameterizedTest
    @CsvSource({"eap-md5", "eap-tls", "xauth", "xauth-pam"})
    void waysOfProofThatAreNotTriedAreTold(String way) {
        assertThatThrownBy(() -> settings(section("", "auth = " + way, "auth = pubkey", "remote_ts = 10.0.0.0/8", "")))
                .isInstanceOf(MalformedException.class)
                .hasMessageContaining(way);
    }

    @Test
    void proposalsThatAreNotKnownAreLeftOutAndNamed() {
        String some =
                "proposals = camellia256-sha256-modp2048 , aes256 - sha256 - modp2048, aes128gcm16-prfsha256-ecp256";
        String section = section(
                some, "auth = pubkey\ncerts = mara.pem", "auth = pubkey", "esp_proposals = aes256-esn,aes256gcm16", "");
        IkeProfile profile = IkeProfile.of(section, parts());

        assertThat(IkeSettings.notOffered(profile)).containsExactly("camellia256-sha256-modp2048", "aes256-esn");
        IkeSettings s = IkeSettings.of(profile, IkeSettings.Added.NOTHING);
        assertThat(s.proposals()).isEqualTo("aes256 - sha256 - modp2048,aes128gcm16-prfsha256-ecp256");
        assertThat(s.ike()).hasSize(2);
        assertThat(s.tunnelProposals()).isEqualTo("aes256gcm16");
        assertThatThrownBy(() -> byCertificate("proposals = camellia256-sha256-modp2048", ""))
                .hasMessageContaining("none of the file's algorithms");
        assertThat(byCertificate("proposals = default", "").proposals())
                .isEqualTo(byCertificate("", "").proposals())
                .contains("modp3072", "curve25519", "sha512");
        assertThat(byCertificate("proposals = aes256-sha256-modpnone, default", "")
                        .proposals())
                .startsWith("aes128gcm16");
    }

    @ParameterizedTest
    @CsvSource({
        "mara, 2, mara",
        "@mara, 2, mara",
        "fqdn:mara, 2, mara",
        "DNS:mara, 2, mara",
        "mara@skerrivane.example, 3, mara@skerrivane.example",
        "email:mara, 3, mara",
        "rfc822:mara, 3, mara",
        "keyid:mara, 11, mara",
        "10.0.0.1, 1, 10.0.0.1",
        "ipv4:10.0.0.1, 1, 10.0.0.1",
        "fd00::1, 5, fd00::1",
        "'CN=mara, O=Skerrivane Ferries', 9, 'CN=mara,O=Skerrivane Ferries'",
        "asn1dn:CN=mara, 9, CN=mara"
    })
    void identitiesAreReadByTheirKind(String text, int type, String words) {
        assertThat(Identification.parse(text).type()).isEqualTo(type);
        assertThat(Identification.parse(text).words()).isEqualTo(words);
        assertThat(Identification.parse(text).means(Identification.parse(text.toUpperCase(java.util.Locale.ROOT))))
                .isEqualTo(true);
    }

    @Test
    void whoACertificateIsIsOneOfItsNamesOrItsSubject() {
        assertThat(Identification.parse("mara").isOf(MARA.certificate())).isTrue();
        assertThat(Identification.parse("MARA").isOf(MARA.certificate())).isTrue();
        assertThat(Identification.parse("jonas").isOf(MARA.certificate())).isFalse();
        assertThat(Identification.parse("CN=mara").isOf(MARA.certificate())).isTrue();
        assertThat(Identification.parse("CN=jonas").isOf(MARA.certificate())).isFalse();
        assertThat(Identification.parse("mara").means(Identification.parse("keyid:mara")))
                .isFalse();
    }

    @Test
    void aRangeIsAskedForAsOneAndNetworksEachAsTheyStand() {
        List<Cidr> range =
                byCertificate("", "remote_ts = 10.20.77.10-10.20.77.30").reach();
        assertThat(Selectors.encode(range)[0]).isEqualTo((byte) 1);
        assertThat(Selectors.encode(List.of(Cidr.parse("10.0.0.0/25"), Cidr.parse("10.0.0.128/25")))[0])
                .isEqualTo((byte) 2);
        assertThat(Selectors.encode(List.of(Cidr.parse("10.0.0.0/25"), Cidr.parse("10.0.1.0/25")))[0])
                .isEqualTo((byte) 2);
        assertThat(Selectors.encode(List.of(Cidr.parse("255.255.255.255/32"), Cidr.parse("0.0.0.0/32")))[0])
                .isEqualTo((byte) 2);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "mobike = no | | remote_ts = 10.0.0.0/8 | ",
                "version = 1 | | remote_ts = 10.0.0.0/8 | version (line 6)",
                "version = 0 | | remote_ts = 10.0.0.0/8 | ",
                "if_id_in = 5 | | remote_ts = 10.0.0.0/8 | if_id_in (line 6)",
                " | id = *.example | remote_ts = 10.0.0.0/8 | the pattern of id (line 12)",
                " | revocation = strict | remote_ts = 10.0.0.0/8 | revocation (line 12)",
                " | revocation = RELAXED | remote_ts = 10.0.0.0/8 | ",
                " | | remote_ts = 10.0.0.0/8[tcp] | protocols and ports of remote_ts, or dynamic beside networks (line 16)",
                " | | remote_ts = 10.0.0.0/8, dynamic | protocols and ports of remote_ts, or dynamic beside networks (line 16)",
                " | | mode = transport ; remote_ts = 10.0.0.0/8 | mode (line 16)",
                " | | | no networks in remote_ts: the client reaches the server alone",
                "local-2 { auth = psk } | | remote_ts = 10.0.0.0/8 | more than one local section",
                "vips = | | remote_ts = 10.0.0.0/8 | no vips: the client asks for no tunnel address",
                "include other.conf | | remote_ts = 10.0.0.0/8 | include (line 6)",
                "proposals = camellia128-sha256-modp2048,aes256-sha256-modp2048 | | remote_ts = 10.0.0.0/8 | the proposals camellia128-sha256-modp2048"
            })
    void whatIsNotDoneIsNotLookedAt(String connection, String remote, String child, String told) {
        String section = section(
                connection == null ? "" : connection,
                "auth = pubkey\ncerts = mara.pem",
                remote == null ? "" : remote,
                child == null ? "" : child.replace(" ; ", "\n"),
                "");
        IkeQuestion question = IkeQuestion.of(
                IkeProfile.of(section, parts()).text(),
                IkeSettings.Added.NOTHING,
                Optional.empty(),
                Optional.empty(),
                House.NOW);

        assertThat(question.server()).hasToString("vpn.skerrivane.example");
        assertThat(question.notLookedAt()).isEqualTo(told == null ? List.of() : List.of(told));
    }
}
