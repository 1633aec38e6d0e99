package tender.core.office;

import java.time.Instant;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/** All that is known of the company's remote access at one moment, as the records have it. */
public record Office(
        Instant now,
        List<Site> sites,
        Map<String, Gateway> gateways,
        List<Joined> joined,
        List<IssuedProfile> issuedProfiles,
        Map<HostName, List<IpAddress>> names) {

    private static final Set<String> KINDS = Set.of("router", "nas", "firewall");

    /**
     * A kind of gateway.
     *
     * @throws MalformedException where it is none
     */
    public static String kind(String text) {
        if (!KINDS.contains(text)) {
            throw new MalformedException("kind", "kind", "is router, nas or firewall");
        }
        return text;
    }

    /** A place of the company; its networks are those that operators entered. */
    public record Site(String id, String name, String domain, String zone, List<Network> networks) {
        public Site {
            networks = List.copyOf(networks);
        }
    }

    /** Whether credentials from the factory still work; asked and noted, the credentials themselves are not. */
    public enum Factory {
        NOT_ASKED,
        CHANGED,
        STILL_WORK
    }

    /**
     * A gateway. Uplinks that operators entered stand before those the device reports.
     *
     * @param hosts what clients are told to call, in order; empty means what the line itself is known by
     * @param oldestRelease the oldest release that the device's description is written for, empty for none
     * @param drift changes made at the device and not through Tender that nobody has looked at
     * @param temporary changes that return by themselves
     * @param manual whether people manage it and Tender never connects to it
     * @param disagreements what trials saw otherwise than it is known
     */
    public record Gateway(
            String id,
            String name,
            String site,
            String kind,
            boolean identityAccepted,
            Optional<Instant> readAt,
            Optional<String> readProblem,
            Optional<Instant> newestBackup,
            Device device,
            List<Uplink> said,
            List<Host> hosts,
            Factory factory,
            Optional<String> oldestRelease,
            int drift,
            int temporary,
            boolean manual,
            List<Disagreement> disagreements) {
        public Gateway {
            said = List.copyOf(said);
            hosts = List.copyOf(hosts);
            disagreements = List.copyOf(disagreements);
        }

        public List<Uplink> uplinks() {
            return said.isEmpty() ? device.uplinks() : said;
        }

        public Gateway with(Device changed) {
            return new Gateway(
                    id,
                    name,
                    site,
                    kind,
                    identityAccepted,
                    readAt,
                    readProblem,
                    newestBackup,
                    changed,
                    said,
                    hosts,
                    factory,
                    oldestRelease,
                    drift,
                    temporary,
                    manual,
                    disagreements);
        }

        public Gateway withHosts(List<Host> changed) {
            return new Gateway(
                    id,
                    name,
                    site,
                    kind,
                    identityAccepted,
                    readAt,
                    readProblem,
                    newestBackup,
                    device,
                    said,
                    changed,
                    factory,
                    oldestRelease,
                    drift,
                    temporary,
                    manual,
                    disagreements);
        }

        public Gateway withSaid(List<Uplink> changed) {
            return new Gateway(
                    id,
                    name,
                    site,
                    kind,
                    identityAccepted,
                    readAt,
                    readProblem,
                    newestBackup,
                    device,
                    changed,
                    hosts,
                    factory,
                    oldestRelease,
                    drift,
                    temporary,
                    manual,
                    disagreements);
        }
    }

    /** Two gateways joined as one network. */
    public record Joined(String one, String other) {}

    /**
     * The newest revision of a profile that somebody holds.
     *
     * @param madeFor the settings it was made for, by attribute; what is missing was not written into the file
     * @param endpoints what the file calls, in order
     * @param refreshes whether the device fetches a new revision by itself
     */
    public record IssuedProfile(
            String profileId,
            String label,
            String person,
            String account,
            String gateway,
            String listener,
            Map<Attribute, String> madeFor,
            List<Endpoint> endpoints,
            boolean refreshes,
            Optional<Instant> credentialEnds) {}

    public Office {
        sites = List.copyOf(sites);
        gateways = Collections.unmodifiableMap(new LinkedHashMap<>(gateways));
        joined = List.copyOf(joined);
        issuedProfiles = List.copyOf(issuedProfiles);
        names = Map.copyOf(names);
    }

    /** Empty where there is none of this name. */
    public Optional<Gateway> gateway(String name) {
        return Optional.ofNullable(gateways.get(name));
    }

    public Optional<Site> site(String name) {
        return sites.stream().filter(s -> s.name().equals(name)).findFirst();
    }

    /** The office with one gateway replaced. */
    public Office with(Gateway changed) {
        Map<String, Gateway> out = new LinkedHashMap<>(gateways);
        out.put(changed.name(), changed);
        return new Office(now, sites, out, joined, issuedProfiles, names);
    }

    /** Domain of each site by the site's name. */
    public Map<String, String> domains() {
        Map<String, String> out = new HashMap<>();
        sites.forEach(s -> out.put(s.name(), s.domain()));
        return out;
    }
}
