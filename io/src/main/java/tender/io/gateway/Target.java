package tender.io.gateway;

import java.util.Optional;
import tender.core.credential.Secret;
import tender.core.network.Host;
import tender.core.network.Port;

/** A device to be managed: where it is, as whom to sign in, and the identity it must show. */
public record Target(Host host, Port port, String user, Secret privateKey, Optional<String> identity) {}
