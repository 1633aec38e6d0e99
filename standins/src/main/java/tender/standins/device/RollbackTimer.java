package tender.standins.device;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Brings back a folder's files as they were when it was armed, after a time, unless it is called off. */
public final class RollbackTimer implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(RollbackTimer.class);

    private static final String COMING = ".coming-back";

    private final Path folder;
    private final Object guard;
    private final Runnable reload;
    private final ScheduledExecutorService timer = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "rollback");
        thread.setDaemon(true);
        return thread;
    });
    private ScheduledFuture<?> armed;

    /**
     * @param guard held while files come back; whoever else writes the folder holds it too
     * @param reload puts active what the files say
     */
    public RollbackTimer(Path folder, Object guard, Runnable reload) {
        this.folder = folder;
        this.guard = guard;
        this.reload = reload;
    }

    public synchronized void arm(long seconds) throws IOException {
        disarm();
        Map<Path, byte[]> then = files();
        armed = timer.schedule(() -> comeBack(then), seconds, TimeUnit.SECONDS);
    }

    public synchronized void disarm() {
        if (armed != null) {
            armed.cancel(false);
            armed = null;
        }
    }

    public synchronized boolean isArmed() {
        return armed != null && !armed.isDone();
    }

    private Map<Path, byte[]> files() throws IOException {
        Map<Path, byte[]> out = new TreeMap<>();
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path file : all.filter(Files::isRegularFile).toList()) {
                if (!file.toString().endsWith(".lock")) {
                    out.put(file, Files.readAllBytes(file));
                }
            }
        }
        return out;
    }

    private void comeBack(Map<Path, byte[]> then) {
        synchronized (guard) {
            bringBack(then);
        }
    }

    private void bringBack(Map<Path, byte[]> then) {
        try {
            for (Path file : files().keySet()) {
                if (!then.containsKey(file)) {
                    Files.delete(file);
                }
            }
            for (Map.Entry<Path, byte[]> file : then.entrySet()) {
                replace(file.getKey(), file.getValue());
            }
            reload.run();
            LOG.info("came back to what was active");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Nobody who reads meanwhile sees half a file. */
    private static void replace(Path file, byte[] content) throws IOException {
        if (Files.exists(file) && Arrays.equals(Files.readAllBytes(file), content)) {
            return;
        }
        Path fresh = file.resolveSibling(file.getFileName() + COMING);
        Files.write(fresh, content);
        if (Files.exists(file)) {
            Files.setPosixFilePermissions(fresh, Files.getPosixFilePermissions(file));
        }
        Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    @Override
    public void close() {
        timer.shutdownNow();
    }
}
