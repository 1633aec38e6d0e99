package tender.standins.demo;

import java.io.IOException;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
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
import tender.core.trial.Question;
import tender.standins.caller.Caller;
import tender.standins.listener.Regulars;

/**
 * Connects with every client file that is put into a folder, as staff do with what they collect. A WireGuard file calls for real;
 * a file {@code NAME.regular} holds {@code GATEWAY LISTENER NAME ADDRESS} of somebody who counts as connected there.
 */
final class ConnectedDevices {
    private static final Logger LOG = LoggerFactory.getLogger(ConnectedDevices.class);
    /** The third part of a pier's addresses by its name; what is called by another name is pier two's. */
    private static final Map<String, Integer> PIERS = Map.of("pier1", 3, "pier2", 4, "pier3", 5);

    private final Path folder;
    private final String range;
    private final Map<String, Regulars> regulars;
    private final Set<Path> started = new TreeSet<>();
    private final ScheduledExecutorService timer = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "connected-devices");
        thread.setDaemon(true);
        return thread;
    });

    /** @param range the first two parts of the piers' addresses */
    ConnectedDevices(Path folder, String range, Map<String, Regulars> regulars) throws IOException {
        this.folder = Files.createDirectories(folder);
        this.range = range;
        this.regulars = Map.copyOf(regulars);
        timer.scheduleWithFixedDelay(this::look, 0, 1, TimeUnit.SECONDS);
    }

    private void look() {
        try (Stream<Path> files = Files.list(folder)) {
            List<Path> fresh = files.filter(f -> f.toString().matches(".*\\.(conf|regular)") && !started.contains(f))
                    .toList();
            for (Path file : fresh) {
                started.add(file);
                if (file.toString().endsWith(".conf")) {
                    call(WireGuardFile.read(Files.readString(file)).file());
                } else {
                    String[] words = Files.readString(file).strip().split(" ");
                    String from = "198.51.100." + (100 + started.size()) + ":" + (40_000 + 7 * started.size());
                    regulars.get(words[0]).add(words[1], words[2], from, words[3], 900 + 300 * started.size());
                }
                LOG.info("{} is connected", file.getFileName());
            }
        } catch (IOException | RuntimeException e) {
            LOG.warn("connected devices: {}", e.getMessage());
        }
    }

    private void call(WireGuardFile file) throws IOException {
        String host = Question.of(file, java.util.Optional.empty(), java.util.Optional.empty())
                .endpoint()
                .host()
                .toString();
        int pier = PIERS.getOrDefault(host.split("\\.")[0], PIERS.get("pier2"));
        new Caller(
                file,
                InetAddress.getByAddress(
                        IpAddress.parse(range + "." + pier + ".1").toBytes()),
                IpAddress.parse("10.20." + pier + ".20"),
                Duration.ofSeconds(5 + started.size()));
    }
}
