package tender.standins.router;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.PublicKey;
import java.time.Instant;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.file.virtualfs.VirtualFileSystemFactory;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.sftp.server.SftpSubsystemFactory;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.core.wireguard.StatusDump;

/**
 * A router on loopback. Its folder holds {@code general.conf} and {@code tunnels/NAME.conf}; a changed file takes no
 * effect until the {@code reload} command. Commands over SSH: {@code reload}, {@code status}, {@code clock}.
 */
public final class Router implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Router.class);

    /** Where a router lives and listens; a port of 0 takes a free one. */
    public record Place(
            Path folder,
            Path hostKey,
            String address,
            int sshPort,
            String user,
            PublicKey admits,
            Set<IpAddress> insideHosts) {}

    private final Place place;
    private final SshServer ssh;
    private final Faults faults = new Faults();
    private final Map<String, Tunnel> tunnels = new LinkedHashMap<>();
    private final AtomicInteger reloads = new AtomicInteger();

    private Router(Place place) {
        this.place = place;
        this.ssh = SshServer.setUpDefaultServer();
    }

    public static Router start(Place place) throws IOException {
        Router router = new Router(place);
        router.takeUpFiles();
        router.startSsh();
        return router;
    }

    private void startSsh() throws IOException {
        SimpleGeneratorHostKeyProvider hostKeys = new SimpleGeneratorHostKeyProvider(place.hostKey());
        hostKeys.setAlgorithm(KeyUtils.EC_ALGORITHM);
        hostKeys.setKeySize(256);
        ssh.setHost(place.address());
        ssh.setPort(place.sshPort());
        ssh.setKeyPairProvider(hostKeys);
        ssh.setPublickeyAuthenticator((user, key, session) -> {
            faults.beforeOperation.accept("connect");
            return user.equals(place.user()) && KeyUtils.compareKeys(key, place.admits());
        });
        ssh.setPasswordAuthenticator(null);
        ssh.setFileSystemFactory(new VirtualFileSystemFactory(place.folder()));
        SftpSubsystemFactory sftp = new SftpSubsystemFactory();
        sftp.addSftpEventListener(new FileOperations(faults));
        ssh.setSubsystemFactories(List.of(sftp));
        ssh.setCommandFactory((channel, command) -> new Command(command, this::run));
        ssh.start();
    }

    public int sshPort() {
        return ssh.getPort();
    }

    public Faults faults() {
        return faults;
    }

    /** How often the files were taken up since the start, counting failures too. */
    public int reloads() {
        return reloads.get();
    }

    public synchronized int tunnelPort(String name) {
        return tunnels.get(name).port();
    }

    public Path folder() {
        return place.folder();
    }

    private Command.Outcome run(String command) {
        faults.beforeOperation.accept(command);
        return switch (command) {
            case "reload" -> reload();
            case "status" -> new Command.Outcome(0, status().print(), "");
            case "clock" -> new Command.Outcome(0, Instant.now() + "\n", "");
            default -> new Command.Outcome(127, "", "unknown command; there are: reload, status, clock\n");
        };
    }

    private Command.Outcome reload() {
        reloads.incrementAndGet();
        if (faults.reloadFails) {
            return new Command.Outcome(1, "", "reload failed: settings left as they were\n");
        }
        try {
            takeUpFiles();
            return new Command.Outcome(0, "", "");
        } catch (IOException | RuntimeException e) {
            LOG.warn("reload", e);
            return new Command.Outcome(1, "", "reload failed: a file cannot be read\n");
        }
    }

    private synchronized StatusDump status() {
        return new StatusDump(tunnels.values().stream().map(Tunnel::status).toList());
    }

    /** Reads all tunnel files before changing anything, so that a bad file leaves everything in force as it was. */
    private synchronized void takeUpFiles() throws IOException {
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
        for (Map.Entry<String, WireGuardFile> file : files.entrySet()) {
            tunnel(file.getKey(), file.getValue()).apply(file.getValue());
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
        ssh.stop(true);
        synchronized (this) {
            tunnels.values().forEach(Tunnel::close);
        }
    }
}
