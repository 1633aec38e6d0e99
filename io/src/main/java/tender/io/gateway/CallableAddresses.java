package tender.io.gateway;

import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.UnknownHostException;
import java.util.List;
import tender.core.network.AddressKinds;
import tender.core.network.Cidr;
import tender.core.network.Host;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.io.names.NameService;

/** Which addresses may be called on a person's behalf: loopback, link-local and metadata ranges only where listed. */
public record CallableAddresses(List<Cidr> listed) {
    public CallableAddresses {
        listed = List.copyOf(listed);
    }

    /** Where a target is, if it may be called. */
    InetSocketAddress resolve(NameService names, Target target) {
        IpAddress address = address(names, target.host());
        if (!allows(address)) {
            throw forbidden();
        }
        try {
            return new InetSocketAddress(
                    InetAddress.getByAddress(address.toBytes()), target.port().number());
        } catch (UnknownHostException e) {
            throw new IllegalStateException("an address has 4 or 16 bytes", e);
        }
    }

    private static IpAddress address(NameService names, Host host) {
        if (host instanceof Host.Literal literal) {
            return literal.address();
        }
        NameService.Answer answer = names.lookUp((HostName) host);
        if (answer.addresses().isEmpty()) {
            throw new GatewayFailure(
                    GatewayFailure.Kind.UNREACHABLE, "the name " + host + " has no address in DNS", null);
        }
        return answer.addresses().get(0);
    }

    /** What is said of an address that is not called. */
    public static GatewayFailure forbidden() {
        return new GatewayFailure(
                GatewayFailure.Kind.FORBIDDEN_ADDRESS,
                "addresses of this machine are not called; list the range in the setting callable.local to allow it",
                null);
    }

    public boolean allows(IpAddress address) {
        IpAddress meant = address.unmapped();
        return !AddressKinds.isLocalOnly(meant) || listed.stream().anyMatch(range -> range.contains(meant));
    }
}
