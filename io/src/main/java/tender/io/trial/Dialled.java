package tender.io.trial;

import java.util.Optional;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.trial.Observation;
import tender.io.gateway.CallableAddresses;
import tender.io.names.NameService;

/** Where an endpoint leads now: how its name fared, and the address that is called. */
record Dialled(Observation.Name name, Optional<IpAddress> address) {
    /** Fails where the address may not be called. */
    static Dialled of(Endpoint endpoint, NameService names) {
        Dialled found = found(endpoint, names);
        if (found.address().filter(a -> !names.mayCall(a)).isPresent()) {
            throw CallableAddresses.forbidden();
        }
        return found;
    }

    private static Dialled found(Endpoint endpoint, NameService names) {
        if (endpoint.host() instanceof HostName hostName) {
            NameService.Answer answer = names.lookUp(hostName);
            Observation.Name name = switch (answer.status()) {
                case FOUND -> Observation.Name.RESOLVED;
                case UNKNOWN -> Observation.Name.UNKNOWN;
                case WITHOUT_ADDRESS -> Observation.Name.WITHOUT_ADDRESS;
                case SILENT -> Observation.Name.RESOLVER_SILENT;
            };
            return new Dialled(name, answer.addresses().stream().findFirst());
        }
        return new Dialled(Observation.Name.LITERAL, Optional.of(((Host.Literal) endpoint.host()).address()));
    }
}
