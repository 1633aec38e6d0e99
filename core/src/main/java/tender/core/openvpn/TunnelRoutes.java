package tender.core.openvpn;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.profile.OpenVpnFile;
import tender.core.wire.MalformedException;

/**
 * Which addresses a client sends into the tunnel, as its routing table would say after the file's own lines and what was taken
 * of the server's: the longest prefix decides, and of equal ones the last, which takes the place of the others.
 */
public final class TunnelRoutes {
    /** What IPv6 through the tunnel means to the real client: all that is in use of it. */
    private static final List<Cidr> ALL_V6 = List.of(Cidr.parse("2000::/3"), Cidr.parse("fc00::/7"));

    private record Entry(Cidr network, boolean inside) {}

    private final List<Entry> entries = new ArrayList<>();
    private Optional<IpAddress> routeGateway = Optional.empty();
    private Optional<IpAddress> otherEnd = Optional.empty();

    private TunnelRoutes() {}

    /** @param pushed what was taken of the server's options */
    public static TunnelRoutes of(OpenVpnFile file, Pushed pushed) {
        TunnelRoutes out = new TunnelRoutes();
        List<List<String>> lines = Stream.concat(
                        file.directives().stream()
                                .filter(d -> d.block().isEmpty())
                                .map(d -> Stream.concat(Stream.of(d.name()), d.words().stream())
                                        .toList()),
                        pushed.options().stream().map(o -> List.of(o.split(" +"))))
                .toList();
        lines.forEach(l -> out.tried(() -> out.own(l)));
        lines.forEach(l -> out.tried(() -> out.line(l)));
        return out;
    }

    private void tried(Runnable read) {
        try {
            read.run();
        } catch (MalformedException e) {
            // a line that cannot be read routes nothing; the file's own are told elsewhere
        }
    }

    private static Optional<String> word(List<String> line, int index) {
        return line.size() > index ? Optional.of(line.get(index)) : Optional.empty();
    }

    /** The tunnel's own network, and where its routes lead by default. */
    private void own(List<String> line) {
        switch (line.get(0)) {
            case "ifconfig" -> {
                IpAddress own = IpAddress.parse(word(line, 1).orElse(""));
                IpAddress second = IpAddress.parse(word(line, 2).orElse(""));
                boolean mask = second.toString().startsWith("255.");
                entries.add(new Entry(mask ? Cidr.ofMask(own, second) : Cidr.host(second), true));
                otherEnd = mask ? otherEnd : Optional.of(second);
            }
            case "ifconfig-ipv6" -> {
                String[] own = word(line, 1).orElse("").split("/");
                entries.add(new Entry(Cidr.of(IpAddress.parse(own[0]), own.length > 1 ? length(own[1]) : 128), true));
            }
            case "route-gateway" ->
                routeGateway = word(line, 1).filter(w -> !w.equals("dhcp")).map(IpAddress::parse);
            default -> {}
        }
    }

    private void line(List<String> line) {
        switch (line.get(0)) {
            case "route" -> route(line);
            case "route-ipv6" -> {
                String[] network = word(line, 1).orElse("").split("/");
                Cidr to = Cidr.of(IpAddress.parse(network[0]), network.length > 1 ? length(network[1]) : 128);
                entries.add(new Entry(to, isInside(word(line, 2))));
            }
            case "redirect-gateway" -> {
                if (!line.contains("!ipv4") && gateway().isPresent()) {
                    entries.add(new Entry(Cidr.EVERYTHING_V4, true));
                }
                if (line.contains("ipv6")) {
                    ALL_V6.forEach(n -> entries.add(new Entry(n, true)));
                }
            }
            default -> {}
        }
    }

    private void route(List<String> line) {
        String target = word(line, 1).orElse("");
        if (target.equals("vpn_gateway")) {
            gateway().ifPresent(g -> entries.add(new Entry(Cidr.host(g), true)));
        } else if (!target.equals("net_gateway") && !target.equals("remote_host")) {
            IpAddress mask = word(line, 2)
                    .filter(m -> !m.equals("default"))
                    .map(IpAddress::parse)
                    .orElse(IpAddress.parse("255.255.255.255"));
            Cidr network = Cidr.ofMask(IpAddress.parse(target), mask);
            boolean byDefault = word(line, 3)
                    .filter(g -> !g.equals("default") && !g.equals("vpn_gateway"))
                    .isEmpty();
            if (!byDefault || gateway().isPresent()) {
                entries.add(new Entry(network, isInside(word(line, 3))));
            }
        }
    }

    /** Where routes lead that name no gateway; without one the real client leaves them out. */
    private Optional<IpAddress> gateway() {
        return routeGateway.or(() -> otherEnd);
    }

    /** Whether a route by this gateway leads into the tunnel. */
    private boolean isInside(Optional<String> gateway) {
        String by = gateway.orElse("default");
        if (by.equals("default") || by.equals("vpn_gateway")) {
            return true;
        }
        if (by.startsWith("net_gateway") || by.equals("remote_host")) {
            return false;
        }
        IpAddress address = IpAddress.parse(by);
        return gateway().filter(address::equals).isPresent()
                || entries.stream().anyMatch(e -> e.inside() && e.network().contains(address));
    }

    private static int length(String text) {
        if (!text.matches("[0-9]{1,3}")) {
            throw new MalformedException("route", "", "is written ADDRESS/LENGTH");
        }
        return Integer.parseInt(text);
    }

    /** The networks that are sent into the tunnel, narrower ones kept out of them not taken off. */
    public List<Cidr> networks() {
        return entries.stream().filter(Entry::inside).map(Entry::network).toList();
    }

    /** Whether packets for an address go into the tunnel. */
    public boolean leadIn(IpAddress address) {
        Optional<Entry> best = Optional.empty();
        for (Entry e : entries) {
            boolean better = e.network().contains(address)
                    && best.filter(b -> b.network().prefix() > e.network().prefix())
                            .isEmpty();
            if (better) {
                best = Optional.of(e);
            }
        }
        return best.filter(Entry::inside).isPresent();
    }
}
