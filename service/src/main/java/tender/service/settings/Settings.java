package tender.service.settings;

import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.io.alert.Mail;

/** All settings as values that need no further check. */
public record Settings(
        Path dataFolder,
        Database database,
        Web console,
        Web staff,
        StaffRun staffRun,
        Optional<Tls> tls,
        List<Cidr> trustedProxy,
        Optional<Path> masterKeyFile,
        List<String> masterKeyCommand,
        Optional<InetSocketAddress> resolver,
        List<Cidr> callableLocal,
        Duration watch,
        Duration nameLookups,
        Duration guard,
        Ways alerts,
        Optional<IpAddress> outside,
        boolean secondFactor,
        int passwordMemory,
        int custodyDays,
        Heads heads,
        Optional<InetSocketAddress> metrics,
        Optional<Path> logFile,
        int workers) {
    /** The database, who owns its tables where that is somebody else, and the user of a staff's page that runs apart. */
    public record Database(
            String url, String user, Secret password, Optional<Owner> owner, String staffUser, int connections) {}

    /** Who owns the tables. */
    public record Owner(String user, Secret password) {}

    /** Where the staff's page runs. */
    public enum StaffRun {
        HERE,
        APART,
        ONLY
    }

    /** Where the end of the journal's chain is written down, beside the database. */
    public record Heads(Optional<Path> file, Optional<InetSocketAddress> syslog, boolean mail) {}

    /** A web listener; the base URL is empty until the port is known where it was left to be made. */
    public record Web(IpAddress bind, int port, Optional<URI> baseUrl) {
        /** The base URL, made from the port taken where none is set. */
        public URI url(int takenPort) {
            String host = bind.isV4() ? bind.toString() : "[" + bind + "]";
            return baseUrl.orElse(URI.create("http://" + host + ":" + takenPort));
        }
    }

    /**
     * How word goes out.
     *
     * @param webhook called when something changed
     * @param mail takes mail from this machine
     * @param mailTo who gets mail when something changed; empty where nobody does
     */
    public record Ways(Optional<URI> webhook, Optional<Mail> mail, String mailTo) {
        /** The mail server, where somebody gets mail when something changed. */
        public Optional<Mail> wordByMail() {
            return mail.filter(m -> !mailTo.isEmpty());
        }
    }

    /** Certificate and key. */
    public record Tls(Path keystore, Secret password) {}
}
