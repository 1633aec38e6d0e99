package tender.core.trial;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import tender.core.network.Endpoint;

/**
 * What is asked of a listener that only its own clients can go through: whether it is there, and who it says it is.
 *
 * @param name what its certificate should say; empty where it shows none
 * @param authorities whose certificates are believed, DER
 */
public record ReachabilityProbe(Kind kind, Endpoint at, Optional<String> name, List<byte[]> authorities, Instant now) {
    /** How it is probed. */
    public enum Kind {
        /** L2TP/IPsec: the first message of IKE version 1. */
        L2TP,
        /** A TLS handshake for each version. */
        TLS
    }

    public ReachabilityProbe believing(List<byte[]> others) {
        return new ReachabilityProbe(kind, at, name, others, now);
    }

    public ReachabilityProbe {
        authorities = List.copyOf(authorities);
    }
}
