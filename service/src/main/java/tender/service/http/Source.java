package tender.service.http;

import io.javalin.http.Context;
import java.util.List;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/** Where a call comes from. The last forwarded address counts, and only when the trusted proxy passes it on. */
public record Source(List<Cidr> trustedProxy) {
    public String of(Context context) {
        String peer = context.req().getRemoteAddr().replaceAll("[\\[\\]]", "").replaceAll("%.*", "");
        String forwarded = context.header("X-Forwarded-For");
        try {
            IpAddress address = IpAddress.parse(peer);
            if (forwarded != null && trustedProxy.stream().anyMatch(network -> network.contains(address))) {
                String last =
                        forwarded.substring(forwarded.lastIndexOf(',') + 1).strip();
                return IpAddress.parse(last).toString();
            }
            return address.toString();
        } catch (MalformedException e) {
            return "unknown";
        }
    }
}
