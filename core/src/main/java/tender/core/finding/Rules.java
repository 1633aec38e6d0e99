package tender.core.finding;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import tender.core.finding.Office.ListenerSettings;
import tender.core.network.AddressPlan;
import tender.core.network.AddressPlan.Placed;

/** The catalogue of rules. Work grows as n log n with the number of networks and linearly with all else. */
public final class Rules {
    private Rules() {}

    public static List<Finding> evaluate(Office office) {
        List<Finding> out = new ArrayList<>();
        overlaps(office, out);
        endpoints(office, out);
        stale(office, out);
        return out;
    }

    /** Either a site network or a listener's tunnel network. */
    private record Area(Office.SiteNetwork site, Office.Listener listener, String text) {}

    private static void overlaps(Office office, List<Finding> out) {
        Map<String, List<Placed<Area>>> byDomain = new HashMap<>();
        for (Office.SiteNetwork n : office.networks()) {
            byDomain.computeIfAbsent(n.domain(), d -> new ArrayList<>())
                    .add(new Placed<>(n.network(), new Area(n, null, n.site() + " " + n.name() + " " + n.network())));
        }
        for (Office.Listener l : office.listeners()) {
            l.tunnels()
                    .forEach(t -> byDomain.computeIfAbsent(l.domain(), d -> new ArrayList<>())
                            .add(new Placed<>(t, new Area(null, l, "tunnel " + t))));
        }
        byDomain.values()
                .forEach(areas -> AddressPlan.overlaps(areas).forEach(pair -> {
                    Area outer = pair.outer();
                    Area inner = pair.inner();
                    if ((outer.listener() == null) != (inner.listener() == null)) {
                        out.add(overlap(
                                outer.listener() == null ? inner : outer, outer.listener() == null ? outer : inner));
                    }
                }));
    }

    private static Finding overlap(Area tunnel, Area site) {
        Office.Listener listener = tunnel.listener();
        return new Finding(
                "tunnel-overlaps-site",
                Severity.BREAKS,
                "listener",
                listener.id(),
                listener.gateway() + " " + listener.name(),
                tunnel.text() + " shares addresses with " + site.text(),
                "people connected through " + listener.gateway() + " cannot reach "
                        + site.site().site() + ", or reach the wrong machine",
                "move the tunnel network to a free one");
    }

    private static void endpoints(Office office, List<Finding> out) {
        for (Office.Listener l : office.listeners()) {
            l.endpoint().ifPresent(endpoint -> {
                boolean placeholder = endpoint.isPlaceholder();
                if (placeholder || endpoint.isPrivate()) {
                    out.add(new Finding(
                            placeholder ? "endpoint-placeholder" : "endpoint-private",
                            Severity.BREAKS,
                            "listener",
                            l.id(),
                            l.gateway() + " " + l.name(),
                            "endpoint " + endpoint,
                            placeholder
                                    ? "nobody can connect: the endpoint is a text left over from a template"
                                    : "nobody outside can connect: the endpoint is an inside address",
                            "tender gateway set " + l.gateway()
                                    + " --endpoint HOST:PORT, with the name or address seen from outside"));
                }
            });
        }
    }

    private static void stale(Office office, List<Finding> out) {
        Map<String, Office.Listener> listeners = new HashMap<>();
        office.listeners().forEach(l -> listeners.put(l.id(), l));
        for (Office.HandedOut file : office.handedOut()) {
            Office.Listener listener = listeners.get(file.listenerId());
            if (listener != null && !listener.settings().equals(file.madeFor())) {
                out.add(new Finding(
                        "file-out-of-date",
                        Severity.BREAKS,
                        "profile",
                        file.profileId(),
                        file.label(),
                        difference(file.madeFor(), listener.settings()),
                        file.person() + " holds a file that " + listener.gateway() + " no longer fits",
                        "tender profile renew " + file.label() + ", then hand it out again"));
            }
        }
    }

    private static String difference(ListenerSettings was, ListenerSettings is) {
        List<String> parts = new ArrayList<>();
        part(parts, "gateway key", was.gatewayKey(), is.gatewayKey());
        part(parts, "port", was.port(), is.port());
        part(parts, "endpoint", was.endpoint(), is.endpoint());
        part(parts, "tunnel network", was.tunnels(), is.tunnels());
        return String.join("; ", parts);
    }

    private static void part(List<String> parts, String field, Object was, Object is) {
        if (!Objects.equals(was, is)) {
            parts.add(field + " was " + was + ", is " + is);
        }
    }
}
