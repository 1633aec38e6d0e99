package tender.core.profile;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import tender.core.network.Cidr;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.wire.ParseProblem;

/**
 * Whether OpenVPN 2.6 begins with the file of a server of many clients: which directives are none of a server's, which networks
 * it hands out addresses from, and which parts must not be missing.
 */
final class OpenVpnServing {
    static final String NO_DH = "no dh: a file of parameters, or none";

    private static final List<String> OF_CLIENTS = List.of(
            "tls-client",
            "secret",
            "remote",
            "connection",
            "nobind",
            "http-proxy",
            "socks-proxy",
            "shaper",
            "ipchange",
            "redirect-gateway",
            "redirect-private",
            "route-delay",
            "up-delay",
            "allow-recursive-routing",
            "auth-user-pass");
    private static final List<String> NETWORKS = List.of("server", "server-ipv6", "server-bridge");
    private static final List<String> OF_PASSWORDS = List.of("username-as-common-name", "auth-user-pass-optional");

    private static final long HAND_WINDOW = 60;

    private final OpenVpnSaid said;
    private final OpenVpnFile file;

    OpenVpnServing(OpenVpnSaid said) {
        this.said = said;
        this.file = said.file();
    }

    /** Whether it is such a file: it serves, and nothing says that it calls. */
    static boolean isServer(OpenVpnSaid said) {
        return (said.is("mode", "server") || NETWORKS.stream().anyMatch(said::has))
                && !said.has("client")
                && !said.has("pull");
    }

    Optional<ParseProblem> refusal() {
        return Stream.concat(
                        OF_CLIENTS.stream().map(name -> said.only(name, true, "belongs to clients")),
                        Stream.of(network(), bridge(), pool(), transport(), passwords(), parts()))
                .flatMap(Optional::stream)
                .findFirst();
    }

    /** @param kind tun or tap */
    private boolean isOf(String kind) {
        return file.last("dev-type")
                .or(() -> file.last("dev"))
                .flatMap(d -> d.word(0))
                .filter(said -> said.startsWith(kind))
                .isPresent();
    }

    /** The network of addresses is whole, and not too small. */
    private Optional<ParseProblem> network() {
        Optional<Directive> server = file.last("server");
        if (server.isEmpty()) {
            return OpenVpnSaid.missing(
                    said.has("server-ipv6") || said.has("server-bridge") || said.has("tls-server"),
                    "mode server without tls-server");
        }
        int bits = OpenVpnValues.served(server.get()).map(Cidr::prefix).orElse(0);
        return said.clash("server", "server-bridge")
                .or(() -> said.only("server", !isOf("tap") && !isOf("tun"), "goes with dev tun or dev tap"))
                .or(() -> said.only("server", bits > (isOf("tap") ? 30 : 29), "has too few addresses"))
                .or(() -> said.only("server", bits < 16, "is no network, or has too many addresses"))
                .or(() -> said.only(
                        "server-ipv6", server.get().word(2).isPresent(), "contradicts a server without a pool"))
                .or(() -> server.get().word(2).isPresent() ? Optional.empty() : said.clash("server", "ifconfig-pool"));
    }

    private Optional<ParseProblem> bridge() {
        return said.only("server-bridge", !isOf("tap"), "goes with dev tap")
                .or(() -> said.clash("server-bridge", "server-ipv6"))
                .or(() -> said.clash("server-bridge", "ifconfig-pool"));
    }

    private Optional<ParseProblem> pool() {
        boolean some = said.has("ifconfig-pool")
                || said.has("ifconfig-ipv6-pool")
                || NETWORKS.stream()
                        .flatMap(n -> file.last(n).stream())
                        .anyMatch(d -> !d.words().contains("nopool"));
        return said.only("ifconfig-pool-persist", !some, "needs ifconfig-pool or ifconfig-ipv6-pool")
                .or(() -> said.only(
                        "ifconfig-pool",
                        file.last("ifconfig-pool").flatMap(d -> d.word(2)).isPresent() && !isOfSubnets(),
                        "its third word goes with dev tap, or topology subnet"))
                .or(() -> said.clash("server-ipv6", "ifconfig-ipv6-pool"))
                .or(() -> said.only("ifconfig-ipv6-pool", !said.has("ifconfig-ipv6"), "needs ifconfig-ipv6"));
    }

    private boolean isOfSubnets() {
        return isOf("tap") || isOf("tun") && said.is("topology", "subnet");
    }

    private Optional<ParseProblem> transport() {
        String proto = file.last("proto").flatMap(d -> d.word(0)).orElse("udp");
        boolean tcp = proto.startsWith("tcp");
        return said.only("proto", proto.endsWith("client"), "belongs to clients")
                .or(() -> said.only("port-share", !tcp, "goes with TCP alone"))
                .or(() -> said.only("connect-freq", tcp, "goes with UDP alone"))
                .or(() -> said.only("fragment", tcp, "goes with UDP alone"));
    }

    private Optional<ParseProblem> passwords() {
        boolean some = said.has("auth-user-pass-verify") || said.has("plugin") || said.has("management-client-auth");
        boolean open = file.last("verify-client-cert")
                .flatMap(d -> d.word(0))
                .filter(w -> !w.equals("require"))
                .isPresent();
        String what = "needs auth-user-pass-verify, a plugin, or management-client-auth";
        return said.only("verify-client-cert", open && !some, what)
                .or(() -> OF_PASSWORDS.stream()
                        .flatMap(n -> said.only(n, !some, what).stream())
                        .findFirst())
                .or(() -> said.only("ccd-exclusive", !said.has("client-config-dir"), "needs client-config-dir"))
                .or(() -> said.only(
                        "auth-gen-token", said.is("reneg-sec", "0"), "needs keys that are renewed; reneg-sec is 0"))
                .or(() -> said.only(
                        "auth-gen-token", isRenewedTooOften(), "is renewed more often than twice hand-window"))
                .or(() -> said.only("vlan-tagging", !isOf("tap"), "goes with dev tap"))
                .or(() -> said.only("vlan-pvid", !said.has("vlan-tagging"), "needs vlan-tagging"));
    }

    private boolean isRenewedTooOften() {
        long window =
                file.last("hand-window").map(d -> OpenVpnValues.number(d, 0)).orElse(HAND_WINDOW);
        long renewal =
                file.last("auth-gen-token").map(d -> OpenVpnValues.number(d, 1)).orElse(0L);
        return renewal > 0 && renewal < 2 * window;
    }

    private Optional<ParseProblem> parts() {
        boolean store = said.has("pkcs12");
        return OpenVpnSaid.missing(said.has("dh"), NO_DH)
                .or(() -> OpenVpnSaid.missing(
                        store || said.has("ca") || said.has("capath") || said.has("peer-fingerprint"),
                        "no ca, capath or peer-fingerprint to check clients by"))
                .or(() -> OpenVpnSaid.missing(store || said.has("cert"), "no certificate of the server's"))
                .or(() -> OpenVpnSaid.missing(store || said.has("key"), "no key to the server's certificate"));
    }
}
