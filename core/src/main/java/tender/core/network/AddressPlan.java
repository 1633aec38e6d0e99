package tender.core.network;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Free addresses, free subnets and overlaps; all work on sorted ranges, n log n in the number of networks. */
public final class AddressPlan {
    /** Two things whose networks share addresses; {@code outer} contains {@code inner}. */
    public record Overlap<T>(T outer, T inner) {}

    private AddressPlan() {}

    /**
     * Whether a host in the network may have the address: not the network's own, which in IPv6 is every router's (RFC 4291
     * §2.6.1), nor IPv4's broadcast address. Networks of one or two addresses have neither (RFC 3021, RFC 6164).
     */
    public static boolean isHost(Cidr network, IpAddress address) {
        return network.contains(address)
                && address.compareTo(lowest(network)) >= 0
                && address.compareTo(highest(network)) <= 0;
    }

    private static boolean hasEdges(Cidr network) {
        return network.first().family().bits() - network.prefix() >= 2;
    }

    private static IpAddress lowest(Cidr network) {
        return hasEdges(network) ? network.first().plus(1) : network.first();
    }

    private static IpAddress highest(Cidr network) {
        return hasEdges(network) && network.first().isV4() ? network.last().plus(-1) : network.last();
    }

    /**
     * The lowest address of a network that a host may have and that is not taken.
     *
     * @return empty when all are taken
     */
    public static Optional<IpAddress> freeAddress(Cidr network, Set<IpAddress> taken) {
        return new FreeAddresses(network, taken).next();
    }

    /** Free addresses of a network from the lowest up, each given once; what was taken before is known once and for all. */
    public static final class FreeAddresses {
        private final Set<IpAddress> taken;
        private final IpAddress last;
        private IpAddress candidate;

        public FreeAddresses(Cidr network, Set<IpAddress> taken) {
            this.taken = new HashSet<>(taken); // an immutable set probes in a row, which addresses in a row make slow
            this.candidate = lowest(network);
            this.last = highest(network);
        }

        /** Empty when all are taken. */
        public Optional<IpAddress> next() {
            while (candidate != null) {
                IpAddress here = candidate;
                candidate = here.equals(last) ? null : here.plus(1);
                if (!taken.contains(here)) {
                    return Optional.of(here);
                }
            }
            return Optional.empty();
        }
    }

    /** The lowest subnet of {@code prefix} bits inside {@code within} that overlaps none of {@code taken}. */
    public static Optional<Cidr> freeSubnet(Cidr within, int prefix, Collection<Cidr> taken) {
        if (prefix < within.prefix() || prefix > within.first().family().bits()) {
            return Optional.empty();
        }
        List<Cidr> sorted = taken.stream().filter(within::overlaps).sorted().toList();
        Cidr candidate = new Cidr(within.first(), prefix);
        for (Cidr used : sorted) {
            if (used.last().compareTo(candidate.first()) < 0) {
                continue;
            }
            if (used.first().compareTo(candidate.last()) > 0) {
                break;
            }
            IpAddress end =
                    Cidr.of(used.last(), Math.min(prefix, used.prefix())).last();
            if (end.compareTo(within.last()) >= 0) {
                return Optional.empty();
            }
            candidate = new Cidr(end.plus(1), prefix);
        }
        return Optional.of(candidate);
    }

    /** A thing that occupies a network. */
    public record Placed<T>(Cidr network, T owner) {}

    /** All pairs whose networks overlap. Networks either nest or are apart, so one sweep with a stack finds them. */
    public static <T> List<Overlap<T>> overlaps(Collection<Placed<T>> networks) {
        List<Placed<T>> sorted = new ArrayList<>(networks);
        sorted.sort(Comparator.comparing(Placed::network));
        List<Overlap<T>> found = new ArrayList<>();
        Deque<Placed<T>> open = new ArrayDeque<>();
        for (Placed<T> next : sorted) {
            while (!open.isEmpty() && !open.peek().network().contains(next.network())) {
                open.pop();
            }
            for (Placed<T> outer : open) {
                found.add(new Overlap<>(outer.owner(), next.owner()));
            }
            open.push(next);
        }
        return found;
    }
}
