package tender.core.office;

import java.util.List;
import java.util.Locale;
import tender.core.network.Port;
import tender.core.network.Transport;
import tender.core.wire.MalformedException;

/** A kind of tunnel, with the ports it needs. */
public enum Protocol {
    WIREGUARD("WireGuard", List.of()),
    OPENVPN("OpenVPN", List.of()),
    IKEV2(
            "IPsec/IKEv2",
            List.of(new PortSpec(Transport.UDP, new Port(500)), new PortSpec(Transport.UDP, new Port(4500)))),
    L2TP_IPSEC(
            "L2TP/IPsec",
            List.of(new PortSpec(Transport.UDP, new Port(500)), new PortSpec(Transport.UDP, new Port(4500)))),
    TLS("TLS-based VPN", List.of()),
    PPTP("PPTP", List.of(new PortSpec(Transport.TCP, new Port(1723))));

    /** A transport and port by which a listener is reached. */
    public record PortSpec(Transport transport, Port port) {
        @Override
        public String toString() {
            return transport.word() + " " + port;
        }
    }

    private final String title;
    private final List<PortSpec> fixedPorts;

    Protocol(String title, List<PortSpec> fixedPorts) {
        this.title = title;
        this.fixedPorts = fixedPorts;
    }

    public String title() {
        return title;
    }

    /** Ports that the standard fixes; empty where the port is a choice. */
    public List<PortSpec> fixedPorts() {
        return fixedPorts;
    }

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /**
     * @throws MalformedException where no protocol has this word
     */
    public static Protocol parse(String text) {
        for (Protocol p : values()) {
            if (p.word().equals(text)) {
                return p;
            }
        }
        throw new MalformedException("protocol", "", "wireguard, openvpn, ikev2, l2tp-ipsec, tls or pptp");
    }
}
