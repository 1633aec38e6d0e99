package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
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

/** Ways to Debian's OpenVPN: through proxies, and to the second place of a file where the first is dead. */
class RealOpenVpnWaysTest {
    @TempDir
    static Path folder;

    private static OpenVpnLab lab;

    @BeforeAll
    static void open() {
        boolean able = OpenVpnLab.able();
        if (!able) {
            System.out.println("SKIPPED: no openvpn, tun device or right to make network namespaces here");
        }
        assumeTrue(able);
        lab = new OpenVpnLab(folder);
    }

    @AfterAll
    static void close() {
        if (lab != null) {
            lab.close();
        }
    }

    private static Ladder tried(String profile) {
        OpenVpnCalls made = OpenVpnCalls.run(
                OpenVpnQuestion.all(
                        profile,
                        ClientSettings.Added.NOTHING,
                        Optional.of(IpAddress.parse(OpenVpnLab.INSIDE_HOST)),
                        Optional.empty(),
                        Instant.now()),
                name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                MeasurementOptions.NOTHING,
                rung -> {});
        return OpenVpnLadder.judge(made.question(), made.seen(), Optional.empty());
    }

    private static void assertFails(Ladder ladder, String code, String says) {
        RungResult failure = ladder.failure().orElseThrow(() -> new AssertionError("it held: " + ladder));
        assertThat(failure.rung()).as(ladder.toString()).isEqualTo(Rung.PORT);
        assertThat(failure.detail()).contains(says);
        assertThat(failure.causes().get(0).code()).as(ladder.toString()).isEqualTo(code);
        assertThat(failure.causes().get(0).certainty()).isEqualTo(Certainty.CERTAIN);
    }

    @ParameterizedTest
    @CsvSource({"tcp,http,", "tcp,http,mara:lantern", "tcp,socks,", "tcp,socks,mara:lantern", "udp,socks,"})
    void whatGoesThroughAProxyIsProvenAndAProxyThatRefusesIsTold(String transport, String kind, String login)
            throws Exception {
        lab.serve(transport, lab.server, "");
        String own = login == null ? "" : OpenVpnLab.inline("http-proxy-user-pass", login.replace(':', '\n'));
        try (TestProxy proxy = new TestProxy(Optional.ofNullable(login), false);
                TestProxy strict = new TestProxy(Optional.of("mara:another"), false);
                TestProxy shut = new TestProxy(Optional.empty(), true)) {
            String profile = lab.profile(transport, lab.client, kind + "-proxy 127.0.0.1 " + proxy.port() + "\n" + own);

            Ladder ladder = tried(profile);

            assertThat(ladder.isProven()).as(ladder + "\n" + lab.log()).isTrue();
            String port = Integer.toString(proxy.port());
            assertFails(tried(profile.replace(port, Integer.toString(shut.port()))), "proxy-refuses", "the proxy says");
            assertFails(
                    tried(profile.replace(port, Integer.toString(strict.port()))),
                    "proxy-refuses",
                    kind.equals("http") ? "407" : "name and password");
        }
    }

    @Test
    void aProxyThatIsNotThereOrIsNoneIsTold() throws Exception {
        lab.serve("tcp", lab.server, "");
        int free;
        try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            free = socket.getLocalPort();
        }
        String profile = lab.profile("tcp", lab.client, "http-proxy 127.0.0.1 " + free + "\n");
        assertFails(tried(profile), "proxy-shut", "through the HTTP proxy");
        assertFails(
                tried(lab.profile("udp", lab.client, "http-proxy 127.0.0.1 " + free + "\n")),
                "proxy-refuses",
                "an HTTP proxy carries no UDP");
    }

    @Test
    void theSecondPlaceOfAFileIsProvenWhereTheFirstIsDead() throws Exception {
        lab.serve("tcp", lab.server, "");
        String profile = lab.profile("tcp", lab.client, "")
                .replaceFirst("remote ", "remote " + lab.address + " 11999 tcp\nremote ");

        Ladder ladder = tried(profile);

        assertThat(ladder.isProven()).as(ladder.toString()).isTrue();
        assertThat(ladder.rungs().get(Rung.PORT.ordinal()).detail())
                .contains("tcp 11999")
                .contains("fails at port");
        Ladder none = tried(profile.replaceAll("remote (\\S+) " + OpenVpnLab.PORT, "remote $1 11998"));
        assertThat(none.failure().orElseThrow().detail())
                .startsWith("tcp 11999")
                .contains("tcp 11998");
    }
}
