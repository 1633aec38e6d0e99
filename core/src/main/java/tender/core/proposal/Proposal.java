package tender.core.proposal;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.office.Listener;

/** What to create of client files, and which file is whose. What exists already stands in it too, and is used. */
public record Proposal(List<Site> sites, List<Gateway> gateways, List<Person> people, List<File> files) {
    public Proposal {
        sites = List.copyOf(sites);
        gateways = List.copyOf(gateways);
        people = List.copyOf(people);
        files = List.copyOf(files);
    }

    /** @param exists whether the records have it already */
    public record Site(String name, Map<String, Cidr> networks, boolean exists) {}

    /**
     * @param proposed what it would be called without a correction
     * @param hosts what its files call, those first that most files call
     * @param listeners those to add; of a gateway that exists only those that it lacks
     */
    public record Gateway(
            String name,
            String proposed,
            String site,
            String kind,
            List<Host> hosts,
            List<Listener> listeners,
            boolean exists) {}

    /** @param name for people to read */
    public record Person(String handle, String name, List<Device> devices, boolean exists) {}

    public record Device(String name, String kind, boolean exists) {}

    /**
     * A file and where it belongs.
     *
     * @param listener by its name; empty where the gateway exists, is not managed by hand and has no such listener
     * @param owner empty where nothing tells
     */
    public record File(ClientFile file, String gateway, Optional<String> listener, Optional<Owner> owner) {}

    /** @param matchedBy certificate, account, file name or said */
    public record Owner(String person, String device, String matchedBy) {}

    /**
     * What the records have.
     *
     * @param byHand names of gateways that are managed by hand: they take new listeners
     * @param requested devices that files were asked for, {@code person/device} by the gateway's name
     */
    public record Known(
            tender.core.office.Office office,
            Set<String> byHand,
            List<Person> people,
            Map<String, Set<String>> requested) {}

    /**
     * What a person wants otherwise.
     *
     * @param names of gateways, by the proposed ones
     * @param sites of gateways, by the gateways' proposed names
     * @param kinds of gateways, by the gateways' proposed names
     * @param owners {@code person/device}, by the file's path
     * @param leftOut paths of files to leave out
     */
    public record Corrections(
            Map<String, String> names,
            Map<String, String> sites,
            Map<String, String> kinds,
            Map<String, String> owners,
            Set<String> leftOut) {
        public static final Corrections NONE = new Corrections(Map.of(), Map.of(), Map.of(), Map.of(), Set.of());
    }
}
