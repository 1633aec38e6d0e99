package tender.io.gateway;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import tender.core.backup.Snapshot;
import tender.core.credential.Secret;
import tender.core.device.DeviceDescription;
import tender.core.office.Device;
import tender.core.wireguard.StatusDump;

/**
 * An open, signed-in connection to a gateway. Not for use by several threads. What the gateway is not capable of fails
 * with {@link GatewayFailure.Kind#NOT_CAPABLE}, every change of a read-only one with {@link
 * GatewayFailure.Kind#READ_ONLY}.
 */
public interface ManagementConnection extends AutoCloseable {
    Set<Capability> capabilities();

    /** All configuration. */
    Snapshot readAll();

    /** Client files that the device made itself, as it gives them. */
    default byte[] export() {
        throw new GatewayFailure(
                GatewayFailure.Kind.NOT_CAPABLE, "this gateway gives out no client files of its own", null);
    }

    /** Which descriptions fit the device; nothing is changed on it. */
    default List<Recognition> recognise(List<DeviceDescription> known) {
        throw new GatewayFailure(
                GatewayFailure.Kind.NOT_CAPABLE, "only a device that is managed over SSH can be recognised", null);
    }

    /** As of when what is read holds: now, unless it was carried here. */
    default Instant asOf(Instant now) {
        return now;
    }

    /** What the configuration just read says, with what is active. */
    Device device(Snapshot configuration, Instant now);

    /** Peers of WireGuard interfaces; empty where there are none. */
    StatusDump status();

    /** People connected to listeners that know them by name. */
    List<Connected> connected();

    /** The last lines of the log, oldest first, made printable. */
    List<String> log(int lines);

    Instant clock();

    /** The file of a WireGuard listener with its peers, as it stands. */
    byte[] tunnel(String listener);

    /** A file of revocation lists that a listener's settings name, as it stands; it may be outside of what is read otherwise. */
    byte[] revocationLists(String path);

    /**
     * Writes what a plan holds, without touching anything that it does not speak of. All parts are tried; what came of each is
     * in the answer.
     *
     * @param hold who writes; the gateway refuses one whose fence is lower than that of an earlier writer where it can
     */
    Applied apply(GatewayPlan plan, Hold hold);

    /** Makes the device reload what is written; whoever is connected stays so where the device can do that. */
    void reload();

    /**
     * Takes a change back without reloading: what differs between {@code before} and {@code after} becomes again what it was
     * before; all that was changed since then in other places stays.
     *
     * @param after what was there right after the change; what is there now where nobody knows
     */
    void undo(Snapshot before, Optional<Snapshot> after, Hold hold);

    /** Arms a rollback on the device to what is active now, after a time. */
    void arm(Duration after);

    /** Calls off what was armed. */
    void disarm();

    /** A request for a certificate (PKCS#10, RFC 2986), for a key that the device made for a listener. */
    default byte[] request(String listener) {
        throw new GatewayFailure(
                GatewayFailure.Kind.NOT_CAPABLE, "this gateway makes no request for a certificate", null);
    }

    @Override
    void close();

    /** Who writes: the installation, and a fence that only rises. */
    record Hold(String holder, long fence) {}

    /** A caller's account. */
    record Account(String name, Secret password) {}

    /** Somebody connected by name. */
    record Connected(
            String listener,
            String name,
            String endpoint,
            List<String> addresses,
            long received,
            long sent,
            Instant since) {}
}
