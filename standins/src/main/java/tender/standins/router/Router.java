package tender.standins.router;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.PublicKey;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.device.LineTemplate;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.Protocol.PortSpec;
import tender.core.profile.WireGuardFile;
import tender.core.wireguard.StatusDump;
import tender.standins.device.Command;
import tender.standins.device.DeviceFilter;
import tender.standins.device.Faults;
import tender.standins.device.Journal;
import tender.standins.device.RollbackTimer;
import tender.standins.device.SshDevice;

/**
 * A router on loopback. Its folder holds {@code general.conf}, {@code filter.rules}, {@code forwards} and {@code
 * tunnels/NAME.conf}; a changed file takes no effect until the {@code reload} command. The filter counts: callers and
 * administrators that it denies get no answer.
 */
public final class Router implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Router.class);

    /**
     * Where a router lives and listens; a port of 0 takes a free one.
     *
     * @param behind where machines of the inside really are, by their inside address
     */
    public record Place(
            Path folder,
            Path hostKey,
            String address,
            int sshPort,
            String user,
            PublicKey admits,
            Set<IpAddress> insideHosts,
            Map<IpAddress, InetAddress> behind) {
        public Place(
                Path folder,
                Path hostKey,
                String address,
                int sshPort,
                String user,
                PublicKey admits,
                Set<IpAddress> insideHosts) {
            this(folder, hostKey, address, sshPort, user, admits, insideHosts, Map.of());
        }
    }

    private static final String FILTER = "filter.rules";
    private static final LineTemplate FORWARD = LineTemplate.parse("pass {transport} {port} to {to} {to-port}");

    private final Place place;
    private final Faults faults = new Faults();
    private final Journal journal = new Journal();
    private final Map<String, Tunnel> tunnels = new LinkedHashMap<>();
    private final List<Relay> relays = new ArrayList<>();
    private final AtomicInteger reloads = new AtomicInteger();
    private final RollbackTimer rollback;
    private volatile Filter filter = Filter.OPEN;
    private SshDevice ssh;

    private Router(Place place) {
        this.place = place;
        this.rollback = new RollbackTimer(place.folder(), this, this::reload);
    }

    public static Router start(Place place) throws IOException {
        Router router = new Router(place);
        router.reloadFiles();
        router.ssh = new SshDevice(
                new SshDevice.Place(
                        place.folder(),
                        place.hostKey(),
                        place.address(),
                        place.sshPort(),
                        place.user(),
                        place.admits()),
                router.faults,
                () -> DeviceFilter.admitsManagement(router.filter),
                (words, input) -> router.run(words));
        return router;
    }

    public int sshPort() {
        return ssh.port();
    }

    public Faults faults() {
        return faults;
    }

    /** How often the files were reloaded since the start, counting failures too. */
    public int reloads() {
        return reloads.get();
    }

    public boolean isRollbackArmed() {
        return rollback.isArmed();
    }

    public synchronized int tunnelPort(String name) {
        return tunnels.get(name).port();
    }

    public Path folder() {
        return place.folder();
    }

    private Command.Outcome run(String command) {
        String[] words = command.split(" ");
        return switch (words[0]) {
            case "reload" -> reload();
            case "status" -> new Command.Outcome(0, status().print(), "");
            case "clock" -> new Command.Outcome(0, Instant.now().plus(faults.clockAhead) + "\n", "");
            case "set-clock" -> setClock(words[1]);
            case "log" -> new Command.Outcome(0, journal.text(), "");
            case "arm" -> arm(Long.parseLong(words[1]));
            case "disarm" -> {
                rollback.disarm();
                yield new Command.Outcome(0, "", "");
            }
            default ->
                new Command.Outcome(
                        127, "", "unknown command; there are: reload, status, clock, set-clock, log, arm, disarm\n");
        };
    }

    private Command.Outcome setClock(String time) {
        faults.clockAhead = Duration.between(Instant.now(), Instant.parse(time));
        journal.say("clock set");
        return new Command.Outcome(0, "", "");
    }

    private Command.Outcome arm(long seconds) {
        try {
            rollback.arm(seconds);
            journal.say("rollback armed for " + seconds + " s");
            return new Command.Outcome(0, "", "");
        } catch (IOException e) {
            return new Command.Outcome(1, "", "the files cannot be kept\n");
        }
    }

    private Command.Outcome reload() {
        reloads.incrementAndGet();
        if (faults.reloadFails) {
            journal.say("reload failed");
            return new Command.Outcome(1, "", "reload failed: settings left as they were\n");
        }
        try {
            reloadFiles();
            journal.say("files reloaded");
            return new Command.Outcome(0, "", "");
        } catch (IOException | RuntimeException e) {
            LOG.warn("reload", e);
            return new Command.Outcome(1, "", "reload failed: a file cannot be read\n");
        }
    }

    private synchronized StatusDump status() {
        return new StatusDump(tunnels.values().stream().map(Tunnel::status).toList());
    }

    /** Reads all tunnel files before changing anything, so that a bad file leaves everything active as it was. */
    private synchronized void reloadFiles() throws IOException {
        Map<String, WireGuardFile> files = new LinkedHashMap<>();
        try (Stream<Path> listed = Files.list(place.folder().resolve("tunnels"))) {
            for (Path path :
                    listed.filter(p -> p.toString().endsWith(".conf")).sorted().toList()) {
                String name = path.getFileName().toString().replace(".conf", "");
                WireGuardFile.Reading reading = WireGuardFile.read(Files.readString(path, StandardCharsets.UTF_8));
                if (!reading.problems().isEmpty()) {
                    throw new IOException(name + ": " + reading.problems().get(0));
                }
                files.put(name, reading.file());
            }
        }
        for (String gone : new HashSet<>(tunnels.keySet())) {
            if (!files.containsKey(gone)) {
                tunnels.remove(gone).close();
            }
        }
        Path rules = place.folder().resolve(FILTER);
        filter = Files.exists(rules) ? DeviceFilter.parse(Files.readString(rules)) : Filter.OPEN;
        for (Map.Entry<String, WireGuardFile> file : files.entrySet()) {
            Tunnel tunnel = tunnel(file.getKey(), file.getValue());
            tunnel.apply(file.getValue());
            tunnel.admit(DeviceFilter.admits(
                    filter,
                    new PortSpec(
                            Transport.UDP,
                            file.getValue().own().orElseThrow().listenPort().orElseThrow())));
        }
        forwards();
        if (ssh != null) {
            ssh.enforce();
        }
    }

    /** Datagrams are carried to machines that are there; others are lost, as in a house where nobody lives. */
    private void forwards() throws IOException {
        relays.forEach(Relay::close);
        relays.clear();
        Path file = place.folder().resolve("forwards");
        for (String line : Files.exists(file) ? Files.readAllLines(file) : List.<String>of()) {
            Optional<Map<String, String>> read =
                    FORWARD.match(line).filter(f -> f.get("transport").equals("udp"));
            if (read.isEmpty()) {
                continue;
            }
            Map<String, String> f = read.get();
            IpAddress to = IpAddress.parse(f.get("to"));
            int port = Integer.parseInt(f.get("to-port"));
            InetAddress there = place.behind().get(to);
            boolean passes = filter.decide(FilterRule.Packet.through(new PortSpec(Transport.UDP, new Port(port)), to))
                    .allow();
            if (there != null && passes) {
                try {
                    relays.add(new Relay(
                            new InetSocketAddress(place.address(), Integer.parseInt(f.get("port"))),
                            new InetSocketAddress(there, port)));
                } catch (IOException e) {
                    journal.say("forward of udp " + f.get("port") + " does not start: " + e.getMessage());
                }
            }
        }
    }

    private Tunnel tunnel(String name, WireGuardFile file) throws IOException {
        int port = file.own().orElseThrow().listenPort().orElseThrow().number();
        Tunnel running = tunnels.get(name);
        if (running != null && running.port() != port) {
            tunnels.remove(name).close();
            running = null;
        }
        if (running == null) {
            running = new Tunnel(name, new InetSocketAddress(place.address(), port), place.insideHosts(), faults);
            tunnels.put(name, running);
        }
        return running;
    }

    @Override
    public void close() throws IOException {
        ssh.close();
        rollback.close();
        synchronized (this) {
            tunnels.values().forEach(Tunnel::close);
            relays.forEach(Relay::close);
        }
    }
}
