package tender.service.http;

import io.javalin.http.Context;
import java.util.List;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/** Where a call comes from. The last forwarded address counts, and only when the trusted proxy passes it on. */
public record Source(List<Cidr> trustedProxy) {
    private static final int V6_SITE = 64;

    /** Where a request comes from: the peer, or whom a trusted proxy names. */
    public String of(Context context) {
        String peer = context.req().getRemoteAddr().replaceAll("[\\[\\]]", "").replaceAll("%.*", "");
        String forwarded = context.header("X-Forwarded-For");
        try {
            IpAddress address = IpAddress.parse(peer);
            if (forwarded != null && trusts(address)) {
                String last =
                        forwarded.substring(forwarded.lastIndexOf(',') + 1).strip();
                return IpAddress.parse(last).toString();
            }
            return address.toString();
        } catch (MalformedException e) {
            return "unknown";
        }
    }

    boolean trusts(IpAddress address) {
        return trustedProxy.stream().anyMatch(network -> network.contains(address));
    }

    /**
     * What counts as one source where attempts are counted: an IPv4 address, or the /64 that one IPv6 line has (RFC 6177), in
     * which anyone can take as many addresses as they like.
     */
    public static String counted(String source) {
        try {
            IpAddress address = IpAddress.parse(source);
            return address.isV4() ? source : Cidr.of(address, V6_SITE).toString();
        } catch (MalformedException e) {
            return source;
        }
    }
}
