package tender.core.network;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;

/** Sets of addresses written as the fewest networks. */
public final class AddressSet {
    private AddressSet() {}

    /** The fewest networks that hold exactly the addresses of {@code network} that are in none of {@code holes}. */
    public static List<Cidr> without(Cidr network, Collection<Cidr> holes) {
        List<Cidr> near = holes.stream().filter(network::overlaps).sorted().toList();
        List<Cidr> out = new ArrayList<>();
        split(network, near, 0, near.size(), out);
        return out;
    }

    /** A network with no hole stays whole; one inside a hole goes; any other is halved, which is never more than needed. */
    private static void split(Cidr network, List<Cidr> holes, int from, int to, List<Cidr> out) {
        if (from == to) {
            out.add(network);
            return;
        }
        if (holes.get(from).contains(network)) {
            return;
        }
        Cidr low = new Cidr(network.first(), network.prefix() + 1);
        Cidr high = new Cidr(low.last().plus(1), network.prefix() + 1);
        int middle = from;
        while (middle < to && holes.get(middle).first().compareTo(high.first()) < 0) {
            middle++;
        }
        split(low, holes, from, middle, out);
        split(high, holes, middle, to, out);
    }

    /** The fewest networks that hold exactly the addresses of these. */
    public static List<Cidr> merged(Collection<Cidr> networks) {
        List<Cidr> stack = new ArrayList<>();
        for (Cidr next : networks.stream().sorted().toList()) {
            if (!stack.isEmpty() && top(stack).contains(next)) {
                continue;
            }
            stack.add(next);
            while (stack.size() > 1 && areHalves(stack.get(stack.size() - 2), top(stack))) {
                Cidr high = stack.remove(stack.size() - 1);
                Cidr low = stack.remove(stack.size() - 1);
                stack.add(new Cidr(low.first(), high.prefix() - 1));
            }
        }
        return stack;
    }

    private static Cidr top(List<Cidr> stack) {
        return stack.get(stack.size() - 1);
    }

    private static boolean areHalves(Cidr low, Cidr high) {
        return low.prefix() == high.prefix()
                && low.prefix() > 0
                && low.first().family() == high.first().family()
                && !low.equals(high)
                && Cidr.of(high.first(), high.prefix() - 1).equals(Cidr.of(low.first(), low.prefix() - 1));
    }
}
