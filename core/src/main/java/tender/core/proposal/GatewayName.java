package tender.core.proposal;

import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import tender.core.network.Host;
import tender.core.network.HostName;

/** What a gateway is called of which only client files are known: after the host that they call, else after their folder or archive. */
final class GatewayName {
    private static final Set<String> COMMON = Set.of(
            "vpn",
            "gw",
            "gateway",
            "remote",
            "access",
            "www",
            "ras",
            "ovpn",
            "openvpn",
            "wg",
            "wireguard",
            "firewall",
            "fw",
            "router",
            "nas",
            "mail",
            "ipsec",
            "ikev2",
            "office",
            "client",
            "clients",
            "files",
            "export",
            "zip",
            "tar",
            "gz",
            "tgz",
            "config",
            "configs",
            "profiles",
            "download",
            "downloads");
    private static final int MAX = 30;

    private GatewayName() {}

    static String of(List<Host> hosts, List<Grouping.Read> files, int number, Set<String> taken) {
        String base = hosts.stream()
                .flatMap(h -> host(h).stream())
                .findFirst()
                .or(() -> place(files))
                .orElse("gateway-" + number);
        String name = base;
        for (int n = 2; taken.contains(name); n++) {
            name = base + "-" + n;
        }
        return name;
    }

    /** The first label that says more than that it is a gateway; without the last two, which are the company's. */
    private static Optional<String> host(Host host) {
        if (!(host instanceof HostName name)) {
            return Optional.empty();
        }
        List<String> labels = List.of(name.text().split("\\."));
        List<String> own = labels.subList(0, Math.max(1, labels.size() - 2));
        return own.stream()
                .filter(l -> !COMMON.contains(l))
                .findFirst()
                .or(() -> own.stream().findFirst())
                .map(GatewayName::shortened);
    }

    /** A word of the folder or archive that several files lie in together; one that only one lies in may be a person's. */
    private static Optional<String> place(List<Grouping.Read> files) {
        if (files.size() == 1) {
            return Optional.empty();
        }
        Set<String> shared = new LinkedHashSet<>(places(files.get(0)));
        files.forEach(f -> shared.retainAll(places(f)));
        return shared.stream().findFirst().map(GatewayName::shortened);
    }

    private static List<String> places(Grouping.Read f) {
        String[] parts = f.file().path().split("/");
        return Arrays.stream(parts)
                .limit(Math.max(0, parts.length - 1))
                .flatMap(p -> Stream.of(p.toLowerCase(Locale.ROOT).split("[^a-z0-9]+")))
                .filter(w -> !w.isEmpty() && !COMMON.contains(w))
                .toList();
    }

    private static String shortened(String text) {
        String cut = text.length() > MAX ? text.substring(0, MAX) : text;
        return cut.replaceFirst("-+$", "");
    }

    /** Words by which files and people's names may speak of the gateway. */
    static Set<String> words(List<Host> hosts, String name) {
        return Stream.concat(hosts.stream().map(Host::toString), Stream.of(name))
                .flatMap(t -> Stream.of(t.toLowerCase(Locale.ROOT).split("[^a-z0-9]+")))
                .collect(Collectors.toSet());
    }

    /** {@code nas} or {@code firewall} where its hosts or its files' places say so. */
    static String kind(List<Host> hosts, List<Grouping.Read> files) {
        Set<String> words =
                words(hosts, files.stream().map(f -> f.file().path()).collect(Collectors.joining(" ")));
        return words.contains("nas")
                ? "nas"
                : words.contains("firewall") || words.contains("fw") ? "firewall" : "router";
    }
}
