package tender.service.trial;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import tender.core.finding.Finding;
import tender.core.finding.Findings;
import tender.core.finding.Rule;
import tender.core.network.AddressKinds;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Protocol;
import tender.core.office.Uplink;
import tender.core.trial.EndpointRecords;
import tender.core.trial.TrialContext;
import tender.core.walk.Approach;
import tender.core.walk.Called;
import tender.core.walk.Hop;

/** What the records say of a listener while a trial of it is judged. */
final class TrialRecords {
    private static final Set<Rule> CLASHES =
            Set.of(Rule.TUNNEL_OVERLAPS_SITE, Rule.TUNNELS_OVERLAP_ON_DEVICE, Rule.TUNNELS_OVERLAP_ACROSS);

    private final Office office;
    private final Office.Gateway place;
    private final Optional<Listener> listener;
    private final Approach.Chain chain;

    TrialRecords(Office office, String gateway, String listener) {
        this.office = office;
        this.place = office.gateway(gateway).orElseThrow();
        this.listener = place.device().listener(listener);
        this.chain = Approach.chain(office, place);
    }

    Optional<Listener> listener() {
        return listener;
    }

    Approach.Chain chain() {
        return chain;
    }

    /** @param log lines that the gateway's log gained during the trial */
    TrialContext circumstances(List<String> log) {
        return new TrialContext(
                listener,
                false, // the newest revision is what the service tries
                false,
                listener.flatMap(l -> blocked(place, chain, l)),
                log,
                new EndpointRecords(at(), isFixed(), listener.flatMap(this::tcpBeside), listener.flatMap(this::clash)));
    }

    /** The first hop from outside to a listener that lets nothing through. */
    private Optional<String> blocked(Office.Gateway gateway, Approach.Chain way, Listener l) {
        // where the standard fixes several ports, each has to be open
        List<Protocol.PortSpec> ports = l.protocol().fixedPorts().isEmpty()
                ? Called.port(way, l).stream().toList()
                : l.protocol().fixedPorts();
        return ports.stream()
                .flatMap(port -> Approach.walk(office, way, l, port).stream().filter(hop -> !hop.passes()))
                .findFirst()
                .map(hop -> hop.place() + ": " + hop.detail()
                        + hop.remedy().map(Hop.Remedy::words).map(w -> "; " + w).orElse(""));
    }

    private Optional<IpAddress> at() {
        return chain.line()
                .flatMap(Uplink::address)
                .or(() -> chain.outermost().device().outsideAddress().filter(a -> !AddressKinds.isPrivate(a)));
    }

    private boolean isFixed() {
        return chain.line()
                .filter(u -> u.kind() == Uplink.Kind.FIXED && u.address().isPresent())
                .isPresent();
    }

    /** A listener on TCP at the same gateway, else at the same site, to which the way from outside is open. */
    private Optional<String> tcpBeside(Listener silent) {
        Stream<Office.Gateway> others = office.gateways().values().stream()
                .filter(g -> g.site().equals(place.site()) && !g.name().equals(place.name()));
        return Stream.concat(Stream.of(place), others)
                .flatMap(g -> g.device().listeners().stream()
                        .filter(l -> l.protocol() == Protocol.OPENVPN
                                && l.transport() == Transport.TCP
                                && !l.name().equals(silent.name()))
                        .filter(l -> blocked(g, Approach.chain(office, g), l).isEmpty())
                        .map(l -> g.name() + " " + l.name()
                                + Called.port(Approach.chain(office, g), l)
                                        .map(d -> " on " + d)
                                        .orElse("")))
                .findFirst();
    }

    private Optional<String> clash(Listener l) {
        String subject = place.name() + " " + l.name();
        return Findings.around(office, List.of(place.name())).all().stream()
                .filter(f -> CLASHES.contains(f.rule())
                        && (f.subject().equals(subject) || f.evidence().contains(subject)))
                .map(Finding::evidence)
                .findFirst();
    }
}
