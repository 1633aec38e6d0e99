package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.locks.LockSupport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.network.IpAddress;
import tender.core.openvpn.ClientSettings;
import tender.core.trial.Ladder;
import tender.core.trial.MeasurementOptions;
import tender.core.trial.OpenVpnLadder;
import tender.core.trial.OpenVpnQuestion;
import tender.core.trial.OpenVpnSeen;
import tender.io.names.NameService;

/** What Tender says of a file is what the real client reaches with the very same one: files of all sorts, one real server. */
class RealReachTest {
    private static final Duration PATIENCE = Duration.ofSeconds(8);
    private static final String ENDED =
            "(?s).*(Initialization Sequence Completed|AUTH_FAILED|process exiting|SIGUSR1|fatal error).*";

    @TempDir
    static Path folder;

    /** What stands in a client's file in place of {@code client}. */
    private static final List<String> FILES = List.of(
            // what is pulled
            "client",
            "tls-client\npull",
            "tls-client",
            "client\nroute-nopull",
            "client\nroute-nopull\nroute 10.20.77.0 255.255.255.0",
            "client\nroute-nopull\nroute HOST",
            "client\npull-filter ignore route",
            "client\npull-filter ignore \"route \"",
            "client\npull-filter accept \"route 10.20\"\npull-filter ignore route",
            "client\npull-filter ignore redirect-gateway",
            "client\npull-filter reject \"route 10\"",
            "client\npull-filter reject dhcp-option",
            // routes
            "client\nroute HOST 255.255.255.255 net_gateway",
            "client\nroute 10.20.0.0 255.255.0.0 net_gateway",
            "client\nroute-nopull\nroute 10.0.0.0 255.0.0.0\nroute HOST 255.255.255.255 net_gateway",
            "client\nroute-nopull\nroute 10.20.77.0 255.255.255.0 vpn_gateway",
            "client\nroute-nopull\nroute 10.20.77.0 255.255.255.0 10.94.0.1",
            "client\nroute-nopull\nroute 10.20.77.0 255.255.255.0 10.214.9.2",
            "client\nroute 10.20.77.0 255.255.255.0 net_gateway",
            "client\nroute-nopull\nroute 10.20.77.0 255.255.255.0 net_gateway\nroute 10.20.77.0 255.255.255.0",
            "client\nroute-nopull\nroute 10.20.77.0 255.255.255.0\nroute 10.20.77.0 255.255.255.0 net_gateway",
            // redirects
            "client\nroute-nopull\nredirect-gateway def1",
            "client\nroute-nopull\nredirect-private def1",
            "client\nroute-nopull\nredirect-gateway ipv6 !ipv4",
            "client\nredirect-gateway def1\nroute 10.20.77.0 255.255.255.0 net_gateway",
            // who the server is
            "client\nverify-x509-name orrin.skerrivane.example name",
            "client\nverify-x509-name orrin.skerrivane.example",
            "client\nverify-x509-name CN=orrin.skerrivane.example subject",
            "client\nverify-x509-name orrin. name-prefix",
            "client\nverify-x509-name vault. name-prefix",
            "client\nremote-cert-tls client",
            // TLS and ciphers
            "client\ntls-version-min 1.3",
            "client\ndata-ciphers AES-128-GCM",
            "client\ndata-ciphers CHACHA20-POLY1305",
            "client\ncipher AES-256-CBC");

    private static String file(OpenVpnLab lab, String lines) {
        return lab.profile("udp", lab.client, "")
                .replaceFirst("client\n", lines.replace("HOST", OpenVpnLab.INSIDE_HOST) + "\n");
    }

    private static Ladder tried(String file) {
        OpenVpnQuestion question = OpenVpnQuestion.of(
                file,
                ClientSettings.Added.NOTHING,
                Optional.of(IpAddress.parse(OpenVpnLab.INSIDE_HOST)),
                Optional.empty(),
                Instant.now());
        OpenVpnSeen seen = new OpenVpnTrial(
                        question,
                        name -> new NameService.Answer(NameService.Status.UNKNOWN, List.of()),
                        MeasurementOptions.NOTHING,
                        rung -> {})
                .run();
        return OpenVpnLadder.judge(question, seen, Optional.empty());
    }

    /** Whether the real client with this file reaches the host inside. */
    private static boolean reallyReaches(OpenVpnLab lab, String outside, String file, int n) throws Exception {
        Path profile = Files.writeString(folder.resolve("real" + n + ".ovpn"), file);
        Path log = folder.resolve("real" + n + ".log");
        Path pid = folder.resolve("real" + n + ".pid");
        Shell.Result started = Shell.run(
                "ip",
                "netns",
                "exec",
                outside,
                "openvpn",
                "--config",
                profile.toString(),
                "--daemon",
                "--log",
                log.toString(),
                "--writepid",
                pid.toString(),
                "--connect-retry-max",
                "1",
                "--connect-timeout",
                "4");
        if (started.code() != 0) {
            return false; // it does not even begin
        }
        try {
            String said = "";
            Instant end = Instant.now().plus(PATIENCE);
            while (!said.matches(ENDED) && Instant.now().isBefore(end)) {
                LockSupport.parkNanos(20_000_000);
                said = read(log);
            }
            return said.contains("Initialization Sequence Completed")
                    && Shell.run("ip", "-n", outside, "route", "get", OpenVpnLab.INSIDE_HOST)
                            .out()
                            .contains("dev tun")
                    && Shell.run("ip", "netns", "exec", outside, "ping", "-c", "1", "-W", "2", OpenVpnLab.INSIDE_HOST)
                                    .code()
                            == 0;
        } finally {
            Shell.stop(pid);
        }
    }

    private static String read(Path log) {
        try {
            return Files.exists(log) ? Files.readString(log, java.nio.charset.StandardCharsets.ISO_8859_1) : "";
        } catch (java.io.IOException e) {
            return "";
        }
    }

    private static boolean able() {
        boolean able = OpenVpnLab.able();
        if (!able) {
            System.out.println("SKIPPED: no openvpn, tun device or right to make network namespaces here");
        }
        return able;
    }

    /** Adds to {@code disagree} where verdict and reality differ; whether the file was proven. */
    private static boolean asked(OpenVpnLab lab, String outside, String lines, int n, List<String> disagree)
            throws Exception {
        String file = file(lab, lines);
        boolean really = reallyReaches(lab, outside, file, n);
        Ladder ladder = tried(file);
        if (ladder.isProven() != really) {
            disagree.add(lines.replace('\n', ';') + ": the real client " + (really ? "reaches it" : "does not")
                    + ", Tender: " + ladder);
        }
        return ladder.isProven();
    }

    @Test
    void theVerdictIsWhatTheRealClientReaches() throws Exception {
        assumeTrue(able());
        List<String> disagree = new ArrayList<>();
        int proven = 0;
        try (OpenVpnLab lab = new OpenVpnLab(folder)) {
            lab.serve("udp", lab.server, "push \"dhcp-option DNS 10.20.77.53\"\n");
            String outside = lab.outside();
            Shell.need("ip", "-n", outside, "route", "add", "default", "via", "10.214.9.2");
            for (int i = 0; i < FILES.size(); i++) {
                proven += asked(lab, outside, FILES.get(i), i, disagree) ? 1 : 0;
            }
            Shell.run("ip", "netns", "del", outside);
        }
        assertThat(disagree).isEmpty();
        assertThat(proven).as("of " + FILES.size()).isBetween(10, FILES.size() - 10);
    }

    /** A server's line, then the client's. */
    private static final List<String[]> CIPHERS = List.of(
            new String[] {"data-ciphers AES-256-CBC", "client\ncipher AES-256-CBC"},
            new String[] {"data-ciphers AES-256-CBC", "client\ndata-ciphers AES-256-CBC"},
            new String[] {"data-ciphers AES-256-CBC", "client\ndata-ciphers-fallback AES-256-CBC"},
            new String[] {"data-ciphers AES-256-CBC", "client\nncp-ciphers AES-256-CBC"},
            new String[] {"data-ciphers AES-256-CBC:AES-256-GCM", "client\ncipher AES-256-CBC"},
            new String[] {"data-ciphers AES-192-GCM", "client\ncipher AES-192-GCM"},
            new String[] {"data-ciphers AES-256-GCM", "client\ndata-ciphers AES-128-GCM\ncipher AES-256-GCM"},
            new String[] {"tls-version-max 1.2", "client\ntls-version-min 1.3"},
            new String[] {"tls-version-max 1.2", "client\ntls-version-min 1.2"});

    @Test
    void ciphersAndVersionsAreAgreedAsTheRealClientAgreesThem() throws Exception {
        assumeTrue(able());
        List<String> disagree = new ArrayList<>();
        try (OpenVpnLab lab = new OpenVpnLab(folder)) {
            String outside = null;
            for (int i = 0; i < CIPHERS.size(); i++) {
                lab.serve("udp", lab.server, CIPHERS.get(i)[0] + "\n");
                outside = outside == null ? lab.outside() : outside;
                asked(lab, outside, CIPHERS.get(i)[1], 100 + i, disagree);
            }
            Shell.run("ip", "netns", "del", outside);
        }
        assertThat(disagree).isEmpty();
    }
}
