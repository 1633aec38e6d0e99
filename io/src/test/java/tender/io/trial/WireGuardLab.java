package tender.io.trial;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.credential.RevealSecret;
import tender.core.credential.TunnelKeyPair;

/** Debian's wireguard-go in a network namespace of its own, with inside hosts of both families behind it. */
final class WireGuardLab extends Lab {
    static final int PORT = 51822;
    static final String INSIDE_V6 = "fd00:77::20";
    static final String GATEWAY = "10.96.0.1";

    final TunnelKeyPair gateway = TunnelKeyPair.generate(RANDOM);
    /** Its own address to the outside, in the other family; a network that no other lab has. */
    final String outsideV6;

    private final String device = "wg" + ProcessHandle.current().pid() % 10_000;

    WireGuardLab(Path folder) throws IOException {
        super(folder, "tw", 217);
        String network = "fd00:" + address.split("\\.")[1] + ":" + address.split("\\.")[2] + "::";
        outsideV6 = network + "2";
        Shell.need(
                "bash",
                "-c",
                ("ip -n %1$s addr add %2$s/128 dev lo && ip -n %1$s addr add %3$s/64 dev %1$s-i nodad"
                                + " && ip addr add %4$s1/64 dev %1$s-o nodad")
                        .formatted(space, INSIDE_V6, outsideV6, network));
        Path key = Files.writeString(folder.resolve("gateway.key"), text(gateway) + "\n");
        Shell.need(
                "ip",
                "netns",
                "exec",
                space,
                "bash",
                "-c",
                ("wireguard-go %1$s >%4$s/wg.log 2>&1 && wg set %1$s private-key %2$s listen-port %3$d && ip addr add "
                                + GATEWAY
                                + "/24 dev %1$s && ip addr add fd00:96::1/64 dev %1$s nodad && ip link set %1$s up")
                        .formatted(device, key, PORT, folder));
    }

    static boolean able() {
        return Shell.has("wireguard-go") && Shell.has("wg") && ableToMakeSpaces();
    }

    static String text(TunnelKeyPair pair) {
        return java.util.Base64.getEncoder().encodeToString(pair.privateKey().reveal(RevealSecret.TO_WRITE_FILE));
    }

    /** Lets a client in, with the addresses that it may use. */
    void admit(TunnelKeyPair client, Optional<String> presharedKey, String addresses) throws IOException {
        List<String> words = new ArrayList<>(List.of(
                "ip",
                "netns",
                "exec",
                space,
                "wg",
                "set",
                device,
                "peer",
                client.publicKey().toString(),
                "allowed-ips",
                addresses));
        if (presharedKey.isPresent()) {
            Path file = Files.writeString(folder.resolve("psk"), presharedKey.get() + "\n");
            words.addAll(List.of("preshared-key", file.toString()));
        }
        Shell.need(words.toArray(String[]::new));
    }

    /** Until the device in user space carries packets: right after its start it may not. */
    void awaitDevice() {
        Shell.until(
                "the device to be up",
                Duration.ofSeconds(10),
                () -> Shell.run("ip", "-n", space, "link", "show", device).out().contains("LOWER_UP"));
    }

    @Override
    public void close() {
        Shell.run("bash", "-c", "for p in $(ip netns pids " + space + "); do kill $p; done");
        remove();
    }
}
