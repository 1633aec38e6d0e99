package tender.core.trial;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/**
 * Addresses around the tunnel's own, for a gateway that answers nothing inside: one that is answered in place of the own is
 * the one that the gateway admits. WireGuard drops without a word what comes from any other (WireGuard paper §2).
 */
public final class Neighbours {
    private static final int AROUND_V4 = 24;
    private static final int AROUND_V6 = 120;

    private Neighbours() {}

    /** The own addresses first, then those around each; none twice, at most 256 for each own one. */
    public static List<IpAddress> of(List<IpAddress> own) {
        Set<IpAddress> out = new LinkedHashSet<>(own);
        for (IpAddress address : own) {
            IpAddress first =
                    Cidr.of(address, address.isV4() ? AROUND_V4 : AROUND_V6).first();
            for (int i = 1; i < 255; i++) {
                out.add(first.plus(i));
            }
        }
        return List.copyOf(out);
    }
}
