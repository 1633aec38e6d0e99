package tender.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.credential.Secret;

/** Sites, gateways and listeners. */
public final class OfficeApi {
    public record AddSite(
            String name,
            Optional<String> title,
            Optional<String> domain,
            Optional<String> timeZone,
            Optional<Map<String, String>> networks) {}

    public record Site(
            String id,
            String name,
            String title,
            String domain,
            String timeZone,
            Map<String, String> networks,
            int version) {}

    /**
     * @param site where it stands; missing, the only site, which is created where there is none
     * @param connector ssh, https, file or manual (people manage it); ssh where missing
     * @param description the kind of device, for ssh and file; plain-router where missing
     * @param key a private SSH key in OpenSSH's or PEM form, or the token of a gateway API
     * @param passphrase of the SSH key, where it has one; the key is kept without it, encrypted
     * @param password to sign in with over SSH in place of a key; answers keyboard-interactive, too
     * @param jump the gateway, managed over SSH, through which this one is reached
     * @param identity the fingerprint of one of its host keys, as read on the device; it is accepted at once where the device has it
     * @param endpoint hosts clients call, in order, parted by commas
     */
    public record AddGateway(
            String name,
            Optional<String> site,
            Optional<String> kind,
            String address,
            Optional<Integer> port,
            String user,
            Optional<Secret> key,
            Optional<Secret> passphrase,
            Optional<Secret> password,
            Optional<String> jump,
            Optional<String> identity,
            Optional<String> insideHost,
            Optional<String> endpoint,
            Optional<String> connector,
            Optional<String> description,
            Optional<Boolean> readOnly) {}

    /**
     * What a listener of a gateway managed by hand is set to.
     *
     * @param settings to change, by word; an empty text removes what was known
     */
    public record EnterListener(Map<String, String> settings) {}

    public record Gateway(
            String id,
            String name,
            String site,
            String kind,
            String make,
            String model,
            String release,
            String connector,
            List<String> capabilities,
            String address,
            int port,
            String user,
            String signIn,
            Optional<String> jump,
            String identity,
            boolean identityAccepted,
            Optional<String> insideHost,
            List<String> hosts,
            List<String> uplinks,
            String factory,
            String description,
            boolean readOnly,
            Optional<String> contact,
            Optional<Instant> readAt,
            Optional<String> readProblem,
            Optional<NewestBackup> newestBackup,
            List<Listener> listeners,
            FindingCounts findings,
            Use use,
            Instant createdAt,
            int version) {}

    /** How many findings that nobody accepted concern a gateway. */
    public record FindingCounts(int errors, int warnings, int notices) {}

    /**
     * How much a gateway is used.
     *
     * @param profiles that are not withdrawn
     * @param people who have one of them
     * @param connected sessions that have not ended
     * @param toDo what somebody has to do there by hand
     */
    public record Use(int profiles, int people, int connected, int toDo) {}

    public record NewestBackup(String id, int number, Instant takenAt) {}

    public record Listener(
            String id,
            String name,
            String protocol,
            String transport,
            int port,
            String publicKey,
            List<String> tunnels,
            Optional<String> insideAddress,
            Optional<String> endpoint,
            boolean active,
            boolean gone,
            int peers) {}

    /** {@code identity} repeats the fingerprint that was compared on the device. */
    public record AcceptIdentity(String identity) {}

    /**
     * A missing field leaves what is there. Where address, port, user or what is signed in with changes, the sign-in is tried before
     * it is kept.
     *
     * @param name what it is called from now on; what was issued and handed out keeps its labels and works on
     * @param password or {@code key}: in place of what is signed in with now
     * @param jump a gateway's name; empty: it is reached directly again
     * @param identity the fingerprint of one of its host keys, as read on the device, after they changed
     */
    public record SetGateway(
            Optional<String> name,
            Optional<String> kind,
            Optional<String> address,
            Optional<Integer> port,
            Optional<String> user,
            Optional<Secret> key,
            Optional<Secret> passphrase,
            Optional<Secret> password,
            Optional<String> jump,
            Optional<String> identity,
            Optional<String> insideHost,
            Optional<String> endpoint,
            Optional<List<String>> uplinks,
            Optional<String> factory,
            Optional<Boolean> readOnly,
            Optional<String> contact,
            Optional<String> description,
            Optional<String> joinedWith) {}

    public record ReadAll(List<ReadJob> jobs) {}

    public record ReadJob(String gateway, String jobId) {}

    /** Texts by their absolute path on the device. */
    /** Files by their path on the device, and when they were copied there; now where missing. */
    public record DropFiles(Map<String, String> files, Optional<Instant> taken) {}

    /** What is missing stays; networks to put, by name, and names of networks to drop. */
    public record SetSite(
            Optional<String> name,
            Optional<String> title,
            Optional<String> timeZone,
            Optional<Map<String, String>> networks,
            Optional<List<String>> drop) {}

    /**
     * A kind of device.
     *
     * @param approved false for one of the company's own that no owner has approved as it is now
     * @param files that are read, and written where it can
     * @param commands that are run, each after what it is for
     * @param can what Tender can do on such a device, such as read or change
     */
    public record Description(
            String name,
            String title,
            boolean shipped,
            String digest,
            boolean approved,
            List<String> files,
            List<String> commands,
            List<String> can) {}

    public record PutDescription(String text) {}

    /** @param gateway its name */
    public record CheckDescription(String gateway) {}

    /** Repeats the digest of the text that was read. */
    public record ApproveDescription(String digest) {}

    /**
     * Whether a device description fits a device, as far as can be seen without changing it.
     *
     * @param found paths of files and commands that are there
     * @param missing those that are not
     */
    public record Recognition(
            String description, String title, boolean fits, List<String> found, List<String> missing) {}

    /**
     * What a device looks like.
     *
     * @param proposed the name of all descriptions that fit together, as a gateway's description takes it; empty where none fits
     */
    public record Recognised(String proposed, List<Recognition> descriptions) {}

    private OfficeApi() {}
}
