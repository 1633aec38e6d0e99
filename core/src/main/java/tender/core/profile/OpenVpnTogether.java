package tender.core.profile;

import java.util.Optional;
import java.util.stream.Stream;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.wire.ParseProblem;

/**
 * Whether OpenVPN 2.6 begins with a file whose lines it takes: what single words may be, which directives contradict each
 * other, and which must not be missing. Whether parts in other files are there is not judged.
 */
final class OpenVpnTogether {
    private final OpenVpnSaid said;

    private OpenVpnTogether(OpenVpnSaid said) {
        this.said = said;
    }

    static Optional<ParseProblem> refusal(OpenVpnFile file) {
        OpenVpnSaid said = new OpenVpnSaid(file);
        return file.directives().stream()
                .flatMap(d -> OpenVpnValues.wrong(d).stream())
                .findFirst()
                .or(() -> new OpenVpnTogether(said).ofBoth())
                .or(() -> OpenVpnServing.isServer(said)
                        ? new OpenVpnServing(said).refusal()
                        : new OpenVpnCalling(said).refusal());
    }

    private Optional<ParseProblem> ofBoth() {
        return Stream.<Optional<ParseProblem>>of(
                        OpenVpnSaid.missing(said.has("dev"), "no dev: which kind of tunnel"),
                        said.clash("nobind", "lport"),
                        said.clash("nobind", "local"),
                        said.clash("nobind", "bind"),
                        pings(),
                        said.clash("tun-mtu", "link-mtu"),
                        said.clash("http-proxy", "socks-proxy"),
                        said.clash("tls-auth", "tls-crypt"),
                        said.clash("tls-auth", "tls-crypt-v2"),
                        said.clash("tls-crypt", "tls-crypt-v2"),
                        said.clash("pkcs12", "cert"),
                        said.clash("pkcs12", "key"),
                        said.clash("tls-client", "tls-server"),
                        said.clash("client", "tls-server"),
                        ciphers(),
                        versions(),
                        management())
                .flatMap(Optional::stream)
                .findFirst();
    }

    private Optional<ParseProblem> pings() {
        Optional<Directive> some = said.file()
                .last("keepalive")
                .filter(d -> OpenVpnValues.number(d, 0) > 0 || OpenVpnValues.number(d, 1) > 0);
        return some.filter(d -> OpenVpnValues.number(d, 1) < 2 * OpenVpnValues.number(d, 0))
                .flatMap(d -> OpenVpnSaid.problem(d, "its second number is less than twice the first"))
                .or(() -> some.flatMap(d -> said.clash("keepalive", "ping")
                        .or(() -> said.clash("keepalive", "ping-exit"))
                        .or(() -> said.clash("keepalive", "ping-restart"))));
    }

    /** Of the two names of one directive, the last line counts. */
    private Optional<ParseProblem> ciphers() {
        return said.file().directives().stream()
                .filter(d -> d.name().equals("data-ciphers") || d.name().equals("ncp-ciphers"))
                .reduce((a, b) -> b)
                .filter(d -> !OpenVpnValues.areCiphers(d.word(0).orElse("")))
                .flatMap(d -> OpenVpnSaid.problem(d, "a cipher that OpenVPN 2.6 does not take"));
    }

    private Optional<ParseProblem> versions() {
        Optional<String> least = said.file().last("tls-version-min").map(OpenVpnValues::leastVersion);
        Optional<String> most = said.file().last("tls-version-max").flatMap(d -> d.word(0));
        return said.only(
                "tls-version-max",
                least.isPresent() && most.isPresent() && least.get().compareTo(most.get()) > 0,
                "is older than tls-version-min");
    }

    private Optional<ParseProblem> management() {
        return said.has("management")
                ? Optional.empty()
                : said.file().directives().stream()
                        .filter(d -> d.name().startsWith("management-"))
                        .findFirst()
                        .flatMap(d -> OpenVpnSaid.problem(d, "needs management"));
    }
}
