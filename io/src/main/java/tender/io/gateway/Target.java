package tender.io.gateway;

import java.util.Optional;
import tender.core.device.DeviceDescription;
import tender.core.network.Host;
import tender.core.network.Port;

/**
 * A device to be managed: where it is, as whom to sign in, the identity it must show, and what kind of device it is.
 *
 * @param jump a device managed over SSH through which this one is reached
 * @param readOnly whether every change is refused
 */
public record Target(
        Host host,
        Port port,
        String user,
        SignIn signIn,
        Optional<String> identity,
        DeviceDescription description,
        boolean readOnly,
        Optional<Target> jump) {
    /** A device that is called directly. */
    public Target(
            Host host,
            Port port,
            String user,
            SignIn signIn,
            Optional<String> identity,
            DeviceDescription description,
            boolean readOnly) {
        this(host, port, user, signIn, identity, description, readOnly, Optional.empty());
    }

    /** The same with an identity that it must show. */
    public Target withIdentity(String expected) {
        return new Target(host, port, user, signIn, Optional.of(expected), description, readOnly, jump);
    }
}
