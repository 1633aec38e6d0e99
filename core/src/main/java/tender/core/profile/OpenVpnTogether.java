package tender.core.profile;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import tender.core.network.IpAddress;
import tender.core.network.Transport;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.wire.MalformedException;
import tender.core.wire.Problem;

/**
 * Whether OpenVPN 2.6 begins with a client's file whose lines it takes: what single words may be, which directives contradict
 * each other, and which must not be missing. Whether parts in other files are there is not judged.
 */
final class OpenVpnTogether {
    private static final Set<String> PROTOCOLS = Set.of(
            "udp",
            "udp4",
            "udp6",
            "tcp",
            "tcp4",
            "tcp6",
            "tcp-client",
            "tcp4-client",
            "tcp6-client",
            "tcp-server",
            "tcp4-server",
            "tcp6-server");
    private static final Set<String> REDIRECTS =
            Set.of("autolocal", "local", "def1", "bypass-dhcp", "bypass-dns", "block-local", "ipv6", "!ipv4");
    private static final Pattern CIPHER =
            Pattern.compile("(?i)(AES|ARIA|CAMELLIA)-(128|192|256)-(CBC|CFB|CFB1|CFB8|OFB)"
                    + "|(AES|ARIA)-(128|192|256)-GCM|SM4-(CBC|CFB|OFB)|DES-EDE3?-(CBC|CFB|OFB)|DES-EDE3-CFB[18]"
                    + "|CHACHA20-POLY1305|none");
    private static final Pattern FINGERPRINT = Pattern.compile("(?i)[0-9a-f]{1,2}(:[0-9a-f]{1,2}){31}");
    private static final List<String> VERSIONS = List.of("1.0", "1.1", "1.2", "1.3");

    /** Which first word a directive takes, where it says more than that there is one. */
    private static final Map<String, Set<String>> FIRST = Map.ofEntries(
            Map.entry("topology", Set.of("net30", "p2p", "subnet")),
            Map.entry("key-direction", Set.of("0", "1")),
            Map.entry("proto", PROTOCOLS),
            Map.entry("comp-lzo", Set.of("", "yes", "no", "adaptive")),
            Map.entry("compress", Set.of("", "stub", "stub-v2", "lzo", "lz4", "lz4-v2", "migrate")),
            Map.entry("allow-compression", Set.of("yes", "no", "asym")),
            Map.entry("remote-cert-tls", Set.of("client", "server")),
            Map.entry("ns-cert-type", Set.of("client", "server")),
            Map.entry("pull-filter", Set.of("accept", "ignore", "reject")),
            Map.entry("auth-retry", Set.of("none", "nointeract", "interact")),
            Map.entry("tls-version-max", Set.copyOf(VERSIONS)),
            Map.entry("mode", Set.of("p2p", "server")),
            Map.entry("dns", Set.of("server", "search-domains")));

    /** What only a server may say. */
    private static final Set<String> OF_SERVERS = Set.of(
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

    private final OpenVpnFile file;

    private OpenVpnTogether(OpenVpnFile file) {
        this.file = file;
    }

    static Optional<Problem> refusal(OpenVpnFile file) {
        OpenVpnTogether all = new OpenVpnTogether(file);
        boolean client = all.has("client") || all.has("tls-client") || all.has("pull");
        boolean server = all.has("server") || all.has("server-bridge") || all.has("tls-server") || all.isMode("server");
        if (server && !client) {
            return Optional.empty();
        }
        return file.directives().stream()
                .flatMap(d -> all.word(d).stream())
                .findFirst()
                .or(all::together);
    }

    private boolean has(String name) {
        return file.has(name);
    }

    private boolean isMode(String mode) {
        return file.last("mode").flatMap(d -> d.word(0)).filter(mode::equals).isPresent();
    }

    private static Optional<Problem> problem(Directive d, String what) {
        return Optional.of(new Problem(d.line(), "refused", d.name() + ": " + what));
    }

    private static Optional<Problem> wrongUnless(boolean right, Directive d) {
        return right ? Optional.empty() : problem(d, "a value that OpenVPN 2.6 does not take");
    }

    private Optional<Problem> word(Directive d) {
        if (d.block().isPresent() && !d.name().equals("peer-fingerprint")) {
            return Optional.empty();
        }
        Set<String> first = FIRST.get(d.name());
        if (first != null) {
            return wrongUnless(first.contains(d.word(0).orElse("")), d);
        }
        return switch (d.name()) {
            case "remote" -> wrongUnless(d.word(2).map(PROTOCOLS::contains).orElse(true), d);
            case "tls-auth", "secret" ->
                wrongUnless(d.word(1).map(w -> w.matches("[01]")).orElse(true), d);
            case "verify-x509-name" ->
                wrongUnless(
                        d.word(1)
                                .map(w -> w.matches("subject|name|name-prefix"))
                                .orElse(true),
                        d);
            case "redirect-gateway", "redirect-private" -> wrongUnless(REDIRECTS.containsAll(d.words()), d);
            case "tls-version-min" ->
                wrongUnless(
                        VERSIONS.contains(d.word(0).orElse(""))
                                || d.word(1).filter("or-highest"::equals).isPresent(),
                        d);
            case "ifconfig" -> wrongUnless(d.words().stream().allMatch(OpenVpnTogether::isV4), d);
            case "ifconfig-ipv6" ->
                wrongUnless(
                        d.word(0)
                                        .filter(w -> isV6(w.replaceFirst("/\\d+$", "")))
                                        .isPresent()
                                && d.word(1).map(OpenVpnTogether::isV6).orElse(true),
                        d);
            case "data-ciphers", "ncp-ciphers" -> wrongUnless(ciphers(d.word(0).orElse("")), d);
            case "peer-fingerprint" ->
                wrongUnless(
                        d.block()
                                .map(b -> b.lines()
                                        .map(String::strip)
                                        .filter(l -> !l.isEmpty() && !l.startsWith("#"))
                                        .allMatch(l -> FINGERPRINT.matcher(l).matches()))
                                .orElseGet(() -> FINGERPRINT
                                        .matcher(d.word(0).orElse(""))
                                        .matches()),
                        d);
            case "keepalive" -> wrongUnless(number(d, 1) >= 2 * number(d, 0), d);
            case "shaper" -> wrongUnless(number(d, 0) >= 100 && number(d, 0) <= 100_000_000, d);
            case "setenv" -> wrongUnless(d.word(0).orElse("").length() > 1, d);
            case "client-cert-not-required" -> problem(d, "removed; OpenVPN 2.6 ends on it");
            default -> Optional.empty();
        };
    }

    private static boolean ciphers(String list) {
        return Stream.of(list.split(":"))
                .filter(c -> !c.isEmpty() && !c.startsWith("?"))
                .allMatch(OpenVpnTogether::isCipher);
    }

    static boolean isCipher(String name) {
        return CIPHER.matcher(name).matches();
    }

    private static boolean isV4(String text) {
        return isOf(text, IpAddress.Family.V4);
    }

    private static boolean isV6(String text) {
        return isOf(text, IpAddress.Family.V6);
    }

    private static boolean isOf(String text, IpAddress.Family family) {
        try {
            return IpAddress.parse(text).family() == family;
        } catch (MalformedException e) {
            return false;
        }
    }

    /** As atoi(3) reads it. */
    private static long number(Directive d, int word) {
        String digits = d.word(word).orElse("").replaceFirst("^\\s*([+-]?\\d{1,15}).*$", "$1");
        return digits.matches("[+-]?\\d+") ? Long.parseLong(digits) : 0;
    }

    private Optional<Problem> together() {
        return Stream.<Optional<Problem>>of(
                        missing(has("dev"), "no dev: which kind of tunnel"),
                        clash("client", "server"),
                        clash("client", "server-bridge"),
                        clash("pull", "server"),
                        clash("nobind", "lport"),
                        clash("nobind", "local"),
                        clash("nobind", "bind"),
                        pings(),
                        clash("tun-mtu", "link-mtu"),
                        clash("http-proxy", "socks-proxy"),
                        clash("tls-auth", "tls-crypt"),
                        clash("tls-auth", "tls-crypt-v2"),
                        clash("tls-crypt", "tls-crypt-v2"),
                        clash("pkcs12", "cert"),
                        clash("pkcs12", "key"),
                        clash("secret", "client"),
                        clash("secret", "tls-client"),
                        clash("tls-client", "tls-server"),
                        clash("client", "tls-server"),
                        mode(),
                        transport(),
                        versions(),
                        trust(),
                        management(),
                        ofServers())
                .flatMap(Optional::stream)
                .findFirst();
    }

    private static Optional<Problem> missing(boolean there, String what) {
        return there ? Optional.empty() : Optional.of(new Problem(0, "refused", what));
    }

    private Optional<Problem> clash(String one, String other) {
        return has(one) && has(other) ? problem(file.last(other).get(), "contradicts " + one) : Optional.empty();
    }

    private Optional<Problem> pings() {
        boolean said = file.last("keepalive")
                .filter(d -> number(d, 0) > 0 || number(d, 1) > 0)
                .isPresent();
        return said
                ? clash("keepalive", "ping")
                        .or(() -> clash("keepalive", "ping-exit"))
                        .or(() -> clash("keepalive", "ping-restart"))
                : Optional.empty();
    }

    private Optional<Problem> mode() {
        return isMode("server") ? problem(file.last("mode").get(), "contradicts client") : Optional.empty();
    }

    private Optional<Problem> transport() {
        List<OpenVpnClient.Call> calls =
                OpenVpnClient.of(new OpenVpnFile.Reading(file, List.of())).calls();
        boolean tcp = calls.stream().anyMatch(c -> c.transport() == Transport.TCP);
        boolean udp = calls.isEmpty() || calls.stream().anyMatch(c -> c.transport() == Transport.UDP);
        return only("http-proxy", udp, "goes with TCP alone")
                .or(() -> only("fragment", tcp, "goes with UDP alone"))
                .or(() -> only("mtu-test", tcp, "goes with UDP alone"))
                .or(() -> missing(!calls.isEmpty() || !unbound(), "no remote: nobody is called"))
                .or(this::ambiguous);
    }

    /** Whether it takes no port of its own, as clients do that say nothing of it. */
    private boolean unbound() {
        return has("nobind") || has("client") && !has("bind") && !has("local") && !has("lport");
    }

    private Optional<Problem> ambiguous() {
        return Stream.concat(file.all("proto").stream(), file.all("remote").stream())
                .filter(d -> !has("client"))
                .filter(d -> d.word(d.name().equals("proto") ? 0 : 2)
                        .filter(w -> w.matches("tcp[46]?"))
                        .isPresent())
                .findFirst()
                .flatMap(d -> problem(d, "tcp without client; OpenVPN 2.6 wants tcp-client"));
    }

    private Optional<Problem> only(String name, boolean wrong, String what) {
        return wrong && has(name) ? problem(file.last(name).get(), what) : Optional.empty();
    }

    private Optional<Problem> versions() {
        Optional<String> least =
                file.last("tls-version-min").flatMap(d -> d.word(0)).filter(VERSIONS::contains);
        Optional<String> most = file.last("tls-version-max").flatMap(d -> d.word(0));
        return least.isPresent() && most.isPresent() && least.get().compareTo(most.get()) > 0
                ? problem(file.last("tls-version-max").get(), "is older than tls-version-min")
                : Optional.empty();
    }

    private Optional<Problem> trust() {
        if (has("secret")) {
            return Optional.empty();
        }
        boolean tls = has("client") || has("tls-client");
        Predicate<String> there = this::has;
        boolean pair = has("pkcs12")
                || WAYS_IN.stream()
                        .filter(w -> !w.equals("cert") && !w.equals("auth-user-pass"))
                        .anyMatch(there);
        return missing(tls || !(has("ca") || has("cert") || has("key")), "certificates without client or tls-client")
                .or(() -> missing(
                        !tls || has("ca") || has("capath") || has("pkcs12") || has("peer-fingerprint"),
                        "no ca, capath or peer-fingerprint to check the server by"))
                .or(() -> missing(!tls || pair || has("cert") == has("key"), "one of cert and key without the other"))
                .or(() -> missing(
                        !tls || has("key") || WAYS_IN.stream().anyMatch(there),
                        "neither a certificate nor auth-user-pass"))
                .or(() -> only("auth-user-pass", !(has("client") || has("pull")), "needs client or pull"));
    }

    private Optional<Problem> management() {
        return has("management")
                ? Optional.empty()
                : file.directives().stream()
                        .filter(d -> d.name().startsWith("management-"))
                        .findFirst()
                        .flatMap(d -> problem(d, "needs management"));
    }

    private Optional<Problem> ofServers() {
        return file.directives().stream()
                .filter(d -> OF_SERVERS.contains(d.name()))
                .findFirst()
                .flatMap(d -> problem(d, "belongs to servers"));
    }
}
