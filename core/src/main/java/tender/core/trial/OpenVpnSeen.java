package tender.core.trial;

import java.util.List;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/**
 * What a trial of an OpenVPN profile saw. Times are milliseconds, one for each rung that was reached.
 *
 * @param stage how far the connection came
 * @param closed whether the other side ended a TCP connection
 * @param broken why TLS could not go on
 * @param refused what the server said when it let nobody in
 * @param chain the server's certificates, its own first
 * @param routes networks that the server pushed
 */
public record OpenVpnSeen(
        Observation.Name name,
        Optional<IpAddress> dialled,
        Observation.Path path,
        Stage stage,
        boolean closed,
        Optional<String> broken,
        Optional<String> refused,
        List<byte[]> chain,
        boolean certificateAsked,
        Optional<String> tlsVersion,
        Optional<String> cipher,
        Optional<IpAddress> address,
        Optional<IpAddress> gatewayInside,
        List<Cidr> routes,
        Observation.Echo gateway,
        Observation.Echo inside,
        List<Long> millis) {
    /** How far it came. */
    public enum Stage {
        NOT_CALLED,
        CALLING,
        ANSWERED,
        TRUSTED,
        EXCHANGED,
        UP
    }

    public OpenVpnSeen {
        chain = List.copyOf(chain);
        routes = List.copyOf(routes);
        millis = List.copyOf(millis);
    }

    boolean came(Stage wanted) {
        return stage.compareTo(wanted) >= 0;
    }

    long millis(Rung rung) {
        return rung.ordinal() < millis.size() ? millis.get(rung.ordinal()) : 0;
    }
}
