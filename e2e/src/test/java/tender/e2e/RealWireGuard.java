package tender.e2e;

import java.io.IOException;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import tender.core.credential.TunnelKeyPair;
import tender.standins.exported.ExportedFiles;

/**
 * A real wireguard-go server that lets one of the exported files in. The daemon's socket is here, on the port that the files call; its
 * device is in a namespace, so that replies came through the tunnel.
 */
final class RealWireGuard implements AutoCloseable {
    private final Path pid;
    private final Namespace inside;
    private final String device;

    /** @param third of the namespace's addresses, of its own for each test class */
    RealWireGuard(Path folder, int third, int port, ExportedFiles exported) throws IOException {
        this.pid = folder.resolve("wg.pid");
        this.inside =
                Namespace.make("tdr-m" + third + "-" + ProcessHandle.current().pid() % 1000, third);
        this.device = "tdrm" + third;
        TunnelKeyPair server = exported.wireGuard("pier2");
        Path config = Files.writeString(
                folder.resolve("wg.conf"),
                "[Interface]\nPrivateKey = " + ExportedFiles.text(server) + "\nListenPort = " + port
                        + "\n[Peer]\nPublicKey = " + exported.peer("gia.conf").publicKey()
                        + "\nAllowedIPs = 10.99.2.12/32\n");
        Shell.need(
                "bash",
                "-c",
                "{ wireguard-go -f %1$s >/dev/null 2>&1 & echo $! > %2$s; }; for i in $(seq 50); do wg show %1$s >/dev/null 2>&1 && break; sleep 0.1; done; wg setconf %1$s %3$s && ip link set %1$s netns %4$s && ip -n %4$s addr add 10.99.2.1/24 dev %1$s && ip -n %4$s link set %1$s up"
                        .formatted(device, pid, config, inside.name()));
    }

    static int freePort(String address) throws IOException {
        try (DatagramSocket socket = new DatagramSocket(new InetSocketAddress(InetAddress.getByName(address), 0))) {
            return socket.getLocalPort();
        }
    }

    /** Adds peers, as somebody at the device would. */
    void add(Path peers) {
        Shell.need("ip", "netns", "exec", inside.name(), "wg", "addconf", device, peers.toString());
    }

    void remove(String publicKey) {
        Shell.need("ip", "netns", "exec", inside.name(), "wg", "set", device, "peer", publicKey, "remove");
    }

    @Override
    public void close() {
        Shell.stop(pid);
        inside.close();
    }
}
