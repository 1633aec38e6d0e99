package tender.standins.office;

import java.io.IOException;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.util.Map;
import java.util.Set;
import tender.core.network.IpAddress;
import tender.standins.demo.AdminKey;
import tender.standins.names.NameServer;
import tender.standins.router.Router;
import tender.standins.router.RouterFolder;

/** A router called pier2 with one tunnel, an inside host that answers and a name server that knows the router. */
public final class SmallOffice implements AutoCloseable {
    public static final String NAME = "pier2.skerrivane.example";
    public static final String INSIDE_HOST = "10.20.4.20";
    public static final String GATEWAY_INSIDE = "10.99.4.1";
    public static final String USER = "keeper";

    private final Path folder;
    private final String address;
    private final int tunnelPort;
    private final NameServer names;
    private final Router router;

    private SmallOffice(Path folder, String address, int tunnelPort, NameServer names)
            throws IOException, GeneralSecurityException {
        this.folder = folder;
        this.address = address;
        this.tunnelPort = tunnelPort;
        this.names = names;
        this.router = Router.start(new Router.Place(
                folder.resolve("pier2"),
                folder.resolve("host-key"),
                address,
                0,
                USER,
                AdminKey.at(keyFile()),
                Set.of(IpAddress.parse(INSIDE_HOST))));
    }

    /** @param address a loopback address of the router's own, such as 127.10.77.1 */
    public static SmallOffice start(Path folder, String address) throws IOException, GeneralSecurityException {
        return start(folder, address, 24);
    }

    /** @param tunnelBits length of the tunnel network's prefix, for more devices than usual */
    public static SmallOffice start(Path folder, String address, int tunnelBits)
            throws IOException, GeneralSecurityException {
        int port;
        InetAddress inet = InetAddress.getByAddress(IpAddress.parse(address).toBytes());
        try (DatagramSocket free = new DatagramSocket(new InetSocketAddress(inet, 0))) {
            port = free.getLocalPort();
        }
        NameServer names = new NameServer(
                new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), Map.of(NAME, IpAddress.parse(address)));
        RouterFolder.sound(
                        "pier2",
                        "10.20.4.0/24",
                        INSIDE_HOST,
                        "fixed " + address + " " + NAME,
                        GATEWAY_INSIDE + "/" + tunnelBits,
                        port)
                .layOut(folder.resolve("pier2"));
        return new SmallOffice(folder, address, port, names);
    }

    public Router router() {
        return router;
    }

    public NameServer names() {
        return names;
    }

    public InetSocketAddress resolver() {
        return new InetSocketAddress(InetAddress.getLoopbackAddress(), names.port());
    }

    public String address() {
        return address;
    }

    public int tunnelPort() {
        return tunnelPort;
    }

    public Path keyFile() {
        return folder.resolve("keeper-key");
    }

    /** The private key that signs in to the router, in OpenSSH's form. */
    public String key() throws IOException {
        return Files.readString(keyFile());
    }

    public Path tunnelFile() {
        return folder.resolve("pier2/tunnels/wg0.conf");
    }

    @Override
    public void close() throws IOException {
        router.close();
        names.close();
    }
}
