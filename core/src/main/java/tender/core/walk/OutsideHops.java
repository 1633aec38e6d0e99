package tender.core.walk;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.office.Listener;
import tender.core.office.Protocol.PortSpec;

/** From where the device stands to the listener. */
record OutsideHops(Trip trip) {
    Hop name() {
        List<IpAddress> line = trip.chain().addresses(trip.office());
        String where = trip.endpoint().host().toString();
        if (trip.endpoint().isPlaceholder() || trip.endpoint().isPrivate()) {
            return Hop.fails(
                            Hop.Kind.NAME,
                            where,
                            "the file's endpoint",
                            trip.endpoint().isPlaceholder()
                                    ? "the file calls a text left over from a template"
                                    : "the file calls an inside address")
                    .fixedBy("tender gateway set " + trip.gateway().name()
                            + " --endpoint HOST, then tender profile renew " + trip.label());
        }
        List<IpAddress> called = addresses(trip.endpoint().host());
        if (called.isEmpty()) {
            return Hop.fails(Hop.Kind.NAME, where, "the name", "the name has no address in DNS")
                    .fixedBy("Enter " + where + " with the provider of the name"
                            + line.stream().findFirst().map(a -> ": " + a).orElse(""));
        } else if (!line.isEmpty() && called.stream().noneMatch(line::contains)) {
            String but = ", but " + trip.chain().outermost().name() + " is at " + line.get(0);
            return trip.endpoint().host() instanceof HostName
                    ? Hop.fails(Hop.Kind.NAME, where, "the name", where + " resolves to " + called.get(0) + but)
                            .fixedBy("Let " + where + " follow " + line.get(0)
                                    + " at the provider of the name; files need no change")
                    : Hop.fails(Hop.Kind.NAME, where, "the file's endpoint", "the file calls " + where + but)
                            .fixedBy(trip.renew());
        } else {
            return Hop.passes(
                    Hop.Kind.NAME,
                    where,
                    trip.endpoint().host() instanceof HostName ? "the name" : "the file's endpoint",
                    trip.endpoint().host() instanceof HostName
                            ? where + " resolves to " + called.get(0)
                            : "the file calls " + where);
        }
    }

    private List<IpAddress> addresses(Host host) {
        return host instanceof Host.Literal literal
                ? List.of(literal.address())
                : trip.office().names().getOrDefault((HostName) host, List.of());
    }

    Hop place() {
        PortSpec port = trip.port();
        Walk.Place place = trip.question().place();
        String where = place.standing().word();
        boolean web = port.transport() == Transport.TCP && port.port().number() == 443;
        if (place.onlyWeb() && !web) {
            Optional<Listener> fits = trip.gateway().device().listeners().stream()
                    .filter(l -> l.transport() == Transport.TCP
                            && l.port().filter(p -> p.number() == 443).isPresent())
                    .findFirst();
            return Hop.fails(
                            Hop.Kind.PLACE,
                            where,
                            "the place",
                            "nothing but tcp 443 is let out there, and the file calls " + port)
                    .fixedBy(fits.map(l -> "Hand out a profile for "
                                    + trip.gateway().name() + " " + l.name() + ", which waits on tcp 443")
                            .orElse("Put a listener on tcp 443 beside "
                                    + trip.listener().name()));
        }
        if (place.standing() == Walk.Standing.OFFICE
                && place.site().filter(trip.gateway().site()::equals).isPresent()) {
            return Hop.unknown(
                    Hop.Kind.PLACE,
                    where,
                    "the place",
                    "called from inside its own office: works only where "
                            + trip.gateway().name() + "'s router turns such calls around");
        }
        return Hop.passes(Hop.Kind.PLACE, where, "the place", "lets " + port + " out");
    }

    /** From the line to the listener's port, and to the other ports that its protocol needs. */
    List<Hop> approach() {
        PortSpec port = trip.port();
        List<Hop> out = new ArrayList<>(Approach.walk(trip.office(), trip.chain(), trip.listener(), port));
        Hop last = out.get(out.size() - 1);
        boolean elsewhere = last.kind() == Hop.Kind.LISTENER
                && !last.passes()
                && last.remedy().isEmpty()
                && trip.chain().gateways().size() == 1;
        if (elsewhere) {
            out.set(out.size() - 1, last.fixedBy(trip.renew())); // it waits on another port than the file calls
        }
        if (last.passes()) {
            trip.listener().protocol().fixedPorts().stream()
                    .filter(other -> !other.equals(port))
                    .flatMap(other -> Approach.walk(trip.office(), trip.chain(), trip.listener(), other).stream())
                    .filter(h -> !h.passes())
                    .findFirst()
                    .ifPresent(out::add);
        }
        return out;
    }
}
