package tender.core.finding;

import java.util.List;
import java.util.Optional;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.office.Attribute;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Protocol;
import tender.core.office.Uplink;
import tender.core.walk.Approach;
import tender.core.walk.Called;

/** Rules over what clients are told to call. */
final class EndpointChecks {
    private EndpointChecks() {}

    static void gateway(Office.Gateway g, Approach.Chain chain, Sink sink) {
        if (g.uplinks().isEmpty() && !g.device().listeners().isEmpty()) {
            sink.gateway(Rule.UPLINK_UNKNOWN, g, "no uplink is recorded")
                    .remedy("tender gateway set " + g.name()
                            + " --uplink fixed:ADDRESS, changing:NAME, behind:GATEWAY or carrier-nat")
                    .put();
        }
        chain.line()
                .filter(u -> u.kind() == Uplink.Kind.CARRIER_NAT)
                .filter(u -> !g.device().listeners().isEmpty())
                .ifPresent(u -> sink.gateway(
                                Rule.ENDPOINT_BEHIND_CARRIER,
                                g,
                                chain.outermost().name() + " is " + u.words())
                        .put());
    }

    static void listener(Office office, Office.Gateway g, Listener l, Approach.Chain chain, Sink sink) {
        List<Endpoint> endpoints = Called.endpoints(chain, l);
        if (endpoints.isEmpty()) {
            sink.listener(Rule.ENDPOINT_MISSING, g, l, "no endpoint is set")
                    .remedy(set(g))
                    .put();
            return;
        }
        Endpoint e = endpoints.get(0);
        if (e.isPlaceholder()) {
            sink.listener(Rule.ENDPOINT_PLACEHOLDER, g, l, "endpoint " + e)
                    .remedy(set(g))
                    .put();
        } else if (e.isPrivate()) {
            sink.listener(Rule.ENDPOINT_PRIVATE, g, l, "endpoint " + e)
                    .remedy(set(g))
                    .put();
        } else if (chain.line().filter(u -> u.kind() == Uplink.Kind.CARRIER_NAT).isEmpty()) {
            leads(office, g, l, e, chain, sink);
        }
        if (e.host() instanceof HostName name) {
            List<String> names = l.words(Attribute.SERVER_NAMES);
            boolean compared = l.protocol() == Protocol.TLS || l.protocol() == Protocol.IKEV2;
            if (compared && !names.isEmpty() && !names.contains(name.text())) {
                sink.listener(
                                Rule.SERVER_NAME_DIFFERS,
                                g,
                                l,
                                "clients connect to " + name + ", the certificate says " + String.join(", ", names))
                        .fix(g.name(), Renewals.certificate(l, office.now(), name.text()))
                        .put();
            }
        }
    }

    private static String set(Office.Gateway g) {
        return "tender gateway set " + g.name() + " --endpoint HOST, with the name or address seen from outside";
    }

    private static void leads(
            Office office, Office.Gateway g, Listener l, Endpoint e, Approach.Chain chain, Sink sink) {
        Optional<Uplink> line = chain.line();
        List<IpAddress> at = chain.addresses(office);
        if (e.host() instanceof Host.Literal literal) {
            if (line.filter(u -> u.kind() == Uplink.Kind.CHANGING).isPresent()) {
                sink.listener(
                                Rule.ENDPOINT_LITERAL_ON_CHANGING_LINE,
                                g,
                                l,
                                "endpoint " + e + ", " + chain.outermost().name() + " has a "
                                        + line.get().words())
                        .remedy("tender gateway set " + g.name() + " --endpoint "
                                + line.get().name().map(Object::toString).orElse("NAME"))
                        .put();
            } else if (!at.isEmpty() && !at.contains(literal.address())) {
                sink.listener(Rule.ENDPOINT_ADDRESS_DIFFERS, g, l, "endpoint " + e + ", the line is at " + at.get(0))
                        .remedy(set(g))
                        .put();
            }
            return;
        }
        HostName name = (HostName) e.host();
        List<IpAddress> leads = office.names().get(name);
        if (leads == null) {
            return; // not looked up yet
        }
        if (leads.isEmpty()) {
            sink.listener(Rule.ENDPOINT_NAME_UNKNOWN, g, l, name + " has no address in DNS")
                    .put();
        } else if (!at.isEmpty() && leads.stream().noneMatch(at::contains)) {
            sink.listener(
                            Rule.ENDPOINT_NAME_ELSEWHERE,
                            g,
                            l,
                            name + " resolves to " + leads.get(0) + ", "
                                    + chain.outermost().name() + " is at " + at.get(0))
                    .remedy("Let " + name + " follow " + at.get(0) + " at its provider; files need no change")
                    .put();
        }
    }
}
