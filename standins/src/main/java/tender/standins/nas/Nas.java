package tender.standins.nas;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import tender.core.network.IpAddress;
import tender.core.profile.OpenVpnFile;
import tender.standins.device.Command;
import tender.standins.device.Faults;
import tender.standins.device.Journal;
import tender.standins.device.RollbackTimer;
import tender.standins.device.SshDevice;
import tender.standins.listener.Regulars;

/**
 * A storage device on loopback: its settings under {@code /etc}, OpenVPN's server file as OpenVPN documents it, commands of
 * its own over SSH. Reloading refuses a server file that cannot be read.
 */
public final class Nas implements AutoCloseable {
    private final Path folder;
    private final Faults faults = new Faults();
    private final Journal journal = new Journal();
    private final RollbackTimer rollback;
    private final ScheduledExecutorService clock = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "nas-status");
        thread.setDaemon(true);
        return thread;
    });
    private final NasPasswords passwords;
    private final NasListener listener;
    private final SshDevice ssh;

    private Nas(SshDevice.Place place) throws IOException {
        this.folder = place.folder();
        this.rollback = new RollbackTimer(folder, this, this::reload);
        this.passwords = new NasPasswords(folder);
        this.listener = new NasListener(
                folder,
                InetAddress.getByAddress(IpAddress.parse(place.address()).toBytes()),
                faults,
                journal);
        serve();
        clock.scheduleWithFixedDelay(this::writeStatus, 1, 1, TimeUnit.SECONDS);
        this.ssh = new SshDevice(place, faults, () -> true, this::run);
    }

    public static Nas start(SshDevice.Place place) throws IOException {
        return new Nas(place);
    }

    public Regulars regulars() {
        return listener.regulars();
    }

    public int sshPort() {
        return ssh.port();
    }

    public Faults faults() {
        return faults;
    }

    private Command.Outcome run(String command, InputStream input) throws IOException {
        String[] words = command.split(" ");
        if (!words[0].equals("vpnctl") || words.length < 2) {
            return new Command.Outcome(127, "", words[0] + ": not found\n");
        }
        return switch (words[1]) {
            case "reload", "restart" -> reload();
            case "time" ->
                new Command.Outcome(
                        0, Instant.now().plus(faults.clockAhead).truncatedTo(ChronoUnit.SECONDS) + "\n", "");
            case "set-time" -> {
                faults.clockAhead = Duration.between(Instant.now(), Instant.ofEpochSecond(Long.parseLong(words[2])));
                yield new Command.Outcome(0, "", "");
            }
            case "log" -> new Command.Outcome(0, journal.text(), "");
            case "accounts" -> {
                passwords.take(input);
                journal.say("accounts of callers set");
                serve();
                yield new Command.Outcome(0, "", "");
            }
            case "arm" -> arm(Long.parseLong(words[2]));
            case "disarm" -> {
                rollback.disarm();
                yield new Command.Outcome(0, "", "");
            }
            default ->
                new Command.Outcome(2, "", "vpnctl: reload, restart, time, set-time, log, accounts, arm, disarm\n");
        };
    }

    private Command.Outcome arm(long seconds) {
        try {
            rollback.arm(seconds);
            return new Command.Outcome(0, "", "");
        } catch (IOException e) {
            return new Command.Outcome(1, "", "cannot keep the files\n");
        }
    }

    /** As OpenVPN does it every few seconds; only where something changed. */
    private void writeStatus() {
        Path file = folder.resolve("var/log/openvpn.status");
        try {
            String now = listener.status();
            if (!now.equals(Files.readString(file))) {
                Path fresh = file.resolveSibling("openvpn.status.fresh");
                Files.writeString(fresh, now);
                Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
            }
        } catch (IOException e) {
            journal.say("the status cannot be written: " + e.getMessage());
        }
    }

    /** What cannot be served is said in the log, and is no reason for the device not to be there. */
    private void serve() {
        try {
            listener.reload(passwords.all());
        } catch (IOException | RuntimeException e) {
            journal.say("openvpn does not start: " + e.getMessage());
        }
    }

    private Command.Outcome reload() {
        try {
            OpenVpnFile.Reading reading = OpenVpnFile.read(Files.readString(folder.resolve("etc/vpn/openvpn.conf")));
            if (faults.reloadFails || !reading.problems().isEmpty()) {
                journal.say("reload refused");
                return new Command.Outcome(1, "", "refused: " + reading.problems() + "\n");
            }
            serve();
            journal.say("listeners reloaded");
            return new Command.Outcome(0, "", "");
        } catch (IOException e) {
            return new Command.Outcome(1, "", "openvpn.conf cannot be read\n");
        }
    }

    @Override
    public void close() throws IOException {
        ssh.close();
        clock.shutdownNow();
        listener.close();
        rollback.close();
    }
}
