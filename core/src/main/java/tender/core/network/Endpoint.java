package tender.core.network;

import java.util.List;
import java.util.Set;
import tender.core.wire.MalformedException;

/** Name or address, port and transport that a client is told to call. */
public record Endpoint(Host host, Port port, Transport transport) {
    private static final Set<String> PLACEHOLDER_NAMES = Set.of(
            "your-server",
            "yourserver",
            "server",
            "vpn-server",
            "example",
            "hostname",
            "changeme",
            "gateway",
            "localhost");
    /** Endings kept for documents and examples, RFC 2606 §3; the stand-ins' own zone is judged by its resolver instead. */
    private static final List<String> DOCUMENT_NAMES =
            List.of("example.com", "example.org", "example.net", "your-domain", "yourdomain.com");

    /** Reads {@code host:port} or {@code [v6]:port}. */
    public static Endpoint parse(String text, Transport transport) {
        int colon = text.lastIndexOf(':');
        if (colon < 1) {
            throw new MalformedException("endpoint", "", "an endpoint is written HOST:PORT");
        }
        String host = text.substring(0, colon);
        boolean bracketed = host.startsWith("[") && host.endsWith("]");
        if (!bracketed && host.indexOf(':') >= 0) {
            throw new MalformedException("endpoint", "", "an IPv6 address stands in brackets: [ADDRESS]:PORT");
        }
        Host parsed = Host.parse(bracketed ? host.substring(1, host.length() - 1) : host);
        return new Endpoint(parsed, Port.ofNumberOrService(text.substring(colon + 1)), transport);
    }

    /** Whether the host is a text that a template left behind rather than a place to call. */
    public boolean isPlaceholder() {
        if (host instanceof HostName name) {
            String text = name.text();
            return PLACEHOLDER_NAMES.contains(text)
                    || DOCUMENT_NAMES.stream().anyMatch(end -> text.equals(end) || text.endsWith("." + end));
        }
        IpAddress address = ((Host.Literal) host).address();
        return address.equals(IpAddress.parse("0.0.0.0")) || address.equals(IpAddress.parse("::"));
    }

    /** Whether the host is a literal address that nobody outside can reach. */
    public boolean isPrivate() {
        return host instanceof Host.Literal literal && AddressKinds.isPrivate(literal.address());
    }

    @Override
    public String toString() {
        boolean v6 = host instanceof Host.Literal literal && !literal.address().isV4();
        return (v6 ? "[" + host + "]" : host.toString()) + ":" + port;
    }
}
