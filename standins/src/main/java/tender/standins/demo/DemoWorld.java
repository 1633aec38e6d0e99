package tender.standins.demo;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.PublicKey;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import tender.core.network.IpAddress;
import tender.core.trial.Stun;
import tender.standins.device.SshDevice;
import tender.standins.firewall.Firewall;
import tender.standins.firewall.FirewallFolder;
import tender.standins.names.NameServer;
import tender.standins.nas.Nas;
import tender.standins.nas.NasFolder;
import tender.standins.outside.StunServer;
import tender.standins.router.Router;
import tender.standins.router.RouterFolder;

/**
 * Skerrivane Ferries' devices: pier two's sound router, and around it a head office, a workshop and two piers; looked after, or with
 * one of each thing that goes wrong in practice.
 */
public final class DemoWorld implements AutoCloseable {
    public static final String INSIDE_HOST = "10.20.4.20";
    public static final String FIREWALL_TOKEN = "orrin-api-token";
    static final String USER = "keeper";

    /**
     * Where the demo's stand-ins live and listen.
     *
     * @param range the first two parts of every loopback address, such as {@code 127.10}
     * @param sshPort the port of every device's SSH, each at its own address; 0 takes free ones
     * @param faults whether the offices around pier two have their faults
     * @param nameLearnsAfter how late the name server hears of pier one's new address; empty for never
     */
    public record Place(
            Path folder,
            String range,
            int sshPort,
            int gatewayApiPort,
            int tunnelPort,
            InetSocketAddress nameServer,
            boolean faults,
            Optional<Duration> nameLearnsAfter) {
        String at(String rest) {
            return range + "." + rest;
        }
    }

    private final Place place;
    private final NameServer names;
    private final Router pier2;
    private final Router pier1;
    private final Router pier3;
    private final Router front;
    private final Router spare;
    private final Nas nas;
    private final Firewall firewall;
    private final StunServer outside;

    private DemoWorld(Place place, PublicKey admits) throws IOException, GeneralSecurityException {
        this.place = place;
        Carried.layOut(place.folder().resolve("carried"));
        this.names = new NameServer(
                place.nameServer(),
                Map.of(
                        "pier2.skerrivane.example", IpAddress.parse(place.at("4.1")),
                        "pier1.skerrivane.example", IpAddress.parse(place.at(place.faults() ? "3.9" : "3.1")),
                        "pier3.skerrivane.example", IpAddress.parse(place.at("5.1")),
                        "slip.skerrivane.example", IpAddress.parse(place.at("2.1")),
                        "orrin.skerrivane.example", IpAddress.parse(place.at("0.1"))));
        this.pier2 = router("pier2", "4.1", admits, pier2(place), INSIDE_HOST, "10.20.4.30");
        this.pier1 = router(
                "pier1", "3.1", admits, place.faults() ? pier1(place) : sound(place, "pier1", 3, 1), "10.20.3.20");
        this.pier3 =
                router("pier3", "5.1", admits, place.faults() ? pier3() : sound(place, "pier3", 5, 2), "10.20.5.20");
        if (place.faults()) {
            pier3.faults().clockAhead = Duration.ofMinutes(-7);
        }
        this.front = router("slip-front", "2.1", admits, place.faults() ? front(place) : soundFront(place));
        this.spare = router("slip-spare", "2.7", admits, spare());
        Path nasFolder = place.folder().resolve("slip-nas");
        if (place.faults()) {
            NasFolder.layOut(nasFolder);
        } else {
            NasFolder.sound(nasFolder);
        }
        this.nas = Nas.start(new SshDevice.Place(
                nasFolder,
                place.folder().resolve("slip-nas-host-key"),
                place.at("2.5"),
                place.sshPort(),
                USER,
                admits));
        Path firewallFolder = place.folder().resolve("orrin-fw");
        if (place.faults()) {
            FirewallFolder.layOut(firewallFolder, place.at("0.1"), Instant.now());
        } else {
            FirewallFolder.sound(firewallFolder, place.at("0.1"), Instant.now());
        }
        this.firewall = Firewall.start(
                new Firewall.Place(firewallFolder, place.at("0.1"), place.gatewayApiPort(), FIREWALL_TOKEN));
        this.outside = new StunServer(new InetSocketAddress(place.at("9.9"), Stun.PORT));
    }

    private Router router(String name, String at, PublicKey admits, RouterFolder files, String... insideHosts)
            throws IOException {
        Path folder = place.folder().resolve(name);
        files.layOut(folder);
        return Router.start(new Router.Place(
                folder,
                place.folder().resolve(name + "-host-key"),
                place.at(at),
                place.sshPort(),
                USER,
                admits,
                Arrays.stream(insideHosts).map(IpAddress::parse).collect(Collectors.toSet()),
                Map.of(
                        IpAddress.parse("10.20.2.5"),
                        InetAddress.getByAddress(
                                IpAddress.parse(place.at("2.5")).toBytes()))));
    }

    /** A pier like pier two, on a line of its own. */
    private static RouterFolder sound(Place place, String name, int part, int portsLater) {
        return RouterFolder.sound(
                name,
                "10.20." + part + ".0/24",
                "10.20." + part + ".20",
                "fixed " + place.at(part + ".1") + " " + name + ".skerrivane.example",
                "10.99." + part + ".1/24",
                place.tunnelPort() + portsLater);
    }

    private static RouterFolder pier2(Place place) {
        return RouterFolder.sound(
                "pier2",
                "10.20.4.0/24",
                INSIDE_HOST,
                "fixed " + place.at("4.1") + " pier2.skerrivane.example",
                "10.99.4.1/24",
                place.tunnelPort());
    }

    /** Its address changed overnight and the name still leads to the old one. */
    private static RouterFolder pier1(Place place) {
        return RouterFolder.of("pier1")
                .general("release = 3.1.4")
                .general("zone = Etc/UTC")
                .general("network.office = 10.20.3.0/24")
                .general("inside-host = 10.20.3.20")
                .general("uplink = changing " + place.at("3.1") + " pier1.skerrivane.example")
                .rule("inside any > device any : any any : open  # management")
                .rule("outside any > device any : udp " + (place.tunnelPort() + 1) + " : open  # staff tunnel")
                .rule("inside any > network any : any any : open")
                .tunnel("wg0", "10.99.4.129/25", place.tunnelPort() + 1)
                .client("wg0", "ebba-phone", "10.99.4.240", "10.20.3.1:" + (place.tunnelPort() + 1), "10.20.3.0/24")
                .client("wg0", "night-watch", "10.99.4.241", "10.20.3.1:" + (place.tunnelPort() + 1), "0.0.0.0/0");
    }

    /** Behind the carrier's translation, open to everything, and its clock is off. */
    private static RouterFolder pier3() {
        return RouterFolder.of("pier3")
                .general("release = 3.2.1")
                .general("zone = Europe/Oslo")
                .general("network.office = 10.20.5.0/24")
                .general("inside-host = 10.20.5.20")
                .general("uplink = carrier-nat")
                .general("most-devices.wg0 = 1")
                .general("most-per-person.wg0 = 1")
                .rule("any any > device any : any any : open  # to be closed again")
                .rule("outside any > device any : udp 51830 : open  # staff tunnel")
                .rule("any any > network any : any any : open")
                .tunnel("wg0", "10.99.5.1/24", 51830);
    }

    /** The workshop's line: it passes the NAS's port on to a machine that was replaced. */
    private static RouterFolder front(Place place) {
        return RouterFolder.of("slip-front")
                .general("release = 3.2.1")
                .general("zone = Europe/Oslo")
                .general("network.workshop = 10.20.2.0/24")
                .general("uplink = fixed " + place.at("2.1") + " slip.skerrivane.example")
                .rule("inside any > device any : any any : open  # management")
                .rule("outside any > network 10.20.2.5/32 : udp any : open  # NAS")
                .rule("inside any > network any : any any : open")
                .forward("pass udp 1194 to 10.20.2.4 1194  # NAS")
                .forward("pass udp 500 to 10.20.2.5 500  # NAS")
                .forward("pass udp 4500 to 10.20.2.5 4500  # NAS")
                .forward("pass tcp 8080 to 10.20.2.5 8080  # its pages, for the weekend");
    }

    /** The same line as it should be; a forward for a weekend was left. */
    private static RouterFolder soundFront(Place place) {
        return RouterFolder.of("slip-front")
                .general("release = 3.2.1")
                .general("zone = Europe/Oslo")
                .general("network.workshop = 10.20.2.0/24")
                .general("uplink = fixed " + place.at("2.1") + " slip.skerrivane.example")
                .rule("inside any > device any : any any : open  # management")
                .rule("outside any > network 10.20.2.5/32 : udp any : open  # NAS")
                .rule("outside any > network 10.20.2.5/32 : tcp 8080 : open  # its pages, for the weekend")
                .rule("inside any > network any : any any : open")
                .forward("pass udp 1194 to 10.20.2.5 1194  # NAS")
                .forward("pass udp 500 to 10.20.2.5 500  # NAS")
                .forward("pass udp 4500 to 10.20.2.5 4500  # NAS")
                .forward("pass tcp 8080 to 10.20.2.5 8080  # its pages, for the weekend");
    }

    /** A device bought against bad days; it serves nobody yet. */
    private static RouterFolder spare() {
        return RouterFolder.of("slip-spare").general("release = 3.2.1").general("zone = Europe/Oslo");
    }

    /** Starts everything; threads are daemons, so the caller decides how long it runs. */
    public static DemoWorld start(Place place, PublicKey admits) throws IOException, GeneralSecurityException {
        DemoWorld world = new DemoWorld(place, admits);
        place.nameLearnsAfter().ifPresent(late -> {
            ScheduledExecutorService timer = Executors.newSingleThreadScheduledExecutor(task -> {
                Thread thread = new Thread(task, "name-server-learns");
                thread.setDaemon(true);
                return thread;
            });
            timer.schedule(world::nameLearns, late.toSeconds(), TimeUnit.SECONDS);
        });
        new ConnectedDevices(
                place.folder().resolve("connected"),
                place.range(),
                Map.of("orrin-fw", world.firewall.regulars(), "slip-nas", world.nas.regulars()));
        return world;
    }

    /** The name server hears of pier one's new address. */
    public void nameLearns() {
        names.put("pier1.skerrivane.example", IpAddress.parse(place.at("3.1")));
    }

    public NameServer names() {
        return names;
    }

    public Router pier2() {
        return pier2;
    }

    public Firewall firewall() {
        return firewall;
    }

    public Nas nas() {
        return nas;
    }

    /** SSH ports by the device's name. */
    public Map<String, Integer> sshPorts() {
        return Map.of(
                "pier2", pier2.sshPort(),
                "pier1", pier1.sshPort(),
                "pier3", pier3.sshPort(),
                "slip-front", front.sshPort(),
                "slip-spare", spare.sshPort(),
                "slip-nas", nas.sshPort());
    }

    /** Addresses by the device's name. */
    public Map<String, String> addresses() {
        return Map.of(
                "pier2", place.at("4.1"),
                "pier1", place.at("3.1"),
                "pier3", place.at("5.1"),
                "slip-front", place.at("2.1"),
                "slip-spare", place.at("2.7"),
                "slip-nas", place.at("2.5"),
                "orrin-fw", place.at("0.1"));
    }

    @Override
    public void close() throws IOException {
        for (Router router : new Router[] {pier1, pier2, pier3, front, spare}) {
            router.close();
        }
        nas.close();
        firewall.close();
        outside.close();
        names.close();
    }
}
