package tender.core.trial;

import java.util.Optional;
import tender.core.network.IpAddress;

/**
 * Where traffic to the outside leaves: the claim of a full or a split tunnel, and what was seen of it.
 *
 * @param full whether the profile sends the outside's traffic through the tunnel
 * @param direct the address that the outside sees of this vantage without the tunnel; empty where nothing came back
 * @param through the address that it sees through the tunnel; asked for only where the profile sends it there
 */
public record Exit(boolean full, Optional<IpAddress> direct, Optional<IpAddress> through) {
    /** Whether what was seen is what the profile claims. */
    public boolean asClaimed() {
        return full ? through.isPresent() : direct.isPresent();
    }

    public String words() {
        String without =
                direct.map(a -> "without the tunnel it sees " + a).orElse("without the tunnel it does not answer here");
        if (!full) {
            return direct.map(a -> "split tunnel: traffic to the outside stays outside, seen as " + a)
                    .orElse("split tunnel: traffic to the outside stays outside, which does not answer here");
        }
        return through.map(a -> "full tunnel: the outside sees " + a
                        + (direct.equals(through) ? ", as without it: both leave by one line" : "; " + without))
                .orElse(
                        "full tunnel, and nothing comes back from the outside: the gateway lets callers' traffic go no further; "
                                + without);
    }
}
