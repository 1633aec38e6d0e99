package tender.io.gateway;

import java.util.List;
import java.util.Optional;
import tender.core.backup.Snapshot;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.IpAddress;
import tender.core.office.Change;
import tender.core.office.Device;

/**
 * All that is to be written at a gateway in one go. Writing it again does no harm.
 *
 * @param settings settings to change; written first
 * @param peers peers of WireGuard listeners, listener by listener
 * @param lists files of revocation lists
 * @param put accounts of callers to be there with these passwords
 * @param drop names of accounts to be gone
 */
public record GatewayPlan(
        Optional<Settings> settings,
        List<ListenerPeers> peers,
        List<ListFile> lists,
        List<ManagementConnection.Account> put,
        List<String> drop) {
    public GatewayPlan {
        peers = List.copyOf(peers);
        lists = List.copyOf(lists);
        put = List.copyOf(put);
        drop = List.copyOf(drop);
    }

    /** A plan of settings alone. */
    public static GatewayPlan of(Settings settings) {
        return new GatewayPlan(Optional.of(settings), List.of(), List.of(), List.of(), List.of());
    }

    /** The parts of a plan that can fail each by itself. */
    public enum Part {
        SETTINGS,
        ACCOUNTS,
        PEERS,
        LISTS
    }

    /**
     * Changes of settings; refused if the configuration is no longer what was read.
     *
     * @param device what that configuration says
     */
    public record Settings(Snapshot read, Device device, List<Change> changes, Reload reload) {}

    /**
     * What has to start anew after the settings are written.
     *
     * @param everything the device reloads all that is written
     * @param listener one listener starts anew
     */
    public record Reload(boolean everything, Optional<String> listener) {
        public static final Reload NONE = new Reload(false, Optional.empty());
        public static final Reload EVERYTHING = new Reload(true, Optional.empty());

        public static Reload of(String listener) {
            return new Reload(false, Optional.of(listener));
        }
    }

    /** Peers to be there or to be gone in the file of one WireGuard listener. */
    public record ListenerPeers(String listener, List<Peer> peers) {}

    /**
     * A peer.
     *
     * @param present whether it is to be let in; label, preshared key and addresses count only then
     */
    public record Peer(
            TunnelKey key, boolean present, String label, Optional<Secret> presharedKey, List<IpAddress> addresses) {}

    /**
     * A file of revocation lists.
     *
     * @param expected what was read there; written only if it is that still
     */
    public record ListFile(String path, byte[] expected, byte[] content) {}
}
