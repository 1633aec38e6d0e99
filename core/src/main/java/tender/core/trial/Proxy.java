package tender.core.trial;

import java.util.List;
import java.util.Optional;
import tender.core.credential.Secret;
import tender.core.network.Endpoint;
import tender.core.network.Host;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.openvpn.ClientSettings.Login;
import tender.core.profile.OpenVpnClient;
import tender.core.profile.OpenVpnFile.Directive;
import tender.core.wire.MalformedException;

/**
 * The proxy that a file goes through.
 *
 * @param at where it is called, over TCP
 * @param login what it is told of the caller, where the file has that inside
 */
public record Proxy(Kind kind, Endpoint at, Optional<Login> login) {
    /** How it is spoken to. */
    public enum Kind {
        /** CONNECT (RFC 9110 §9.3.6); carries TCP alone. */
        HTTP("HTTP"),
        /** SOCKS version 5 (RFC 1928); carries TCP and UDP. */
        SOCKS("SOCKS");

        private final String word;

        Kind(String word) {
            this.word = word;
        }

        public String word() {
            return word;
        }
    }

    private static final Port HTTP_PORT = new Port(8080);
    private static final Port SOCKS_PORT = new Port(1080);

    /** The one that a client file names. */
    static Optional<Proxy> of(OpenVpnClient file) {
        return file.proxy().map(d -> {
            Kind kind = d.name().equals("socks-proxy") ? Kind.SOCKS : Kind.HTTP;
            String host =
                    d.word(0).orElseThrow(() -> new MalformedException("proxy", "line " + d.line(), "names no proxy"));
            return new Proxy(
                    kind,
                    new Endpoint(
                            Host.parse(host),
                            d.word(1).map(Port::parse).orElse(kind == Kind.SOCKS ? SOCKS_PORT : HTTP_PORT),
                            Transport.TCP),
                    file.file()
                            .last("http-proxy-user-pass")
                            .flatMap(Directive::block)
                            .map(Proxy::login));
        });
    }

    /** Name and password, a line each. */
    private static Login login(String block) {
        List<String> lines = block.strip().lines().toList();
        return new Login(lines.get(0), Secret.of(lines.size() > 1 ? lines.get(1) : ""));
    }

    /** In words: {@code HTTP proxy 192.0.2.7:8080}. */
    public String words() {
        return kind.word() + " proxy " + at;
    }
}
