package tender.service;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import org.slf4j.LoggerFactory;
import tender.core.wire.MalformedException;
import tender.service.settings.Settings;
import tender.service.settings.SettingsException;
import tender.service.settings.SettingsReader;

/** Starts a node: {@code java -jar service.jar [SETTINGS-FILE]}. Runs until it is stopped. */
public final class Main {
    private Main() {}

    public static void main(String[] args) throws InterruptedException {
        try {
            Optional<Path> file = args.length == 0 ? Optional.empty() : Optional.of(Path.of(args[0]));
            Settings settings = SettingsReader.read(file, System.getenv());
            Optional<Service> service = Service.start(settings, Clock.systemUTC());
            if (service.isEmpty()) {
                fail("another instance uses the data folder " + settings.dataFolder()
                        + "; stop it first, or choose another folder");
            }
            Service running = service.get();
            Runtime.getRuntime().addShutdownHook(new Thread(() -> close(running)));
            Files.writeString(
                    settings.dataFolder().resolve("address"), running.url() + "\n" + running.staffUrl() + "\n");
            new CountDownLatch(1).await();
        } catch (SettingsException | MalformedException | IOException e) {
            fail(e.getMessage());
        }
    }

    private static void close(Service service) {
        try {
            service.close();
        } catch (IOException e) {
            LoggerFactory.getLogger(Main.class).warn("closing: {}", e.getMessage());
        }
    }

    private static void fail(String why) {
        System.err.println("tender: " + why);
        System.exit(1);
    }
}
