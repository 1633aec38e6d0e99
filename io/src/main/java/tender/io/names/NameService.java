package tender.io.names;

import java.util.List;
import tender.core.network.HostName;
import tender.core.network.IpAddress;

/** Turns names into addresses. */
public interface NameService {
    /** What became of a look-up. */
    enum Status {
        FOUND,
        UNKNOWN,
        WITHOUT_ADDRESS,
        SILENT
    }

    /** The status and, when found, at least one address, IPv4 first. */
    record Answer(Status status, List<IpAddress> addresses) {
        public Answer {
            addresses = List.copyOf(addresses);
        }
    }

    Answer lookUp(HostName name);

    /** Whether an address may be called from here; every place that dials asks this. */
    default boolean mayCall(IpAddress address) {
        return true;
    }
}
