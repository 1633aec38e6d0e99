package tender.service.profile;

import java.util.List;
import java.util.Optional;
import java.util.UUID;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.store.office.Listeners;
import tender.store.profile.ProfileOrigin;

/**
 * Everything decided about a profile before it is written.
 *
 * @param deviceName the device's; the listener's for a canary
 * @param madeOnDevice the public key of a pair whose private half stays on the device
 */
record ProfilePlan(
        Optional<UUID> deviceId,
        String label,
        ProfileOrigin origin,
        String who,
        String deviceName,
        Listeners.Listener listener,
        Optional<TunnelKey> madeOnDevice,
        List<Cidr> reach,
        boolean fullTunnel,
        List<IpAddress> dns,
        boolean takesPushed) {
    Given given() {
        return new Given(reach, dns, takesPushed);
    }
}
