package tender.core.trial;

import java.util.List;
import java.util.Optional;
import tender.core.network.IpAddress;

/**
 * What came of probing.
 *
 * @param answer what the listener said, in words; empty where it said nothing that was understood
 * @param tls the TLS versions that it speaks, such as "TLS 1.3", newest first
 * @param chain its certificates, its own first
 */
public record ProbeSeen(
        Observation.Name name,
        Optional<IpAddress> dialled,
        Observation.Path path,
        Optional<String> answer,
        List<String> tls,
        List<byte[]> chain,
        List<Long> millis) {
    public ProbeSeen {
        tls = List.copyOf(tls);
        chain = List.copyOf(chain);
        millis = List.copyOf(millis);
    }

    long millis(Rung rung) {
        return rung.ordinal() < millis.size() ? millis.get(rung.ordinal()) : 0;
    }
}
