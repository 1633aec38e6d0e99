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
    private static final int INPUTS = Integer.getInteger("tender.inputs", 250);
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

    private static final List<String> OF_SERVERS = List.of(
            "server 10.8.0.0 255.255.255.0",
            "server 10.8.0.0 255.255.255.252",
            "server 10.8.0.0 255.255.255.248",
            "server 10.8.0.5 255.255.255.0",
            "server 10.8.0.0 255.0.255.0",
            "server 10.8.0.0 255.255.255.0 nopool",
            "server 10.8.0.0 255.255.255.0 pool",
            "server 10.8.0.0 24",
            "server 10.0.0.0 255.0.0.0",
            "server-ipv6 fd00:8::/64",
            "server-ipv6 fd00:8::/64 x",
            "server-ipv6 fd00:8::/120",
            "server-ipv6 fd00:8::/128",
            "server-ipv6 10.8.0.0/24",
            "server-bridge",
            "server-bridge 10.8.0.4 255.255.255.0 10.8.0.50 10.8.0.90",
            "server-bridge 10.8.0.4 255.255.255.0 10.8.1.50 10.8.1.90",
            "server-bridge nogw",
            "mode server",
            "tls-server",
            "client",
            "pull",
            "tls-client",
            "dev tap",
            "dev null",
            "dev-type tap",
            "dev tun7",
            "topology subnet",
            "topology p2p",
            "topology net30",
            "proto tcp",
            "proto tcp-server",
            "proto tcp6-server",
            "proto tcp-client",
            "proto udp6",
            "port 1195",
            "lport 1195",
            "rport 1195",
            "local 192.0.2.1",
            "multihome",
            "remote 192.0.2.9 1194",
            "nobind",
            "bind",
            "dh none",
            "duplicate-cn",
            "client-to-client",
            "client-config-dir /tmp",
            "ccd-exclusive",
            "ifconfig-pool 10.8.0.10 10.8.0.20",
            "ifconfig-pool 10.8.0.20 10.8.0.10",
            "ifconfig-pool 10.8.0.10 10.8.0.20 255.255.255.0",
            "ifconfig-pool 10.8.0.10 10.11.0.20",
            "ifconfig-pool 10.8.0.0 10.8.255.255",
            "ifconfig-pool 10.8.0.0 10.9.0.0",
            "ifconfig-pool a b",
            "server 10.8.0.0 255.255.255.0 nopool",
            "ifconfig-pool-persist /tmp/pool",
            "ifconfig-ipv6-pool fd00:8::10/64",
            "ifconfig 10.8.0.1 255.255.255.0",
            "ifconfig 10.8.0.1 10.8.0.2",
            "ifconfig-ipv6 fd00:8::1/64 fd00:8::2",
            "push \"route 10.1.0.0 255.255.0.0\"",
            "push \"redirect-gateway def1\"",
            "push-remove route",
            "push-reset",
            "route 10.9.0.0 255.255.255.0",
            "iroute 10.9.0.0 255.255.255.0",
            "redirect-gateway def1",
            "route-delay 5",
            "up-delay",
            "shaper 5000",
            "port-share 127.0.0.1 443",
            "max-clients 5",
            "max-clients 0",
            "connect-freq 5 10",
            "connect-freq-initial 5 10",
            "verify-client-cert none",
            "verify-client-cert optional",
            "verify-client-cert require",
            "verify-client-cert x",
            "username-as-common-name",
            "auth-user-pass",
            "auth-user-pass-optional",
            "auth-user-pass-verify /bin/true via-file",
            "auth-user-pass-verify /bin/true via-x",
            "auth-gen-token",
            "auth-gen-token 3600 60",
            "auth-gen-token 3600 130",
            "hand-window 70",
            "reneg-sec 0",
            "script-security 2",
            "script-security 9",
            "tcp-queue-limit 5",
            "hash-size 16 16",
            "stale-routes-check 30",
            "vlan-tagging",
            "vlan-pvid 5",
            "allow-recursive-routing",
            "pull-filter ignore x",
            "http-proxy p 8080",
            "socks-proxy q 1080",
            "ipchange /bin/true",
            "fragment 1300",
            "keepalive 10 60",
            "keepalive 10 15",
            "ping 5",
            "ping-exit 9",
            "explicit-exit-notify 1",
            "float",
            "tls-version-min 1.2",
            "data-ciphers AES-256-GCM:BF-CBC",
            "cipher AES-256-CBC",
            "remote-cert-tls client",
            "verify-x509-name mara name",
            "key-direction 0",
            "learn-address /bin/true",
            "client-connect /bin/true",
            "client-disconnect /bin/true",
            "tmp-dir /tmp",
            "opt-verify",
            "ecdh-curve prime256v1",
            "tls-crypt-v2-verify /bin/true",
            "bcast-buffers 64",
            "connect-retry 5",
            "remote-random",
            "persist-tun",
            "compress migrate",
            "comp-lzo yes",
            "status /tmp/s 5",
            "management 127.0.0.1 7505",
            "management-client-auth",
            "secret /tmp/k",
            "link-mtu 1400",
            "sndbuf 0",
            "txqueuelen 100",
            "passtos",
            "mute 5",
            "inactive 60");

    @TempDir
    Path folder;

    @Test
    void aFileIsBegunWithExactlyWhereTheRealClientBegins() throws IOException {
        Random random = new Random(SEED);
        List<String> texts = new ArrayList<>();
        while (texts.size() < INPUTS) {
            List<String> lines = new ArrayList<>(List.of("client", "dev tun", "remote 192.0.2.7 1194"));
            String text = put(lines, LINES, 4, "good.ovpn", random);
            boolean server = lines.stream().anyMatch(l -> l.matches("server .*|tls-server"))
                    && lines.stream().noneMatch(l -> l.matches("client|tls-client|pull"));
            if (!server) {
                texts.add(text);
            }
        }
        compare(texts, "clients'");
    }

    @Test
    void aFileIsBegunWithExactlyWhereTheRealServerBegins() throws IOException {
        Random random = new Random(SEED);
        List<String> texts = new ArrayList<>();
        while (texts.size() < INPUTS) {
            List<String> lines = new ArrayList<>(List.of("server 10.8.0.0 255.255.255.0", "dev tun", "dh none"));
            texts.add(put(lines, OF_SERVERS, 5, "server-open.conf", random));
        }
        compare(texts, "servers'");
    }

    /** A file of a few lines more, of one fewer now and then, and of the parts that it needs. */
    private static String put(List<String> lines, List<String> from, int most, String material, Random random)
            throws IOException {
        String corpus = "../core/src/test/resources/corpus/openvpn/";
        String parts = Files.readString(Path.of(corpus + material));
        String crypt = block(Files.readString(Path.of(corpus + "good.ovpn")), "tls-crypt");
        for (int n = random.nextInt(most); n > 0; n--) {
            lines.add(from.get(random.nextInt(from.size())));
        }
        List<String> blocks = new ArrayList<>(List.of(block(parts, "ca"), block(parts, "cert"), block(parts, "key")));
        if (random.nextInt(4) == 0) {
            blocks.remove(random.nextInt(blocks.size()));
        }
        if (random.nextInt(6) == 0) {
            blocks.add(crypt);
        }
        if (random.nextInt(8) == 0) {
            blocks.add(crypt.replace("tls-crypt", "tls-auth"));
        }
        if (random.nextInt(5) == 0) {
            lines.remove(random.nextInt(3));
        }
        return String.join("\n", lines) + "\n" + String.join("", blocks);
    }

    private void compare(List<String> texts, String whose) throws IOException {
        if (!Shell.has("openvpn")) {
            System.out.println("SKIPPED: no openvpn here");
        }
        assumeTrue(Shell.has("openvpn"));
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
        System.out.println("measured: " + texts.size() + " OpenVPN " + whose + " files asked of openvpn, " + begun
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
