package tender.service;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import org.slf4j.LoggerFactory;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.wire.MalformedException;
import tender.service.collect.StaffPage;
import tender.service.settings.Settings;
import tender.service.settings.SettingsException;
import tender.service.settings.SettingsReader;
import tender.store.jdbc.Db;

/**
 * Starts a node: {@code bin/tender-service [SETTINGS-FILE]}. Runs until it is stopped. With {@code --recover NAME} it gives
 * an account a first password again instead and takes its second factor off: for an owner who lost both and has nobody to ask.
 */
public final class Main {
    private Main() {}

    public static void main(String[] args) throws InterruptedException {
        try {
            boolean recover = args.length > 1 && args[0].equals("--recover");
            int at = recover ? 2 : 0;
            Optional<Path> file = args.length == at ? Optional.empty() : Optional.of(Path.of(args[at]));
            Settings settings = SettingsReader.read(file, System.getenv());
            settings.logFile().ifPresent(Logs::to);
            if (recover) {
                recover(settings, args[1]);
            } else if (settings.staffRun() == Settings.StaffRun.ONLY) {
                staffOnly(settings);
            } else {
                run(settings);
            }
        } catch (SettingsException | MalformedException | IOException e) {
            fail(e.getMessage());
        }
    }

    private static void run(Settings settings) throws IOException, InterruptedException {
        Optional<Service> service = Service.start(settings, Clock.systemUTC());
        if (service.isEmpty()) {
            fail("another instance uses the data folder " + settings.dataFolder()
                    + "; stop it first, or choose another folder");
        }
        Service running = service.get();
        Runtime.getRuntime().addShutdownHook(new Thread(() -> close(running)));
        Files.writeString(settings.dataFolder().resolve("address"), running.url() + "\n" + running.staffUrl() + "\n");
        new CountDownLatch(1).await();
    }

    /** The staff's page and nothing else: no master key, no gateways, a database user that can read no table. */
    private static void staffOnly(Settings settings) throws IOException, InterruptedException {
        Db db = Db.connect(Opened.place(settings.database()));
        StaffPage page = StaffPage.start(db, Clock.systemUTC(), settings, () -> {});
        Runtime.getRuntime().addShutdownHook(new Thread(page::close));
        Files.createDirectories(settings.dataFolder());
        Files.writeString(
                settings.dataFolder().resolve("address"), settings.staff().url(page.port()) + "\n");
        new CountDownLatch(1).await();
    }

    private static void recover(Settings settings, String name) throws IOException, InterruptedException {
        Optional<Secret> password = Service.recover(settings, name, Clock.systemUTC());
        if (password.isEmpty()) {
            fail("there is no account " + name + ", or Tender runs; stop it first");
        }
        System.out.println("first password of " + name + ", to be changed at the next sign-in: "
                + password.get().revealText(RevealSecret.TO_HAND_OUT));
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
