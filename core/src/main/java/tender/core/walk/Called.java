package tender.core.walk;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.IpAddress;
import tender.core.office.Forward;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Protocol.PortSpec;

/** What clients of a listener are told to call, worked out from the records: the hosts, and the port in front of it all. */
public final class Called {
    private Called() {}

    /** In order of priority; empty where no host is known or the listener has no port. */
    public static List<Endpoint> endpoints(Approach.Chain chain, Listener listener) {
        List<Endpoint> out = new ArrayList<>();
        for (Host host : hosts(chain)) {
            port(chain, listener).ifPresent(d -> out.add(new Endpoint(host, d.port(), d.transport())));
        }
        return out;
    }

    /** Those set for the gateway, else what the line in front is known by: its name before its address. */
    private static List<Host> hosts(Approach.Chain chain) {
        Office.Gateway gateway = chain.gateways().get(chain.gateways().size() - 1);
        if (!gateway.hosts().isEmpty()) {
            return gateway.hosts();
        }
        if (!chain.outermost().hosts().isEmpty()) {
            return chain.outermost().hosts();
        }
        return chain.line()
                .flatMap(u -> u.name().<Host>map(n -> n).or(() -> u.address().map(Host.Literal::new)))
                .map(List::of)
                .orElse(List.of());
    }

    /** The outermost port that is forwarded to the listener, else the listener's own. */
    public static Optional<PortSpec> port(Approach.Chain chain, Listener listener) {
        Optional<PortSpec> own = listener.ports().stream().findFirst();
        if (own.isEmpty() || !listener.protocol().fixedPorts().isEmpty()) {
            return own;
        }
        PortSpec port = own.get();
        for (int i = chain.gateways().size() - 2; i >= 0; i--) {
            Optional<IpAddress> inner = chain.gateways().get(i + 1).device().outsideAddress();
            PortSpec inside = port;
            Optional<Forward> leading = chain.gateways().get(i).device().forwards().stream()
                    .filter(f -> f.transport() == inside.transport()
                            && f.toPort().equals(inside.port())
                            && inner.filter(f.to()::equals).isPresent())
                    .findFirst();
            if (leading.isEmpty()) {
                return own;
            }
            port = new PortSpec(inside.transport(), leading.get().port());
        }
        return Optional.of(port);
    }
}
