package tender.io.gateway;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.credential.TunnelKey;
import tender.core.device.DeviceFiles;
import tender.core.network.Cidr;
import tender.core.network.InterfaceAddress;
import tender.core.profile.ClientProfile;
import tender.core.profile.WireGuardFile;
import tender.core.wireguard.StatusDump;
import tender.io.gateway.GatewayPlan.Peer;

/**
 * Writes the peers of a WireGuard listener: the file is replaced whole, under the device's lock, and only if it is still what
 * was read; the device reloads; file and status both have to show every peer as wanted. Where the device refuses, the file
 * that was there comes back.
 */
final class PeerWriting {
    private final SshConnection connection;
    private final List<Peer> peers;
    private final String listener;
    private final String path;

    private PeerWriting(SshConnection connection, GatewayPlan.ListenerPeers wanted) {
        this.connection = connection;
        this.peers = wanted.peers();
        this.listener = wanted.listener();
        this.path = connection.tunnelFile(listener);
    }

    static Applied.Peers write(
            SshConnection connection, GatewayPlan.ListenerPeers wanted, ManagementConnection.Hold hold) {
        return new PeerWriting(connection, wanted).write(hold);
    }

    private Applied.Peers write(ManagementConnection.Hold hold) {
        try (SshFiles.Lock lock = connection.lock(path, hold)) {
            byte[] before = connection.read(path);
            byte[] after = bytes(changed(parse(before)));
            boolean differs = !Arrays.equals(before, after);
            if (differs) {
                lock.replace(before, after);
            }
            Optional<String> refusal = reload(differs);
            if (refusal.isPresent()) {
                lock.replace(after, differs ? before : bytes(withoutAdded(parse(after))));
            }
            return new Applied.Peers(listener, refusal, DeviceFiles.taken(parse(after)));
        }
    }

    /** One byte one character, so that bytes we do not understand come back as they were. */
    private static WireGuardFile parse(byte[] content) {
        return WireGuardFile.read(new String(content, StandardCharsets.ISO_8859_1))
                .file();
    }

    private static byte[] bytes(WireGuardFile file) {
        return file.text().getBytes(StandardCharsets.ISO_8859_1);
    }

    private WireGuardFile changed(WireGuardFile file) {
        WireGuardFile out = file;
        List<String> sections = new ArrayList<>();
        for (Peer peer : peers) {
            if (!peer.present()) {
                out = out.withoutPeer(peer.key());
            } else if (file.peer(peer.key()).isEmpty()) {
                sections.add(ClientProfile.gatewaySection(
                        peer.label(),
                        peer.key(),
                        peer.presharedKey(),
                        peer.addresses().stream().map(Cidr::host).toList()));
            }
        }
        return sections.isEmpty() ? out : out.withPeer(String.join("\n", sections));
    }

    private WireGuardFile withoutAdded(WireGuardFile file) {
        WireGuardFile out = file;
        for (Peer peer : peers) {
            out = peer.present() ? out.withoutPeer(peer.key()) : out;
        }
        return out;
    }

    /** Reloads where needed and compares file and status with what is wanted; gives why not, if not. */
    private Optional<String> reload(boolean differs) {
        if (differs || !isActive(connection.status())) {
            try {
                connection.reload(listener);
            } catch (GatewayFailure e) {
                if (e.kind() != GatewayFailure.Kind.COMMAND_FAILED) {
                    throw e;
                }
                return Optional.of(e.getMessage());
            }
        }
        WireGuardFile now = parse(connection.read(path));
        boolean written = changed(now).text().equals(now.text());
        return written && isActive(connection.status())
                ? Optional.empty()
                : Optional.of("the gateway reloaded, but does not show the change");
    }

    private boolean isActive(StatusDump status) {
        Optional<StatusDump.Interface> live = status.named(listener);
        if (live.isEmpty()) {
            return false;
        }
        Map<TunnelKey, StatusDump.Peer> there =
                live.get().peers().stream().collect(Collectors.toMap(StatusDump.Peer::publicKey, p -> p, (a, b) -> a));
        return peers.stream().allMatch(wanted -> {
            StatusDump.Peer peer = there.get(wanted.key());
            if (!wanted.present()) {
                return peer == null;
            }
            return peer != null
                    && peer.presharedKey().equals(wanted.presharedKey())
                    && peer.allowed().stream()
                            .map(InterfaceAddress::address)
                            .collect(Collectors.toSet())
                            .containsAll(wanted.addresses());
        });
    }
}
