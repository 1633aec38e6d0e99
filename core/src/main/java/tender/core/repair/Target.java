package tender.core.repair;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.office.Listener;

/**
 * What files are repaired towards: the listener as it is now and how it is reached.
 *
 * @param calls endpoints in order; empty leaves the file's alone
 * @param reach what was granted, where the file is to be held to it
 * @param dns name servers that were granted; empty leaves the file's alone
 * @param refused rules that are not applied
 */
public record Target(
        Listener listener,
        List<Endpoint> calls,
        Optional<List<Cidr>> reach,
        List<IpAddress> dns,
        Set<RepairRule> refused) {
    public Target {
        calls = List.copyOf(calls);
        dns = List.copyOf(dns);
        refused = Set.copyOf(refused);
    }

    boolean takes(RepairRule rule) {
        return !refused.contains(rule);
    }
}
