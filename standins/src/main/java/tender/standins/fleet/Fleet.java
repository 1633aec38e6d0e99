package tender.standins.fleet;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.HostName;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.office.Attribute;
import tender.core.office.Device;
import tender.core.office.Filter;
import tender.core.office.FilterRule;
import tender.core.office.Listener;
import tender.core.office.Network;
import tender.core.office.Office;
import tender.core.office.PortRange;
import tender.core.office.Protocol.PortSpec;
import tender.core.office.Side;
import tender.core.office.Uplink;

/** A company of many gateways, each with four listeners; a few in a hundred have something wrong. */
public final class Fleet {
    private static final Instant NOW = Instant.parse("2026-11-23T10:00:00Z");
    private static final int LISTENERS = 4;
    private static final int IN_A_HUNDRED = 3;

    private final Random random = new Random(7);
    private final int gateways;
    private final int issuedProfiles;

    private Fleet(int gateways, int issuedProfiles) {
        this.gateways = gateways;
        this.issuedProfiles = issuedProfiles;
    }

    public static Office office(int gateways, int issuedProfiles) {
        return new Fleet(gateways, issuedProfiles).office();
    }

    private boolean wrong() {
        return random.nextInt(100) < IN_A_HUNDRED;
    }

    private Office office() {
        List<Office.Site> sites = new ArrayList<>();
        Map<String, Office.Gateway> all = new LinkedHashMap<>();
        Map<HostName, List<IpAddress>> names = new LinkedHashMap<>();
        for (int i = 0; i < gateways; i++) {
            Cidr network = Cidr.of(IpAddress.parse("10.0.0.0").plus(0x20_0000L + i * 256L), 24);
            sites.add(new Office.Site(
                    "s" + i, "site-" + i, "company", "Europe/Oslo", List.of(Network.plain("office", network))));
            IpAddress outside = IpAddress.parse("198.18.0.0").plus(i + 1);
            HostName name = HostName.parse("gw" + i + ".skerrivane.example");
            names.put(name, List.of(outside));
            all.put("gw" + i, gateway(i, network, outside, name));
        }
        List<Office.IssuedProfile> held = new ArrayList<>();
        for (int i = 0; i < issuedProfiles; i++) {
            held.add(issued(i, i % gateways, (i / gateways) % LISTENERS));
        }
        return new Office(NOW, sites, all, List.of(), held, names);
    }

    private Office.Gateway gateway(int i, Cidr network, IpAddress outside, HostName name) {
        List<FilterRule> rules = new ArrayList<>();
        List<Listener> listeners = new ArrayList<>();
        for (int l = 0; l < LISTENERS; l++) {
            listeners.add(listener(i, l));
            if (!wrong()) {
                rules.add(FilterRule.allowPort(new PortSpec(Transport.UDP, new Port(51820 + l)), "listener " + l));
            }
        }
        rules.add(new FilterRule(
                true,
                false,
                Optional.of(Side.TUNNEL),
                Optional.empty(),
                PortRange.ANY,
                Optional.empty(),
                Optional.of(network),
                ""));
        Device device = new Device(
                "Tidewright",
                "Pier 4",
                "3.2.1",
                Optional.of("Europe/Oslo"),
                Optional.of(Duration.ofSeconds(wrong() ? 400 : 1)),
                Optional.empty(),
                List.of(new Device.Interface("wan", Side.OUTSIDE, List.of(new InterfaceAddress(outside, 24)))),
                List.of(),
                List.of(Uplink.of(Uplink.Kind.FIXED, Optional.of(outside), Optional.of(name))),
                List.of(),
                new Filter(rules, false),
                listeners,
                List.of());
        return new Office.Gateway(
                "g" + i,
                "gw" + i,
                "site-" + i,
                "router",
                true,
                Optional.of(NOW),
                Optional.empty(),
                Optional.of(NOW),
                device,
                List.of(),
                List.of(),
                Office.Factory.CHANGED,
                Optional.of("3.2.0"),
                0,
                0,
                false,
                List.of());
    }

    private Listener listener(int i, int l) {
        // a few give out addresses that another listener gives out too
        int number = wrong() ? random.nextInt(gateways * LISTENERS) : i * LISTENERS + l;
        Cidr tunnel = Cidr.of(IpAddress.parse("10.128.0.0").plus(number * 256L), 24);
        return new Listener(
                "wg" + l,
                Map.of(
                        Attribute.PROTOCOL, "wireguard",
                        Attribute.TRANSPORT, "udp",
                        Attribute.PORT, Integer.toString(51820 + l),
                        Attribute.TUNNEL_NETWORK, tunnel.toString(),
                        Attribute.PUBLIC_KEY, "KEY" + i + "-" + l,
                        Attribute.PEERS, "25",
                        Attribute.ACTIVE, "yes"));
    }

    private Office.IssuedProfile issued(int i, int gateway, int listener) {
        return new Office.IssuedProfile(
                "p" + i,
                "person" + i + "-phone-gw" + gateway,
                "Person " + i,
                "person" + i,
                "gw" + gateway,
                "wg" + listener,
                Map.of(
                        Attribute.PORT,
                        Integer.toString(51820 + listener),
                        Attribute.PUBLIC_KEY,
                        wrong() ? "OLDKEY" : "KEY" + gateway + "-" + listener),
                List.of(new Endpoint(
                        HostName.parse("gw" + gateway + ".skerrivane.example"),
                        new Port(51820 + listener),
                        Transport.UDP)),
                false,
                Optional.empty());
    }
}
