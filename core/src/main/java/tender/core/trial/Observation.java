package tender.core.trial;

import java.util.List;
import java.util.Optional;
import tender.core.network.IpAddress;

/**
 * What a trial of a WireGuard profile saw, rung by rung. Times are milliseconds.
 *
 * @param admitted the address beside the own from which something inside was answered, where the own got no answer
 */
public record Observation(
        Name name,
        Optional<IpAddress> dialled,
        Path path,
        Handshake handshake,
        Echo gateway,
        Echo inside,
        FirstHosts firstHosts,
        Optional<IpAddress> admitted,
        List<Long> millis) {
    /** How the endpoint's name fared. */
    public enum Name {
        LITERAL,
        RESOLVED,
        UNKNOWN,
        WITHOUT_ADDRESS,
        RESOLVER_SILENT
    }

    /** What the network said about the address and port. */
    public enum Path {
        ANSWERED,
        SILENT,
        /** ICMP port unreachable: nothing listens there. */
        REFUSED,
        /** No route, or sending is not allowed. */
        UNREACHABLE,
        NOT_TRIED
    }

    /** How the handshake ended. */
    public enum Handshake {
        ESTABLISHED,
        UNREADABLE,
        UNDER_LOAD,
        SILENT,
        NOT_TRIED
    }

    /** Whether an echo came back. */
    public enum Echo {
        ANSWERED,
        SILENT,
        NOT_TRIED
    }

    /** Where no first hosts were asked. */
    public Observation(
            Name name,
            Optional<IpAddress> dialled,
            Path path,
            Handshake handshake,
            Echo gateway,
            Echo inside,
            List<Long> millis) {
        this(name, dialled, path, handshake, gateway, inside, FirstHosts.NONE, Optional.empty(), millis);
    }

    public Observation {
        millis = List.copyOf(millis);
    }

    long millis(Rung rung) {
        int at = Rung.OF_KEYS.indexOf(rung);
        return at >= 0 && at < millis.size() ? millis.get(at) : 0;
    }
}
