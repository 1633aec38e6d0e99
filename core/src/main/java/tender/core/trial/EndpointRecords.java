package tender.core.trial;

import java.util.Optional;
import tender.core.network.IpAddress;

/**
 * What the records say of the place that a trial calls.
 *
 * @param at where the line in front is, as far as it is known
 * @param fixed whether that address is said to stay
 * @param tcpBeside a listener on TCP that would serve the same callers where UDP is shut, in words
 * @param clash what shares addresses with the listener's tunnels, in words
 */
public record EndpointRecords(
        Optional<IpAddress> at, boolean fixed, Optional<String> tcpBeside, Optional<String> clash) {
    public static final EndpointRecords UNKNOWN =
            new EndpointRecords(Optional.empty(), false, Optional.empty(), Optional.empty());

    /** Whether a name led to another place than the line is at; an address of the other family says nothing. */
    boolean isElsewhere(Observation.Name name, Optional<IpAddress> dialled) {
        return name == Observation.Name.RESOLVED
                && dialled.isPresent()
                && at.filter(a -> a.family() == dialled.get().family() && !a.equals(dialled.get()))
                        .isPresent();
    }
}
