package tender.core.finding;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.office.FilterRule;
import tender.core.office.Forward;
import tender.core.office.Office;
import tender.core.walk.KnownNetworks;

/** What a gateway still says of networks that nobody has any more, as after renumbering one. */
final class NetworkChecks {
    private NetworkChecks() {}

    static void gateway(KnownNetworks known, Office.Gateway g, Sink sink) {
        List<String> places = new ArrayList<>();
        List<FilterRule> rules = g.device().filter().rules();
        for (int i = 0; i < rules.size(); i++) {
            for (Optional<Cidr> side :
                    List.of(rules.get(i).source(), rules.get(i).destination())) {
                if (side.filter(n -> known.isGone(g.site(), n)).isPresent()) {
                    places.add("filter rule " + (i + 1) + " names " + side.get());
                }
            }
        }
        for (Forward f : g.device().forwards()) {
            if (known.isGone(g.site(), Cidr.host(f.to()))) {
                places.add("a forward leads to " + f.to());
            }
        }
        g.device()
                .insideHost()
                .filter(host -> known.isGone(g.site(), Cidr.host(host)))
                .ifPresent(host -> places.add("the inside host is " + host));
        if (!places.isEmpty()) {
            sink.gateway(Rule.NETWORK_GONE, g, String.join("; ", places)).put();
        }
    }
}
