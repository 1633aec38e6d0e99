package tender.core.profile;

import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.credential.TunnelKey;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;

/**
 * Everything a WireGuard client file of ours says. Without a private key (the device made its own) the file leaves that
 * line out and says in a comment that the device adds it.
 */
public record ClientProfile(
        String title,
        Optional<Secret> privateKey,
        List<InterfaceAddress> addresses,
        List<IpAddress> dns,
        OptionalInt mtu,
        TunnelKey gatewayKey,
        Optional<Secret> presharedKey,
        Endpoint endpoint,
        List<Cidr> reach,
        OptionalInt keepAliveSeconds) {
    public ClientProfile {
        addresses = List.copyOf(addresses);
        dns = List.copyOf(dns);
        reach = List.copyOf(reach);
        title = printable(title);
    }

    /** Text that can stand in a comment line: no control characters, bounded. */
    public static String printable(String text) {
        String clean = text.replaceAll("\\p{Cntrl}", " ").strip();
        return clean.length() > 120 ? clean.substring(0, 120) : clean;
    }

    public String text() {
        StringBuilder out = new StringBuilder("# " + title + "\n[Interface]\n");
        if (privateKey.isPresent()) {
            out.append("PrivateKey = ").append(base64(privateKey.get())).append('\n');
        } else {
            out.append("# PrivateKey stays on the device that made it\n");
        }
        out.append("Address = ").append(joined(addresses)).append('\n');
        if (!dns.isEmpty()) {
            out.append("DNS = ").append(joined(dns)).append('\n');
        }
        mtu.ifPresent(size -> out.append("MTU = ").append(size).append('\n'));
        out.append("\n[Peer]\nPublicKey = ").append(gatewayKey).append('\n');
        presharedKey.ifPresent(
                key -> out.append("PresharedKey = ").append(base64(key)).append('\n'));
        out.append("Endpoint = ").append(endpoint).append('\n');
        out.append("AllowedIPs = ").append(joined(reach)).append('\n');
        keepAliveSeconds.ifPresent(
                s -> out.append("PersistentKeepalive = ").append(s).append('\n'));
        return out.toString();
    }

    /** The section that admits this client on the gateway's side. */
    public static String gatewaySection(
            String label, TunnelKey client, Optional<Secret> presharedKey, List<Cidr> addresses) {
        return "[Peer]\n# " + printable(label) + "\nPublicKey = " + client + "\n"
                + presharedKey
                        .map(key -> "PresharedKey = " + base64(key) + "\n")
                        .orElse("")
                + "AllowedIPs = " + joined(addresses) + "\n";
    }

    private static String joined(List<?> parts) {
        return parts.stream().map(Object::toString).collect(Collectors.joining(", "));
    }

    private static String base64(Secret key) {
        return java.util.Base64.getEncoder().encodeToString(key.reveal(RevealSecret.TO_WRITE_FILE));
    }
}
