package tender.standins.demo;

import java.io.IOException;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.network.IpAddress;
import tender.core.profile.WireGuardFile;
import tender.standins.caller.Caller;

/** Connects with every client file that is put into a folder, as staff do with what they collect. */
final class ConnectedDevices {
    private static final Logger LOG = LoggerFactory.getLogger(ConnectedDevices.class);

    private final Path folder;
    private final InetAddress gateway;
    private final IpAddress target;
    private final Set<Path> started = new TreeSet<>();
    private final ScheduledExecutorService timer = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "connected-devices");
        thread.setDaemon(true);
        return thread;
    });

    ConnectedDevices(Path folder, InetAddress gateway, IpAddress target) throws IOException {
        this.folder = Files.createDirectories(folder);
        this.gateway = gateway;
        this.target = target;
        timer.scheduleWithFixedDelay(this::look, 0, 1, TimeUnit.SECONDS);
    }

    private void look() {
        try (Stream<Path> files = Files.list(folder)) {
            List<Path> fresh = files.filter(f -> f.toString().endsWith(".conf") && !started.contains(f))
                    .toList();
            for (Path file : fresh) {
                started.add(file);
                new Caller(
                        WireGuardFile.read(Files.readString(file)).file(),
                        gateway,
                        target,
                        Duration.ofSeconds(5 + started.size()));
                LOG.info("{} is connected", file.getFileName());
            }
        } catch (IOException | RuntimeException e) {
            LOG.warn("connected devices: {}", e.getMessage());
        }
    }
}
