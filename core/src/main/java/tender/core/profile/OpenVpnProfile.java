package tender.core.profile;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import tender.core.credential.RevealSecret;
import tender.core.credential.Secret;
import tender.core.network.Cidr;
import tender.core.network.Endpoint;
import tender.core.network.IpAddress;

/**
 * Everything an OpenVPN client file of ours says, in the single-file form. Where a reach was granted, what is reached is what
 * the file says and not what the server offers, so that the file keeps to it; where nobody said one, what the server offers
 * counts beside it.
 *
 * @param calls endpoints in order
 * @param controlChannelKey the control channel's, with its key; empty for none
 * @param authority certificate in PEM
 * @param certificate of the person or device in PEM; empty where only a password is asked
 * @param key in PEM; empty where the device keeps it, which the file then says
 * @param framed whether the listener speaks as if packets were squeezed; then the file does too, and squeezes none
 * @param takesPushed whether the server's routes count beside the file's own
 * @param serverName the name that the server's certificate must have
 */
public record OpenVpnProfile(
        String title,
        List<Endpoint> calls,
        Optional<ControlChannelKey> controlChannelKey,
        String authority,
        Optional<String> certificate,
        Optional<Secret> key,
        boolean asksPassword,
        Optional<String> serverName,
        List<String> ciphers,
        String digest,
        boolean framed,
        List<Cidr> reach,
        boolean takesPushed,
        List<IpAddress> dns,
        OptionalInt mtu) {
    /**
     * A control-channel key: auth, crypt or crypt-v2.
     *
     * @param direction of an auth key where the server has one; a client's is 1
     */
    public record ControlChannelKey(String kind, Secret key, Optional<String> direction) {}

    public OpenVpnProfile {
        title = ClientProfile.printable(title);
        calls = List.copyOf(calls);
        ciphers = List.copyOf(ciphers);
        reach = List.copyOf(reach);
        dns = List.copyOf(dns);
    }

    public String text() {
        StringBuilder out =
                new StringBuilder("# " + title + "\nclient\ndev tun\nnobind\npersist-tun\nresolv-retry infinite\n");
        for (Endpoint e : calls) {
            out.append("remote ")
                    .append(e.host())
                    .append(' ')
                    .append(e.port())
                    .append(' ')
                    .append(e.transport().word());
            out.append('\n');
        }
        out.append("remote-cert-tls server\n");
        serverName.ifPresent(n -> out.append("verify-x509-name ").append(n).append(" name\n"));
        List<String> known = OpenVpnClient.taken(ciphers);
        if (!known.isEmpty()) {
            out.append("data-ciphers ").append(String.join(":", known)).append('\n');
        }
        out.append("auth ").append(digest).append("\ntls-version-min 1.2\n");
        if (asksPassword) {
            out.append("auth-user-pass\nauth-nocache\n");
        }
        if (framed) {
            out.append("comp-lzo no\n");
        }
        mtu.ifPresent(size -> out.append("tun-mtu ").append(size).append('\n'));
        reached(out);
        controlChannelKey
                .filter(w -> w.kind().equals("auth"))
                .flatMap(ControlChannelKey::direction)
                .ifPresent(d -> out.append("key-direction ").append(d).append('\n'));
        block(out, "ca", authority);
        certificate.ifPresent(c -> block(out, "cert", c));
        if (key.isPresent()) {
            block(out, "key", key.get().revealText(RevealSecret.TO_WRITE_FILE));
        } else if (certificate.isPresent()) {
            out.append("# the key stays on the device that made it: add a line   key FILE\n");
        }
        controlChannelKey.ifPresent(w -> block(out, "tls-" + w.kind(), w.key().revealText(RevealSecret.TO_WRITE_FILE)));
        return out.toString();
    }

    private void reached(StringBuilder out) {
        (takesPushed ? routes(reach) : reachLines(reach))
                .forEach(l -> out.append(l).append('\n'));
        if (takesPushed && !dns.isEmpty()) {
            out.append("pull-filter ignore \"dhcp-option DNS\"\n");
        }
        dns.forEach(d -> out.append("dhcp-option DNS")
                .append(d.isV4() ? " " : "6 ")
                .append(d)
                .append('\n'));
    }

    /** The lines that send these networks through the tunnel, and nothing that the server offers. */
    public static List<String> reachLines(List<Cidr> reach) {
        List<String> out = new ArrayList<>(List.of("route-nopull"));
        out.addAll(routes(reach));
        return out;
    }

    private static List<String> routes(List<Cidr> reach) {
        List<String> out = new ArrayList<>();
        boolean four = reach.contains(Cidr.EVERYTHING_V4);
        boolean six = reach.contains(Cidr.EVERYTHING_V6);
        if (four || six) {
            out.add("redirect-gateway def1" + (six ? " ipv6" : "") + (four ? "" : " !ipv4"));
        }
        for (Cidr network : reach) {
            if (!network.isEverything()) {
                out.add(
                        network.first().isV4()
                                ? "route " + network.first() + " "
                                        + network.mask().orElseThrow()
                                : "route-ipv6 " + network);
            }
        }
        return out;
    }

    private static void block(StringBuilder out, String name, String content) {
        out.append('<')
                .append(name)
                .append(">\n")
                .append(content.strip())
                .append("\n</")
                .append(name)
                .append(">\n");
    }
}
