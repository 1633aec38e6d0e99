package tender.core.walk;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Supplier;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Protocol.PortSpec;
import tender.core.wire.MalformedException;

/** Hop by hop from a device outside to a host inside and back, from the records alone, before anyone tries. */
public final class Walk {
    /** Where the device stands. */
    public enum Standing {
        HOTEL,
        HOME,
        CARRIER,
        OFFICE;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        public static Standing parse(String text) {
            for (Standing s : values()) {
                if (s.word().equals(text)) {
                    return s;
                }
            }
            throw new MalformedException("place", "from", "hotel, home, carrier or office");
        }
    }

    /**
     * A place and what is known of it.
     *
     * @param lan the network the device is in there
     * @param onlyWeb whether nothing but TCP 443 is let out
     * @param site the site's name when the place is an office of the company
     */
    public record Place(Standing standing, Optional<Cidr> lan, boolean onlyWeb, Optional<String> site) {}

    /** From a profile at a place to an inside host, and to a port of it where one is asked for. */
    public record Question(Office.IssuedProfile from, Place place, IpAddress to, Optional<PortSpec> port) {}

    /** What came out; {@code failed} is the first hop that does not let the packet on. */
    public record Path(List<Hop> hops, Optional<Hop> failed) {}

    private Walk() {}

    public static Path of(Office office, Question question) {
        List<Hop> hops = hops(office, question);
        return new Path(hops, hops.stream().filter(h -> !h.passes()).findFirst());
    }

    private static List<Hop> hops(Office office, Question question) {
        Office.IssuedProfile issued = question.from();
        Office.Gateway gateway = office.gateway(issued.gateway())
                .orElseThrow(() -> new MalformedException("gateway", "from", "the profile's gateway is not recorded"));
        Listener listener = gateway.device()
                .listener(issued.listener())
                .orElseThrow(
                        () -> new MalformedException("listener", "from", "the profile's listener is not recorded"));
        Optional<Endpoint> endpoint = issued.endpoints().stream().findFirst();
        if (endpoint.isEmpty()) {
            return List.of(Hop.fails(Hop.Kind.NAME, issued.label(), "the file", "the file names nobody to call")
                    .fixedBy("tender gateway set " + gateway.name() + " --endpoint HOST, then tender profile renew "
                            + issued.label()));
        }
        return hops(new Trip(office, question, gateway, listener, Approach.chain(office, gateway), endpoint.get()));
    }

    /** Up to the first that does not let the packet on. */
    private static List<Hop> hops(Trip trip) {
        OutsideHops outside = new OutsideHops(trip);
        ListenerHops listener = new ListenerHops(trip);
        InsideHops inside = new InsideHops(trip);
        List<Supplier<List<Hop>>> steps = List.of(
                () -> List.of(outside.name()),
                () -> List.of(outside.place()),
                outside::approach,
                () -> List.of(listener.file()),
                () -> List.of(listener.login()),
                () -> List.of(listener.tunnelAddress()),
                () -> List.of(inside.route()),
                () -> List.of(inside.overlap()),
                () -> List.of(inside.insideFilter()),
                () -> List.of(inside.host()),
                () -> List.of(inside.back()));
        List<Hop> out = new ArrayList<>();
        for (Supplier<List<Hop>> step : steps) {
            out.addAll(step.get());
            if (!out.get(out.size() - 1).passes()) {
                break;
            }
        }
        return List.copyOf(out);
    }
}
