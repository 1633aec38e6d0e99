package tender.io.gateway;

import java.util.Optional;
import tender.core.credential.Secret;
import tender.core.device.DeviceDescription;
import tender.core.network.Host;
import tender.core.network.Port;

/**
 * A device to be managed: where it is, as whom to sign in, the identity it must show, and what kind of box it is.
 *
 * @param secret a private key for SSH, a token for the bridge interface
 * @param readOnly whether every change is refused
 */
public record Target(
        Host host,
        Port port,
        String user,
        Secret secret,
        Optional<String> identity,
        DeviceDescription description,
        boolean readOnly) {}
