package tender.core.profile;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.wire.MalformedException;
import tender.core.wire.ParseProblem;

/** What single words of an OpenVPN 2.6 directive may be, where a line is taken but the program then ends on what it says. */
final class OpenVpnValues {
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

    private static final int MOST_OF_POOL = 65_536;

    private OpenVpnValues() {}

    private static Optional<ParseProblem> wrongUnless(boolean right, Directive d) {
        return right ? Optional.empty() : OpenVpnSaid.problem(d, "a value that OpenVPN 2.6 does not take");
    }

    static Optional<ParseProblem> wrong(Directive d) {
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
            case "ifconfig" -> wrongUnless(d.words().stream().allMatch(OpenVpnValues::isV4), d);
            case "ifconfig-ipv6" ->
                wrongUnless(
                        d.word(0)
                                        .filter(w -> isV6(w.replaceFirst("/\\d+$", "")))
                                        .isPresent()
                                && d.word(1).map(OpenVpnValues::isV6).orElse(true),
                        d);
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
            case "server" ->
                wrongUnless(
                        d.words().stream().limit(2).allMatch(w -> isV4(w) || w.matches("\\d{1,9}"))
                                && d.word(2).map("nopool"::equals).orElse(true),
                        d);
            case "ifconfig-pool" -> wrongUnless(isPool(d), d);
            case "server-ipv6" ->
                wrongUnless(
                        network(d.word(0).orElse(""))
                                .filter(n -> !n.first().isV4() && n.prefix() >= 64 && n.prefix() <= 124)
                                .isPresent(),
                        d);
            case "auth-user-pass-verify" ->
                wrongUnless(d.word(1).filter(w -> w.matches("via-env|via-file")).isPresent(), d);
            case "shaper" -> wrongUnless(number(d, 0) >= 100 && number(d, 0) <= 100_000_000, d);
            case "setenv" -> wrongUnless(d.word(0).orElse("").length() > 1, d);
            case "client-cert-not-required" -> OpenVpnSaid.problem(d, "removed; OpenVPN 2.6 ends on it");
            default -> Optional.empty();
        };
    }

    static boolean areCiphers(String list) {
        return Stream.of(list.split(":"))
                .filter(c -> !c.isEmpty() && !c.startsWith("?"))
                .allMatch(OpenVpnValues::isCipher);
    }

    static boolean isCipher(String name) {
        return CIPHER.matcher(name).matches();
    }

    /** The oldest version of TLS that is spoken; one that is not known counts as the newest where the line allows that. */
    static String leastVersion(Directive d) {
        String said = d.word(0).orElse("");
        return VERSIONS.contains(said) ? said : VERSIONS.get(VERSIONS.size() - 1);
    }

    private static Optional<Cidr> network(String text) {
        try {
            return Optional.of(Cidr.parse(text));
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    /** The network that a server is given by its first address and a mask; empty where the two are none. */
    static Optional<Cidr> served(Directive server) {
        try {
            IpAddress first = IpAddress.parse(server.word(0).orElse(""));
            return Optional.of(Cidr.ofMask(first, IpAddress.parse(server.word(1).orElse(""))))
                    .filter(n -> n.first().equals(first));
        } catch (MalformedException e) {
            return Optional.empty();
        }
    }

    /** The first and the last address of a pool, of at most 65,536. */
    private static boolean isPool(Directive d) {
        if (!d.words().stream().limit(2).allMatch(OpenVpnValues::isV4)) {
            return false;
        }
        IpAddress first = IpAddress.parse(d.words().get(0));
        IpAddress last = IpAddress.parse(d.words().get(1));
        return first.compareTo(last) <= 0 && first.plus(MOST_OF_POOL).compareTo(last) > 0;
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
    static long number(Directive d, int word) {
        String digits = d.word(word).orElse("").replaceFirst("^\\s*([+-]?\\d{1,15}).*$", "$1");
        return digits.matches("[+-]?\\d+") ? Long.parseLong(digits) : 0;
    }
}
