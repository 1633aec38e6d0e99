package tender.core.explain;

import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.network.AddressKinds;
import tender.core.network.Cidr;
import tender.core.network.CommonNetworks;
import tender.core.network.IpAddress;
import tender.core.office.Network;

/**
 * A network in words, for people who do not think in masks.
 *
 * @param usable how many addresses hosts can have
 * @param leased how many of them are in the pool, 0 without one
 * @param reserved how many are fixed for certain hosts
 * @param rest usable addresses that are neither leased nor reserved
 * @param notes what is remarkable or wrong, in sentences
 */
public record NetworkWords(
        Cidr network,
        Optional<IpAddress> mask,
        IpAddress firstUsable,
        IpAddress lastUsable,
        Optional<IpAddress> broadcast,
        BigInteger usable,
        BigInteger leased,
        int reserved,
        BigInteger rest,
        List<String> notes) {

    public static NetworkWords of(Network n) {
        Cidr network = n.network();
        int bits = network.first().family().bits() - network.prefix();
        boolean v4 = network.first().isV4();
        boolean edges = v4 && bits >= 2; // RFC 3021: two addresses are both usable
        IpAddress first = edges ? network.first().plus(1) : network.first();
        IpAddress last = edges ? network.last().plus(-1) : network.last();
        BigInteger usable = BigInteger.ONE.shiftLeft(bits).subtract(edges ? BigInteger.TWO : BigInteger.ZERO);
        BigInteger leased = n.pool().map(p -> count(p.first(), p.last())).orElse(BigInteger.ZERO);
        List<String> notes = notes(n, first, last);
        long outsidePool = n.reserved().values().stream()
                .filter(a -> n.pool().filter(p -> p.contains(a)).isEmpty())
                .count();
        return new NetworkWords(
                network,
                network.mask(),
                first,
                last,
                edges ? Optional.of(network.last()) : Optional.empty(),
                usable,
                leased,
                n.reserved().size(),
                usable.subtract(leased).subtract(BigInteger.valueOf(outsidePool)),
                notes);
    }

    private static BigInteger count(IpAddress first, IpAddress last) {
        return number(last).subtract(number(first)).add(BigInteger.ONE);
    }

    private static BigInteger number(IpAddress a) {
        return new BigInteger(1, a.toBytes());
    }

    private static List<String> notes(Network n, IpAddress first, IpAddress last) {
        List<String> out = new ArrayList<>();
        n.pool().ifPresent(p -> {
            boolean within = first.compareTo(p.first()) <= 0 && p.last().compareTo(last) <= 0;
            if (!within || p.first().family() != first.family()) {
                out.add("The pool " + p + " reaches beyond the usable addresses.");
            }
        });
        for (Map.Entry<String, IpAddress> fixed : n.reserved().entrySet()) {
            if (!n.network().contains(fixed.getValue())) {
                out.add(fixed.getKey() + " has " + fixed.getValue() + ", which is outside the network.");
            } else if (n.pool().filter(p -> p.contains(fixed.getValue())).isPresent()) {
                out.add(fixed.getKey() + " has " + fixed.getValue() + ", which the pool lends to others too.");
            }
        }
        CommonNetworks.meeting(n.network())
                .ifPresent(home -> out.add("Routers in homes and hotels commonly use " + home
                        + ": from there people reach the wrong machine."));
        if (!AddressKinds.isPrivate(n.network().first())) {
            out.add("These addresses belong to the internet, not to an office (RFC 1918, RFC 4193).");
        }
        return out;
    }
}
