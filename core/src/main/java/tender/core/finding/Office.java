package tender.core.finding;

import java.util.List;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;

/** The records that the rules look at, gathered in a few bulk reads. */
public record Office(List<SiteNetwork> networks, List<Listener> listeners, List<HandedOut> handedOut) {
    /** A network of a site. Networks of different routing domains never meet. */
    public record SiteNetwork(String domain, String site, String name, Cidr network) {}

    /** A listener with what clients are told to call. */
    public record Listener(
            String id,
            String domain,
            String gateway,
            String name,
            List<Cidr> tunnels,
            Optional<Endpoint> endpoint,
            ListenerSettings settings) {}

    /** The latest revision of a profile that was handed out, and the settings it was made for. */
    public record HandedOut(
            String profileId, String label, String person, String listenerId, ListenerSettings madeFor) {}

    /** What a client's file depends on. */
    public record ListenerSettings(String gatewayKey, int port, String endpoint, String tunnels) {}

    public Office {
        networks = List.copyOf(networks);
        listeners = List.copyOf(listeners);
        handedOut = List.copyOf(handedOut);
    }
}
