package tender.io.trial;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.profile.OpenVpnRules;

/** Whether openvpn begins with what a client's lines say together, asked of it for files of lines put together at random. */
class RealOpenVpnTogetherTest {
    private static final int INPUTS = Integer.getInteger("tender.inputs", 350);
    private static final long SEED = Long.getLong("tender.seed", 20_261_130L);
    private static final String GONE = "/nonexistent-folder/pid";
    private static final List<String> LINES = List.of(
            "client",
            "tls-client",
            "pull",
            "remote 192.0.2.8 1194 tcp",
            "remote 192.0.2.8 443 udp6",
            "remote h 5 UDP",
            "remote h 5 tcp4-client",
            "proto tcp",
            "proto udp",
            "proto udp4",
            "proto tcp-client",
            "proto UDP",
            "proto x",
            "fragment 1200",
            "mtu-test",
            "mssfix 1300",
            "http-proxy p 8080",
            "socks-proxy q 1080",
            "nobind",
            "bind",
            "lport 5",
            "port 5",
            "local 192.0.2.1",
            "keepalive 10 60",
            "keepalive 60 10",
            "keepalive x y",
            "ping 5",
            "ping-restart 60",
            "ping-exit 9",
            "tun-mtu 1400",
            "link-mtu 1450",
            "topology subnet",
            "topology NET30",
            "key-direction 1",
            "key-direction 2",
            "comp-lzo",
            "comp-lzo maybe",
            "compress",
            "compress lz4",
            "compress foo",
            "compress migrate",
            "verify-x509-name a name",
            "verify-x509-name a b",
            "verify-x509-name CN=a",
            "remote-cert-tls client",
            "remote-cert-tls foo",
            "ns-cert-type server",
            "ns-cert-type x",
            "redirect-gateway def1",
            "redirect-gateway def1 ipv6 !ipv4",
            "redirect-gateway x",
            "redirect-private def1",
            "pull-filter ignore x",
            "pull-filter drop x",
            "auth-retry interact",
            "auth-retry never",
            "tls-version-min 1.2",
            "tls-version-min 1.3",
            "tls-version-min 1.4",
            "tls-version-min 1.9 or-highest",
            "tls-version-max 1.2",
            "tls-version-max 2",
            "ifconfig 10.0.0.1 10.0.0.2",
            "ifconfig a b",
            "ifconfig 10.0.0.1 255.255.255.0",
            "ifconfig-ipv6 fd00::1/64 fd00::2",
            "ifconfig-ipv6 x y",
            "data-ciphers AES-256-GCM",
            "data-ciphers aes-128-cbc",
            "data-ciphers AES-256-GCM:BF-CBC",
            "data-ciphers AES-256-GCM:?NOPE",
            "data-ciphers none",
            "cipher NOPE",
            "cipher AES-256-CBC",
            "auth SHA512",
            "peer-fingerprint x",
            "peer-fingerprint " + "00:".repeat(31) + "ff",
            "shaper 5",
            "shaper 5000",
            "auth-user-pass",
            "client-to-client",
            "duplicate-cn",
            "verify-client-cert none",
            "ifconfig-pool 10.0.0.1 10.0.0.9",
            "ifconfig-pool-persist /tmp/x",
            "auth-gen-token",
            "ccd-exclusive",
            "client-config-dir /tmp",
            "max-clients 5",
            "push \"x\"",
            "management-hold",
            "management-query-passwords",
            "server 10.8.0.0 255.255.255.0",
            "tls-server",
            "mode p2p",
            "mode foo",
            "explicit-exit-notify",
            "float",
            "remote-random",
            "resolv-retry infinite",
            "persist-tun",
            "persist-key",
            "verb 3",
            "auth-nocache",
            "route 10.0.0.0",
            "route-nopull",
            "dhcp-option DNS 10.0.0.1",
            "dns server 1 address 10.0.0.1",
            "dns foo",
            "reneg-sec 0",
            "connect-timeout 5",
            "tcp-nodelay",
            "port-share 1.2.3.4 5",
            "username-as-common-name",
            "block-ipv6",
            "setenv A b",
            "inactive 5",
            "script-security 2",
            "tls-cert-profile preferred",
            "allow-pull-fqdn");

    @TempDir
    Path folder;

    @Test
    void aFileIsBegunWithExactlyWhereTheRealClientBegins() throws IOException {
        if (!Shell.has("openvpn")) {
            System.out.println("SKIPPED: no openvpn here");
        }
        assumeTrue(Shell.has("openvpn"));
        Random random = new Random(SEED);
        String material = Files.readString(Path.of("../core/src/test/resources/corpus/openvpn/good.ovpn"));
        String ca = block(material, "ca");
        String cert = block(material, "cert");
        String key = block(material, "key");
        String crypt = block(material, "tls-crypt");
        List<String> texts = new ArrayList<>();
        while (texts.size() < INPUTS) {
            List<String> lines = new ArrayList<>(List.of("client", "dev tun", "remote 192.0.2.7 1194"));
            for (int n = random.nextInt(4); n > 0; n--) {
                lines.add(LINES.get(random.nextInt(LINES.size())));
            }
            List<String> parts = new ArrayList<>(List.of(ca, cert, key));
            if (random.nextInt(4) == 0) {
                parts.remove(random.nextInt(parts.size()));
            }
            if (random.nextInt(6) == 0) {
                parts.add(crypt);
            }
            if (random.nextInt(8) == 0) {
                parts.add(crypt.replace("tls-crypt", "tls-auth"));
            }
            if (random.nextInt(5) == 0) {
                lines.remove(random.nextInt(3));
            }
            boolean server = lines.stream().anyMatch(l -> l.matches("server .*|tls-server"))
                    && lines.stream().noneMatch(l -> l.matches("client|tls-client|pull"));
            if (!server) {
                texts.add(String.join("\n", lines) + "\n" + String.join("", parts));
            }
        }

        List<String> said = asked(texts);

        int begun = 0;
        List<String> disagreements = new ArrayList<>();
        for (int i = 0; i < texts.size(); i++) {
            boolean real = said.get(i).contains("--writepid fails");
            begun += real ? 1 : 0;
            if (OpenVpnRules.refusal(texts.get(i)).isEmpty() != real) {
                disagreements.add("it says " + said.get(i) + ", and we say " + OpenVpnRules.refusal(texts.get(i))
                        + ":\n" + texts.get(i).replaceAll("(?s)\n<.*", ""));
            }
        }
        System.out.println("measured: " + texts.size() + " OpenVPN clients' files asked of openvpn, " + begun
                + " begun with, " + disagreements.size() + " disagreements");
        assertThat(begun).as("both kinds occur").isBetween(texts.size() / 10, texts.size() * 9 / 10);
        assertThat(disagreements).as("of " + texts.size()).isEmpty();
    }

    private static String block(String text, String name) {
        int from = text.indexOf("<" + name + ">");
        int to = text.indexOf("</" + name + ">") + name.length() + 4;
        return text.substring(from, to);
    }

    /** What it says first against each, to which a folder is added that is not there, so that it ends at the latest at that. */
    private List<String> asked(List<String> texts) throws IOException {
        for (int i = 0; i < texts.size(); i++) {
            Files.writeString(
                    folder.resolve(i + ".conf"), "writepid " + GONE + "\n" + texts.get(i), StandardCharsets.UTF_8);
        }
        Path script = Files.writeString(folder.resolve("ask.sh"), """
                cd "$1"
                for ((i = $2; i < $3; i += 2)); do
                  echo "$i $(timeout 5 openvpn --config $i.conf 2>&1 </dev/null | grep -aE -m1 'Options error|fatal|rror')"
                done
                """);
        Shell.need(
                "bash",
                "-c",
                "for p in 0 1; do unshare -n bash '" + script + "' '" + folder + "' $p " + texts.size() + " > '"
                        + folder + "'/said.$p & done; wait");
        String[] out = new String[texts.size()];
        for (int p = 0; p < 2; p++) {
            for (String line : Files.readAllLines(folder.resolve("said." + p), StandardCharsets.ISO_8859_1)) {
                out[Integer.parseInt(line.split(" ")[0])] = line;
            }
        }
        return Arrays.asList(out);
    }
}
