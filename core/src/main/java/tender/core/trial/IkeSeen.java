package tender.core.trial;

import java.util.List;
import java.util.Optional;
import tender.core.ike.Identification;
import tender.core.ike.IkeClient;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/**
 * What a trial of an IKEv2 profile saw. Times are milliseconds, one for each rung that was reached.
 *
 * @param path what came of the port that the profile calls
 * @param natPath what came of the port for NAT, where it was needed
 * @param stage how far the connection came; empty where nobody was called
 * @param refused what the server said when it let nobody in
 * @param broken why the connection could not go on
 * @param chain the server's certificates, its own first
 * @param otherwiseNamed who the server says it is to a caller who asks for nobody by name, where it refused the file's
 * @param asksPassword whether it asks a caller who proves nothing for a name and password, where it refused the file's proof
 */
public record IkeSeen(
        Observation.Name name,
        Optional<IpAddress> dialled,
        Observation.Path path,
        Observation.Path natPath,
        Optional<IkeClient.Stage> stage,
        Optional<String> refused,
        Optional<String> broken,
        List<byte[]> chain,
        Optional<Identification> serverId,
        Optional<Identification> otherwiseNamed,
        boolean asksPassword,
        Optional<String> algorithms,
        boolean serverBehindNat,
        List<IpAddress> addresses,
        List<Cidr> reach,
        Observation.Echo gateway,
        Observation.Echo inside,
        FirstHosts firstHosts,
        List<Long> millis) {
    public IkeSeen {
        chain = List.copyOf(chain);
        addresses = List.copyOf(addresses);
        reach = List.copyOf(reach);
        millis = List.copyOf(millis);
    }

    boolean came(IkeClient.Stage wanted) {
        return stage.filter(s -> s.compareTo(wanted) >= 0).isPresent();
    }

    boolean said(String words) {
        return refused.filter(r -> r.contains(words)).isPresent();
    }

    /** Whether the server let this one in, and only the tunnel itself was refused. */
    boolean letIn() {
        boolean tunnelRefused = said("INTERNAL_ADDRESS_FAILURE")
                || said("TS_UNACCEPTABLE")
                || said("FAILED_CP_REQUIRED")
                || said("NO_PROPOSAL_CHOSEN");
        return came(IkeClient.Stage.UP) || came(IkeClient.Stage.TRUSTED) && tunnelRefused;
    }

    long millis(Rung rung) {
        return rung.ordinal() < millis.size() ? millis.get(rung.ordinal()) : 0;
    }
}
