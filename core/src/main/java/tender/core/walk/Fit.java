package tender.core.walk;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Protocol;

/** Whether a file that somebody holds fits its listener as it is now: the one place that decides it. */
public final class Fit {
    /** One field that differs. */
    public record Difference(String field, String was, String is) {
        public String words() {
            return field + " was " + was + ", is " + is;
        }
    }

    private Fit() {}

    /**
     * Field by field. What a person may reach and which name servers they ask is granted to the profile and not copied
     * from the listener, so it does not count; nor does what the file leaves out.
     *
     * @param now what clients of the listener are told to call now, in order; any of them will do
     */
    public static List<Difference> differences(Listener listener, List<Endpoint> now, Office.IssuedProfile issued) {
        List<Difference> out = new ArrayList<>();
        issued.madeFor().forEach((attribute, was) -> {
            if (counts(attribute, listener.protocol()) && !listener.is(attribute, was)) {
                out.add(new Difference(
                        attribute.word(), was, listener.get(attribute).orElse("none")));
            }
        });
        if (!now.isEmpty()
                && !issued.endpoints().isEmpty()
                && now.stream().noneMatch(e -> calls(e, issued.endpoints().get(0), listener.protocol()))) {
            out.add(new Difference(
                    "endpoint", issued.endpoints().get(0).toString(), now.get(0).toString()));
        }
        return out;
    }

    private static boolean calls(Endpoint one, Endpoint other, Protocol protocol) {
        return FIXED_PORTS.contains(protocol) ? one.host().equals(other.host()) : one.equals(other);
    }

    /** Networks that the file sends through the tunnel although nobody has them any more. */
    public static List<Difference> gone(KnownNetworks known, String site, Office.IssuedProfile issued) {
        List<Difference> out = new ArrayList<>();
        for (String text : issued.madeFor().getOrDefault(Attribute.REACH, "").split("\\s*,\\s*")) {
            if (!text.isEmpty() && known.isGone(site, Cidr.parse(text))) {
                out.add(new Difference("reach", text, "no network of ours"));
            }
        }
        return out;
    }

    /** Kinds whose ports a standard fixes: their files name neither port nor transport, and the server gives the address. */
    private static final Set<Protocol> FIXED_PORTS = Set.of(Protocol.IKEV2, Protocol.L2TP_IPSEC, Protocol.PPTP);

    private static final Set<Attribute> NOT_IN_THEIR_FILES =
            Set.of(Attribute.TRANSPORT, Attribute.PORT, Attribute.TUNNEL_NETWORK);

    private static boolean counts(Attribute attribute, Protocol protocol) {
        return attribute.concerns() == Attribute.Concerns.CLIENTS
                && attribute != Attribute.REACH
                && attribute != Attribute.DNS
                && !(FIXED_PORTS.contains(protocol) && NOT_IN_THEIR_FILES.contains(attribute));
    }
}
