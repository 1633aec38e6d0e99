package tender.core.trial;

import java.util.List;
import java.util.Optional;
import tender.core.network.IpAddress;

/**
 * What was measured through a tunnel that is up.
 *
 * @param millis round trips of the echoes that came back
 * @param sent echoes that were sent
 * @param largestPacket bytes of the largest inside packet that came back whole; empty where none was asked
 * @param name what the name server inside says of an inside host's name; empty where none was asked
 * @param exit where traffic to the outside leaves; empty where none was asked
 * @param transfer what passed to a host that gives back what it gets; empty where none was wanted or the host does not
 */
public record Measured(
        List<Double> millis,
        int sent,
        Optional<Integer> largestPacket,
        Optional<InsideName> name,
        Optional<Exit> exit,
        Optional<Transfer> transfer) {
    /** Whether a name leads to an address inside; {@code address} is empty where the name server did not tell one. */
    public record InsideName(String name, IpAddress server, boolean answered, Optional<IpAddress> address) {}

    public Measured {
        millis = List.copyOf(millis);
    }

    /** Share of echoes that got lost, from 0 to 1. */
    public double loss() {
        return sent == 0 ? 0 : 1 - (double) millis.size() / sent;
    }

    public double least() {
        return millis.stream().mapToDouble(Double::doubleValue).min().orElse(0);
    }

    public double mean() {
        return millis.stream().mapToDouble(Double::doubleValue).average().orElse(0);
    }

    public double most() {
        return millis.stream().mapToDouble(Double::doubleValue).max().orElse(0);
    }
}
