package tender.e2e;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import tender.standins.exported.ExportedFiles;

/** Debian's openvpn as a server in a namespace, with the server's end of files that a device exported. */
final class RealOpenVpn implements AutoCloseable {
    private final Path pid;
    private final Namespace namespace;

    /**
     * @param settings lines of its configuration beside the usual ones
     */
    RealOpenVpn(Path folder, Namespace namespace, int port, ExportedFiles.OpenVpnEnd end, String settings)
            throws IOException {
        this.pid = folder.resolve("openvpn.pid");
        this.namespace = namespace;
        Path config = Files.writeString(
                folder.resolve("server.conf"),
                "dev tun\nlocal " + namespace.inside() + "\nport " + port
                        + "\ntopology subnet\ndh none\ndata-ciphers AES-256-GCM\nauth SHA256\n" + settings
                        + ExportedFiles.block("ca", end.authority())
                        + ExportedFiles.block("cert", end.certificate())
                        + ExportedFiles.block("key", end.key()));
        Shell.need(
                "ip",
                "netns",
                "exec",
                namespace.name(),
                "openvpn",
                "--config",
                config.toString(),
                "--daemon",
                "--writepid",
                pid.toString(),
                "--log",
                folder.resolve("openvpn.log").toString());
    }

    @Override
    public void close() {
        Shell.stop(pid);
        namespace.close();
    }
}
