package tender.standins.firewall;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.PortRange;
import tender.core.office.Protocol.PortSpec;
import tender.core.office.Side;
import tender.standins.device.DeviceFilter;
import tender.standins.device.Faults;
import tender.standins.device.Journal;
import tender.standins.listener.Callers;
import tender.standins.listener.Connected;
import tender.standins.listener.InsideWorld;
import tender.standins.listener.SimulatedIkeServer;
import tender.standins.listener.SimulatedListener;
import tender.standins.listener.SimulatedOpenVpnServer;

/** The firewall's listeners as they are active: started anew each time the configuration is reloaded. */
final class FirewallListeners implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(FirewallListeners.class);
    private static final int IKE = 500;
    private static final int IKE_NAT = 4500;
    /** A port that the filter shuts is moved where nobody connects. */
    private static final int SHUT = 0;

    private final InetAddress outside;
    private final FirewallKeys keys;
    private final Faults faults;
    private final Journal journal;
    private final List<SimulatedListener> running = new ArrayList<>();
    private String before = "";

    FirewallListeners(InetAddress outside, FirewallKeys keys, Faults faults, Journal journal) {
        this.outside = outside;
        this.keys = keys;
        this.faults = faults;
        this.journal = journal;
    }

    synchronized void reload(JsonNode document) throws IOException {
        String now = document.path("listeners").toString()
                + document.path("filter")
                + keys.believed("-").size()
                + keys.passwords().keySet();
        for (JsonNode l : document.path("listeners")) {
            now += keys.revoked(l.path("name").asText());
        }
        if (now.equals(before)) {
            return;
        }
        before = now;
        close();
        Filter filter = filter(document.path("filter"));
        for (JsonNode l : document.path("listeners")) {
            String name = l.path("name").asText();
            try {
                start(document, name, l.path("values"), filter).ifPresent(running::add);
            } catch (IOException | RuntimeException e) {
                LOG.info("{} does not start: {}", name, e.getMessage());
                journal.say(name + " does not start: " + e.getMessage());
            }
        }
    }

    private static Filter filter(JsonNode filter) {
        List<FilterRule> rules = new ArrayList<>();
        filter.path("rules")
                .forEach(r -> rules.add(new FilterRule(
                        r.path("allow").asBoolean(),
                        r.path("toDevice").asBoolean(),
                        text(r, "via").map(Side::parse),
                        text(r, "transport").map(FirewallListeners::transport),
                        PortRange.parse(r.path("ports").asText()),
                        text(r, "source").map(Cidr::parse),
                        text(r, "destination").map(Cidr::parse),
                        r.path("label").asText())));
        return new Filter(rules, filter.path("otherwiseAllow").asBoolean());
    }

    private static Transport transport(String word) {
        return Transport.valueOf(word.toUpperCase(Locale.ROOT));
    }

    private static Optional<String> text(JsonNode node, String field) {
        return node.hasNonNull(field) ? Optional.of(node.path(field).asText()) : Optional.empty();
    }

    private static List<String> words(JsonNode values, String field) {
        return text(values, field).stream()
                .flatMap(v -> Arrays.stream(v.split("\\s*,\\s*")))
                .toList();
    }

    private Optional<SimulatedListener> start(JsonNode document, String name, JsonNode values, Filter filter)
            throws IOException {
        String bind = text(values, "bind").orElse("any");
        boolean outward = bind.equals("any") || bind.startsWith("line-");
        String protocol = values.path("protocol").asText();
        if (!outward || !protocol.equals("openvpn") && !protocol.equals("ikev2")) {
            return Optional.empty();
        }
        List<String> names = words(values, "server-names");
        var shown = keys.shown(
                name,
                names.isEmpty() ? List.of("gatehouse") : names,
                text(values, "certificate-expires").map(Instant::parse));
        Callers callers = new Callers(
                keys.believed(name),
                keys.revoked(name),
                text(values, "revocation-list-expires").map(Instant::parse),
                keys.passwords());
        Cidr tunnels = Cidr.parse(values.path("tunnel-network").asText());
        List<Cidr> reach = words(values, "reach").stream().map(Cidr::parse).toList();
        Optional<IpAddress> dns = words(values, "dns").stream().findFirst().map(IpAddress::parse);
        boolean accounts = !values.path("accounts").asText("none").equals("none");
        if (protocol.equals("ikev2")) {
            return Optional.of(SimulatedIkeServer.start(
                    new SimulatedIkeServer.Setup(
                            name,
                            outside,
                            admitted(filter, Transport.UDP, IKE),
                            admitted(filter, Transport.UDP, IKE_NAT),
                            names.isEmpty() ? "gatehouse" : names.get(0),
                            shown,
                            tunnels,
                            reach.isEmpty() ? List.of(Cidr.EVERYTHING_V4) : reach,
                            dns,
                            Optional.empty(),
                            callers),
                    world(document),
                    faults,
                    journal));
        }
        Transport transport = transport(text(values, "transport").orElse("udp"));
        return Optional.of(SimulatedOpenVpnServer.start(
                new SimulatedOpenVpnServer.Setup(
                        name,
                        transport,
                        new InetSocketAddress(
                                outside,
                                admitted(filter, transport, values.path("port").asInt())),
                        shown,
                        text(values, "control-channel-key").orElse("none"),
                        keys.staticKey(),
                        text(values, "digest").orElse("SHA256"),
                        words(values, "ciphers"),
                        values.path("client-certificate").asText("yes").equals("yes"),
                        accounts,
                        false,
                        tunnels,
                        reach,
                        dns,
                        callers),
                world(document),
                faults,
                journal));
    }

    private static int admitted(Filter filter, Transport transport, int port) {
        return DeviceFilter.admits(filter, new PortSpec(transport, new Port(port))) ? port : SHUT;
    }

    private InsideWorld world(JsonNode document) {
        Set<IpAddress> hosts = new HashSet<>();
        text(document, "insideHost").map(IpAddress::parse).ifPresent(hosts::add);
        document.path("interfaces").forEach(i -> {
            if (i.path("side").asText().equals("inside")) {
                i.path("addresses")
                        .forEach(a -> hosts.add(IpAddress.parse(a.asText().split("/")[0])));
            }
        });
        IpAddress host = text(document, "insideHost").map(IpAddress::parse).orElse(IpAddress.parse("127.0.0.1"));
        return new InsideWorld(
                hosts, IpAddress.parse("10.20.0.53"), Map.of("files.skerrivane.example", host), outside, faults);
    }

    synchronized List<Connected> connected() {
        return running.stream().flatMap(l -> l.connected().stream()).toList();
    }

    @Override
    public synchronized void close() throws IOException {
        for (SimulatedListener l : running) {
            l.close();
        }
        running.clear();
    }
}
