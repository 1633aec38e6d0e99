package tender.standins.demo;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.security.PublicKey;
import java.util.Map;
import java.util.Set;
import tender.core.network.IpAddress;
import tender.standins.names.NameServer;
import tender.standins.router.Router;
import tender.standins.router.RouterFolder;

/** Skerrivane Ferries' pier two: its router, the name server that knows it, and whoever is connected. */
public final class DemoWorld {
    static final String INSIDE_HOST = "10.20.4.20";

    /** Where the demo's stand-ins live and listen. */
    public record Place(Path folder, String routerAddress, int sshPort, int tunnelPort, InetSocketAddress nameServer) {}

    private DemoWorld() {}

    /** Starts everything; threads are daemons, so the caller decides how long it runs. */
    public static void start(Place place, PublicKey admits) throws IOException {
        IpAddress router = IpAddress.parse(place.routerAddress());
        new NameServer(place.nameServer(), Map.of("pier2.skerrivane.example", router));
        Path files = place.folder().resolve("pier2");
        new RouterFolder(
                        "pier2",
                        "10.20.4.0/24",
                        INSIDE_HOST,
                        "pier2.skerrivane.example",
                        "10.99.4.1/24",
                        place.tunnelPort())
                .layOut(files);
        Router.start(new Router.Place(
                files,
                place.folder().resolve("pier2-host-key"),
                place.routerAddress(),
                place.sshPort(),
                "keeper",
                admits,
                Set.of(IpAddress.parse(INSIDE_HOST), IpAddress.parse("10.20.4.30"))));
        new ConnectedDevices(
                place.folder().resolve("connected"),
                InetAddress.getByAddress(router.toBytes()),
                IpAddress.parse(INSIDE_HOST));
    }
}
