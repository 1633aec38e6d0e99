package tender.e2e;

import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;

/** A namespace with a veth pair to this one, removed when closed. */
record Namespace(String name, String outside, String inside) implements AutoCloseable {
    static Namespace make(String name, int third) {
        Namespace ns = new Namespace(name, "10.211." + third + ".1", "10.211." + third + ".2");
        Shell.run("ip", "netns", "del", name);
        Shell.need(
                "bash",
                "-c",
                ("ip netns add %1$s && ip link add %1$s-o type veth peer name %1$s-i && ip link set %1$s-i netns %1$s"
                                + " && ip addr add %2$s/24 dev %1$s-o && ip link set %1$s-o up"
                                + " && ip -n %1$s addr add %3$s/24 dev %1$s-i && ip -n %1$s link set %1$s-i up && ip -n %1$s link set lo up")
                        .formatted(name, ns.outside, ns.inside));
        return ns;
    }

    Shell.Result in(String command) {
        return Shell.run("ip", "netns", "exec", name, "bash", "-c", command);
    }

    @Override
    public void close() {
        Shell.run("bash", "-c", "for p in $(ip netns pids " + name + "); do kill $p; done; ip netns del " + name);
    }

    /** Ends the test where this machine cannot run Debian's WireGuard in a namespace. */
    static void needWireGuard() {
        boolean able = Shell.has("wireguard-go")
                && Shell.has("wg")
                && Shell.has("ip")
                && Files.exists(Path.of("/dev/net/tun"))
                && Shell.run("bash", "-c", "ip netns add tender-can && ip netns del tender-can")
                                .code()
                        == 0;
        if (!able) {
            System.out.println("SKIPPED: no wireguard-go, wg, tun device or right to make network namespaces here");
        }
        assumeTrue(able);
    }

    /** Only what wg takes: Address, DNS and MTU are for wg-quick. */
    static String forWg(String file) {
        return file.lines().filter(l -> !l.matches("(Address|DNS|MTU) .*")).reduce("", (a, b) -> a + b + "\n");
    }
}
