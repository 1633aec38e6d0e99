package tender.core.explain;

import java.util.List;

/** Which ports each kind of service needs, and no more: the reference that people recite wrongly. */
public final class Ports {
    /** A kind of service with its ports. */
    public record Entry(String kind, String reachedBy, String notes) {}

    public static final List<Entry> ALL = List.of(
            new Entry(
                    "OpenVPN",
                    "UDP or TCP, one port, 1194 by convention, any by choice",
                    "TCP 443 passes where little else does"),
            new Entry(
                    "WireGuard",
                    "UDP, one port, 51820 by convention, any by choice",
                    "silent to strangers: no answer proves nothing"),
            new Entry(
                    "IPsec/IKEv2",
                    "UDP 500 and UDP 4500 (NAT traversal); protocol 50 (ESP) without NAT",
                    "both ports are needed by most clients"),
            new Entry(
                    "L2TP/IPsec",
                    "UDP 500, UDP 4500; UDP 1701 inside IPsec only",
                    "1701 is never opened to the outside"),
            new Entry(
                    "TLS-based VPN",
                    "TCP 443 or chosen",
                    "the certificate's name and authority decide whether clients warn"),
            new Entry("PPTP", "TCP 1723 and protocol 47 (GRE)", "broken; recorded, not handed out"),
            new Entry("RADIUS", "UDP 1812 authentication, 1813 accounting, 3799 disconnect", "inside only"));

    private Ports() {}
}
