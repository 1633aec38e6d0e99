package tender.core.profile;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import tender.core.network.Transport;
import tender.core.wire.ParseProblem;

/** Whether OpenVPN 2.6 begins with the file of one end of a tunnel: a client's, or that of a tunnel between two. */
final class OpenVpnCalling {
    /** What only a server of many clients may say. */
    private static final List<String> OF_SERVERS = List.of(
            "client-to-client",
            "duplicate-cn",
            "ifconfig-pool",
            "ifconfig-pool-persist",
            "verify-client-cert",
            "auth-gen-token",
            "ccd-exclusive",
            "client-config-dir",
            "client-connect",
            "client-disconnect",
            "auth-user-pass-verify",
            "username-as-common-name",
            "auth-user-pass-optional",
            "port-share");

    private static final Set<String> WAYS_IN = Set.of(
            "cert",
            "pkcs12",
            "auth-user-pass",
            "pkcs11-id",
            "pkcs11-id-management",
            "cryptoapicert",
            "management-external-cert",
            "management-external-key");

    private final OpenVpnSaid said;
    private final OpenVpnFile file;

    OpenVpnCalling(OpenVpnSaid said) {
        this.said = said;
        this.file = said.file();
    }

    Optional<ParseProblem> refusal() {
        return Stream.<Optional<ParseProblem>>of(
                        said.clash("client", "server"),
                        said.clash("client", "server-bridge"),
                        said.clash("client", "server-ipv6"),
                        said.clash("pull", "server"),
                        said.clash("pull", "server-bridge"),
                        said.clash("pull", "server-ipv6"),
                        said.clash("secret", "client"),
                        said.clash("secret", "tls-client"),
                        said.only("mode", said.is("mode", "server"), "contradicts client"),
                        transport(),
                        trust(),
                        OF_SERVERS.stream()
                                .flatMap(n -> said.only(n, true, "belongs to servers").stream())
                                .findFirst())
                .flatMap(Optional::stream)
                .findFirst();
    }

    private Optional<ParseProblem> transport() {
        List<OpenVpnClient.Call> calls =
                OpenVpnClient.of(new OpenVpnFile.Reading(file, List.of())).calls();
        boolean tcp = calls.stream().anyMatch(c -> c.transport() == Transport.TCP);
        boolean udp = calls.isEmpty() || calls.stream().anyMatch(c -> c.transport() == Transport.UDP);
        return said.only("http-proxy", udp, "goes with TCP alone")
                .or(() -> said.only("fragment", tcp, "goes with UDP alone"))
                .or(() -> said.only("mtu-test", tcp, "goes with UDP alone"))
                .or(() -> OpenVpnSaid.missing(
                        !calls.isEmpty() || !unbound() && !isTcpCaller(), "no remote: nobody is called"))
                .or(this::ambiguous);
    }

    /** Whether it takes no port of its own, as clients do that say nothing of it. */
    private boolean unbound() {
        return said.has("nobind")
                || said.has("client") && !said.has("bind") && !said.has("local") && !said.has("lport");
    }

    private boolean isTcpCaller() {
        return file.last("proto")
                .flatMap(d -> d.word(0))
                .filter(p -> p.matches(said.has("client") ? "tcp[46]?(-client)?" : "tcp[46]?-client"))
                .isPresent();
    }

    private Optional<ParseProblem> ambiguous() {
        return Stream.concat(file.all("proto").stream(), file.all("remote").stream())
                .filter(d -> !said.has("client"))
                .filter(d -> d.word(d.name().equals("proto") ? 0 : 2)
                        .filter(w -> w.matches("tcp[46]?"))
                        .isPresent())
                .findFirst()
                .flatMap(d -> OpenVpnSaid.problem(d, "tcp without client; OpenVPN 2.6 wants tcp-client"));
    }

    private Optional<ParseProblem> trust() {
        boolean tls = said.has("client") || said.has("tls-client") || said.has("tls-server");
        boolean pair = said.has("pkcs12")
                || WAYS_IN.stream()
                        .filter(w -> !w.equals("cert") && !w.equals("auth-user-pass"))
                        .anyMatch(said::has);
        return OpenVpnSaid.missing(
                        tls || !(said.has("ca") || said.has("cert") || said.has("key")),
                        "certificates without client or tls-client")
                .or(() -> said.clash("secret", "tls-server"))
                .or(() -> OpenVpnSaid.missing(!said.has("tls-server") || said.has("dh"), OpenVpnServing.NO_DH))
                .or(() -> OpenVpnSaid.missing(
                        !tls
                                || said.has("ca")
                                || said.has("capath")
                                || said.has("pkcs12")
                                || said.has("peer-fingerprint"),
                        "no ca, capath or peer-fingerprint to check the server by"))
                .or(() -> OpenVpnSaid.missing(
                        !tls || pair || said.has("cert") == said.has("key"), "one of cert and key without the other"))
                .or(() -> OpenVpnSaid.missing(
                        !tls || said.has("key") || WAYS_IN.stream().anyMatch(said::has),
                        "neither a certificate nor auth-user-pass"))
                .or(() ->
                        said.only("auth-user-pass", !(said.has("client") || said.has("pull")), "needs client or pull"));
    }
}
