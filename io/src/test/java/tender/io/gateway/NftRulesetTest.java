package tender.io.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.net.ConnectException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.Side;

/** What the kernel does with a connection under random rules is what the filter read of them says. */
class NftRulesetTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final String OUTSIDE = "10.211.15.1";
    private static final String INSIDE = "10.211.15.2";
    private static final int SILENCE_MILLIS = 150;
    private static final int FIRST_PORT = 7000;
    private static final int PORTS = 12;

    @TempDir
    Path folder;

    private final String space = "tio-n" + ProcessHandle.current().pid() % 1000;

    private static String run(String command) throws Exception {
        Process p = new ProcessBuilder("bash", "-c", command)
                .redirectErrorStream(true)
                .start();
        String said = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(p.waitFor()).as(command + "\n" + said).isZero();
        return said;
    }

    private static boolean able() {
        try {
            run("nft --version && ip netns add tio-can && ip netns del tio-can");
            return true;
        } catch (Exception | AssertionError e) {
            System.out.println("SKIPPED: no nft here, or no right to make network namespaces");
            return false;
        }
    }

    @Test
    void theKernelDecidesAsTheFilterSays() throws Exception {
        assumeTrue(able());
        run(("ip netns add %1$s && ip link add %1$s-o type veth peer name %1$s-i && ip link set %1$s-i netns %1$s"
                        + " && ip addr add %2$s/24 dev %1$s-o && ip link set %1$s-o up"
                        + " && ip -n %1$s addr add %3$s/24 dev %1$s-i && ip -n %1$s link set %1$s-i up")
                .formatted(space, OUTSIDE, INSIDE));
        try {
            Random random = new Random(20261201);
            for (int i = 0; i < 12; i++) {
                compared(rules(random));
            }
        } finally {
            run("ip netns del " + space);
        }
    }

    private void compared(String rules) throws Exception {
        Path file = Files.writeString(folder.resolve("rules"), "flush ruleset\n" + rules);
        run("ip netns exec " + space + " nft -f " + file);
        String printed = run("ip netns exec " + space + " nft -j list ruleset");
        Filter filter = NftRuleset.read(JSON.readTree(printed), Map.of(space + "-i", Side.OUTSIDE))
                .filter();
        List<Integer> open = new ArrayList<>();
        List<Integer> said = new ArrayList<>();
        for (int port = FIRST_PORT; port < FIRST_PORT + PORTS; port++) {
            if (answers(port)) {
                open.add(port);
            }
            FilterRule.Packet packet = new FilterRule.Packet(
                    true,
                    Side.OUTSIDE,
                    Optional.of(Transport.TCP),
                    Optional.of(new Port(port)),
                    Optional.of(IpAddress.parse(OUTSIDE)),
                    Optional.of(IpAddress.parse(INSIDE)));
            if (filter.decide(packet).allow()) {
                said.add(port);
            }
        }
        assertThat(said).as(rules).isEqualTo(open);
    }

    /** Nobody listens: a packet that is let through is refused at once, another is not answered. */
    private static boolean answers(int port) throws IOException {
        try (Socket socket = new Socket()) {
            socket.connect(new InetSocketAddress(INSIDE, port), SILENCE_MILLIS);
            return true;
        } catch (ConnectException e) {
            return true;
        } catch (SocketTimeoutException e) {
            return false;
        }
    }

    private String rules(Random random) {
        StringBuilder chain = new StringBuilder();
        StringBuilder other = new StringBuilder();
        for (int i = 0; i < 6; i++) {
            boolean jumpedTo = random.nextInt(4) == 0;
            (jumpedTo ? other : chain).append(rule(random, jumpedTo));
        }
        chain.insert(
                random.nextBoolean() ? 0 : chain.length(),
                random.nextInt(3) == 0 ? "    tcp dport 7004-7009 goto more\n" : "    jump more\n");
        return """
                table inet t {
                  set some { type ipv4_addr; flags interval; elements = { %s } }
                  chain more {
                %s  }
                  chain in {
                    type filter hook input priority %d; policy %s;
                    ct state established,related accept
                %s  }
                }
                """.formatted(
                        random.nextBoolean() ? "10.211.15.0/24" : "192.0.2.0/24",
                        other,
                        random.nextInt(20),
                        random.nextBoolean() ? "drop" : "accept",
                        chain);
    }

    private String rule(Random random, boolean jumpedTo) {
        int port = FIRST_PORT + random.nextInt(PORTS);
        String ports = switch (random.nextInt(4)) {
            case 0 -> "tcp dport " + port;
            case 1 -> "tcp dport " + FIRST_PORT + "-" + port;
            case 2 -> "tcp dport { " + port + ", " + (port + 3) + "-" + (port + 5) + " }";
            default -> "udp dport " + port;
        };
        String from = switch (random.nextInt(6)) {
            case 0 -> "ip saddr @some ";
            case 1 -> "ip saddr 10.211.15.0/28 ";
            case 2 -> "ip daddr 192.0.2.9 ";
            case 3 -> "iifname \"" + space + "-i\" ";
            case 4 -> ports.startsWith("tcp") ? "meta l4proto tcp " : "";
            default -> "";
        };
        String state = random.nextInt(3) == 0 ? "ct state new " : "";
        return "    " + from + ports + " " + state + "counter " + verdict(random, jumpedTo) + "\n";
    }

    private static String verdict(Random random, boolean jumpedTo) {
        return jumpedTo || random.nextInt(5) > 0 ? random.nextBoolean() ? "accept" : "drop" : "return";
    }
}
