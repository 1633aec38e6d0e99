package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.certificate.CertificateFacts;
import tender.core.credential.Secret;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.Certainty;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.Rung;
import tender.core.trial.RungResult;
import tender.io.names.NameService;

/** Less usual settings of Debian's OpenVPN server: framings, kinds of networks, one-time codes, fingerprints, IPv6. */
class RealOpenVpnFormsTest {
    private static final String INSIDE_V6 = "fd00:77::20";

    @TempDir
    static Path folder;

    private static OpenVpnLab lab;

    @BeforeAll
    static void open() {
        boolean able = OpenVpnLab.able();
        if (!able) {
            System.out.println("SKIPPED: no openvpn, tun device or right to make namespaces here");
        }
        assumeTrue(able);
        lab = new OpenVpnLab(folder);
        Shell.need("ip", "-n", lab.space, "addr", "add", INSIDE_V6 + "/128", "dev", "lo");
    }

    @AfterAll
    static void close() {
        if (lab != null) {
            lab.close();
        }
    }

    private static Ladder tried(String profile, ClientSettings.Added added, String host) {
        OpenVpnCalls made = OpenVpnCalls.run(
                OpenVpnQuestion.all(
                        profile, added, Optional.of(IpAddress.parse(host)), Optional.empty(), Instant.now()),
                name -> new NameService.Answer(NameService.Status.UNKNOWN, java.util.List.of()),
                MeasurementOptions.NOTHING,
                rung -> {});
        return OpenVpnLadder.judge(made.question(), made.seen(), Optional.empty());
    }

    private static Ladder tried(String profile) {
        return tried(profile, ClientSettings.Added.NOTHING, Lab.INSIDE_HOST);
    }

    private static void assertProven(Ladder ladder) {
        assertThat(ladder.isProven())
                .as(ladder + "\n" + String.join("\n", lab.log()))
                .isTrue();
        assertThat(ladder.rungs())
                .filteredOn(r -> r.rung() == Rung.TUNNEL_ADDRESS)
                .as("the gateway itself answers too: " + ladder)
                .allMatch(r -> r.verdict() == tender.core.trial.Verdict.OK);
    }

    private static void assertFails(Ladder ladder, Rung rung, String code, Certainty certainty) {
        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(rung);
        assertThat(failure.causes().get(0).code()).as(ladder.toString()).isEqualTo(code);
        assertThat(failure.causes().get(0).certainty()).as(ladder.toString()).isEqualTo(certainty);
    }

    /** {@code ;} stands for a new line. */
    @ParameterizedTest
    @CsvSource({
        "topology net30,''",
        "topology p2p,''",
        "compress,compress",
        "compress lz4,compress lz4",
        "compress stub-v2,compress stub-v2",
        "compress lz4-v2,compress lz4-v2",
        "comp-lzo no,comp-lzo no",
        "compress stub-v2;push \"compress stub-v2\",''",
        "data-ciphers AES-256-CBC,data-ciphers AES-256-CBC",
        "data-ciphers AES-192-GCM:AES-192-CBC,data-ciphers AES-192-GCM",
        "tls-version-min 1.3,tls-version-min 1.3",
        "tls-groups secp521r1,''",
        "auth-gen-token,''",
        "reneg-sec 3,reneg-sec 3",
        "tun-mtu 1400,tun-mtu 1400"
    })
    void aServerSetUpLikeThisIsProven(String server, String client) throws IOException {
        lab.serve("udp", lab.server, server.replace(';', '\n') + "\n");

        assertProven(tried(lab.profile("udp", lab.client, client.replace(';', '\n') + "\n")));
    }

    @Test
    void aServerOfIpv6IsProvenByAnInsideHostOfIpv6() throws IOException {
        lab.serve("udp", lab.server, "server-ipv6 fd00:94::/64\npush \"route-ipv6 fd00:77::/64\"\n");

        assertProven(tried(lab.profile("udp", lab.client, ""), ClientSettings.Added.NOTHING, INSIDE_V6));
    }

    @Test
    void aCertificateThatIsBelievedByItsFingerprintNeedsNoAuthority() throws IOException {
        lab.serve("udp", lab.server, "");
        String right = CertificateFacts.of(lab.server.certificate()).fingerprint();
        String file = lab.profile("udp", lab.client, "").replaceAll("(?s)<ca>.*</ca>\n", "");

        assertProven(tried(file + "peer-fingerprint " + colons(right) + "\n"));
        assertProven(tried(file + "<peer-fingerprint>\n" + colons(right) + "\n</peer-fingerprint>\n"));
        assertFails(
                tried(file + "peer-fingerprint " + colons("0".repeat(64)) + "\n"),
                Rung.TRUST,
                "server-foreign-authority",
                Certainty.CERTAIN);
    }

    private static String colons(String hex) {
        return hex.replace(":", "").replaceAll("..(?=.)", "$0:");
    }

    @Test
    void aBridgedServerIsToldFromOneOfPackets() throws IOException {
        lab.serve("udp", lab.server, "dev tap\n");

        assertFails(
                tried(lab.profile("udp", lab.client, "")),
                Rung.TUNNEL_ADDRESS,
                "device-type-differs",
                Certainty.CERTAIN);
        Ladder both = tried(lab.profile("udp", lab.client, "").replace("dev tun", "dev tap"));
        assertThat(both.failure()).isEmpty();
        assertThat(both.isProven()).as("no echo, no proof").isFalse();
    }

    private static ClientSettings.Added login(String code) {
        return new ClientSettings.Added(
                Optional.of(new ClientSettings.Login(
                        "mara",
                        Secret.of("harbour-lantern-7"),
                        Optional.ofNullable(code).map(Secret::of))),
                Optional.empty());
    }

    private static void serveWithScript(String check) throws IOException {
        Path script = Files.writeString(folder.resolve("check.sh"), "#!/bin/bash\n" + check);
        Files.setPosixFilePermissions(script, PosixFilePermissions.fromString("rwxr-xr-x"));
        lab.serve("udp", lab.server, "script-security 2\nauth-user-pass-verify " + script + " via-file\n");
    }

    @Test
    void aCodeThatTheFileAsksForGoesBesideThePassword() throws IOException {
        serveWithScript("""
                IFS=: read -r kind password code < <(tail -n 1 "$1")
                [ "$kind" = SCRV1 ] && [ "$(base64 -d <<<"$password")" = harbour-lantern-7 ] && [ "$(base64 -d <<<"$code")" = 755224 ]
                """);
        String file = lab.profile("udp", lab.client, "auth-user-pass\nstatic-challenge \"The code\" 1\n");

        assertProven(tried(file, login("755224"), Lab.INSIDE_HOST));
        assertFails(
                tried(file, login("000000"), Lab.INSIDE_HOST),
                Rung.AUTHENTICATION,
                "password-refused",
                Certainty.CERTAIN);
        assertFails(tried(file, login(null), Lab.INSIDE_HOST), Rung.AUTHENTICATION, "code-missing", Certainty.CERTAIN);
    }

    @Test
    void aCodeThatTheServerAsksForIsItsAnswer() throws IOException {
        serveWithScript("""
                password=$(tail -n 1 "$1")
                [ "$password" = CRV1::harbour-9::755224 ] && exit 0
                [ "$password" = harbour-lantern-7 ] && printf 'CRV1:R,E:harbour-9:bWFyYQ==:The code' >"$auth_failed_reason_file"
                exit 1
                """);
        String file = lab.profile("udp", lab.client, "auth-user-pass\n");

        assertProven(tried(file, login("755224"), Lab.INSIDE_HOST));
        assertFails(
                tried(file, login("000000"), Lab.INSIDE_HOST),
                Rung.AUTHENTICATION,
                "password-refused",
                Certainty.CERTAIN);
        assertFails(tried(file, login(null), Lab.INSIDE_HOST), Rung.AUTHENTICATION, "code-missing", Certainty.CERTAIN);
    }
}
