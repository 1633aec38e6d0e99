package tender.core.profile;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import tender.core.network.Cidr;
import tender.core.network.Host;

/**
 * An IKEv2 connection (RFC 7296) of a client, written as a swanctl section for Linux machines.
 *
 * @param name of the connection: letters, digits and hyphens
 * @param serverId what the gateway's certificate must say
 * @param identity who the client says it is
 * @param certificate file name of the client's certificate, where it authenticates with one
 * @param authority file name of the authority's certificate
 * @param reach networks that go through the tunnel; where none is said, all that the gateway lets through
 */
public record IkeConnection(
        String name,
        Host gateway,
        String serverId,
        Proof proof,
        String identity,
        Optional<String> certificate,
        Optional<String> authority,
        List<Cidr> reach) {
    /** How the client authenticates. */
    public enum Proof {
        CERTIFICATE("pubkey"),
        PASSWORD("eap-mschapv2"),
        SHARED_SECRET("psk");

        private final String word;

        Proof(String word) {
            this.word = word;
        }
    }

    private static final String PROPOSALS =
            "aes256gcm16-prfsha384-ecp384,aes256gcm16-prfsha256-ecp256,aes256-sha256-modp2048";
    private static final String ESP = "aes256gcm16-ecp256,aes256-sha256";

    public IkeConnection {
        if (!name.matches("[A-Za-z0-9-]{1,40}")) {
            throw new tender.core.wire.MalformedException("name", "name", "letters, digits and hyphens, at most 40");
        }
        reach = List.copyOf(reach);
    }

    /** The section; secrets are asked for or stand in a section of their own, never here. */
    public String swanctl() {
        String networks = reach.stream().map(Cidr::toString).collect(Collectors.joining(","));
        StringBuilder out = new StringBuilder("connections {\n  " + name + " {\n");
        line(out, 4, "version", "2");
        line(out, 4, "remote_addrs", gateway.toString());
        line(out, 4, "vips", "0.0.0.0,::");
        line(out, 4, "proposals", PROPOSALS);
        line(out, 4, "dpd_delay", "30s");
        out.append("    local {\n");
        line(out, 6, "auth", proof.word);
        line(out, 6, proof == Proof.PASSWORD ? "eap_id" : "id", identity);
        certificate.ifPresent(c -> line(out, 6, "certs", c));
        out.append("    }\n    remote {\n");
        line(out, 6, "auth", proof == Proof.SHARED_SECRET ? "psk" : "pubkey");
        line(out, 6, "id", serverId);
        authority.ifPresent(a -> line(out, 6, "cacerts", a));
        out.append("    }\n    children {\n      " + name + " {\n");
        line(out, 8, "remote_ts", networks.isEmpty() ? Cidr.EVERYTHING_V4.toString() : networks);
        line(out, 8, "esp_proposals", ESP);
        line(out, 8, "dpd_action", "restart");
        return out.append("      }\n    }\n  }\n}\n").toString();
    }

    private static void line(StringBuilder out, int indent, String key, String value) {
        out.append(" ".repeat(indent))
                .append(key)
                .append(" = ")
                .append(SectionFile.quoted(value))
                .append('\n');
    }
}
