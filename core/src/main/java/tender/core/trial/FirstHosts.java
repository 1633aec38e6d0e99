package tender.core.trial;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;

/**
 * Hosts that were asked inside where nobody named one: the first of the networks that the file sends into the tunnel, and the
 * name server that it gives.
 *
 * @param answered the one whose answer came
 */
public record FirstHosts(List<IpAddress> asked, Optional<IpAddress> answered) {
    public static final FirstHosts NONE = new FirstHosts(List.of(), Optional.empty());
    private static final int MOST = 3;
    private static final int USUAL_V4 = 24;
    private static final int USUAL_V6 = 64;

    public FirstHosts {
        asked = List.copyOf(asked);
    }

    /**
     * Whom to ask. Of a network as wide as the internet nobody is; the gateway is then looked for where it usually is, first
     * in the network around the tunnel's own address.
     *
     * @param reach networks that are sent into the tunnel
     */
    public static List<IpAddress> of(List<Cidr> reach, List<IpAddress> nameServers, List<IpAddress> own) {
        Set<IpAddress> out = new LinkedHashSet<>();
        nameServers.stream().filter(a -> isIn(reach, a)).limit(1).forEach(out::add);
        reach.stream().filter(n -> !isWide(n)).map(FirstHosts::first).forEach(out::add);
        own.stream()
                .map(a -> first(Cidr.of(a, a.isV4() ? USUAL_V4 : USUAL_V6)))
                .filter(a -> isIn(reach, a))
                .forEach(out::add);
        out.removeAll(own);
        return out.stream().limit(MOST).toList();
    }

    private static boolean isIn(List<Cidr> reach, IpAddress address) {
        return reach.stream().anyMatch(n -> n.contains(address));
    }

    /** As a full tunnel is written, whole or in halves. */
    private static boolean isWide(Cidr network) {
        return network.prefix() <= 1;
    }

    private static IpAddress first(Cidr network) {
        boolean alone = network.prefix() == network.first().family().bits();
        return alone ? network.first() : network.first().plus(1);
    }

    boolean wereAsked() {
        return !asked.isEmpty();
    }

    Verdict verdict() {
        return answered.isPresent() ? Verdict.OK : Verdict.FAILS;
    }

    String words() {
        return answered.map(a -> a + ", asked where no host was named, answers")
                .orElseGet(() -> asked.stream().map(Object::toString).collect(Collectors.joining(", "))
                        + ", asked where no host was named, " + (asked.size() == 1 ? "does" : "do") + " not answer");
    }
}
