package tender.core.network;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The arithmetic against a brute-force model: sets of single addresses in a small space. */
class AddressSetTest {
    private static final int BITS = 6;
    private static final int ROUNDS = 3_000;

    private final Random random = new Random(20261123);

    /** A random network inside the space. */
    private Cidr network(Cidr space) {
        int prefix = space.prefix() + random.nextInt(BITS + 1);
        int step = random.nextInt(1 << BITS);
        return Cidr.of(space.first().plus(step), prefix);
    }

    private static BitSet bits(Cidr space, List<Cidr> networks) {
        BitSet out = new BitSet();
        for (int i = 0; i < 1 << BITS; i++) {
            IpAddress address = space.first().plus(i);
            if (networks.stream().anyMatch(n -> n.contains(address))) {
                out.set(i);
            }
        }
        return out;
    }

    /** The fewest networks that make up a set, by trying every aligned block from the largest down. */
    private static int fewest(BitSet set, int from, int bits) {
        int size = 1 << bits;
        int in = set.get(from, from + size).cardinality();
        if (in == 0) {
            return 0;
        }
        return in == size ? 1 : fewest(set, from, bits - 1) + fewest(set, from + size / 2, bits - 1);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "10.0.0.64/26",
                "255.255.255.192/26",
                "0.0.0.0/26",
                "2001:db8::40/122",
                "ffff:ffff:ffff:ffff:ffff:ffff:ffff:ffc0/122"
            })
    void withoutAndMergedAreExactAndMinimal(String text) {
        Cidr space = Cidr.parse(text);
        for (int round = 0; round < ROUNDS; round++) {
            List<Cidr> some = new ArrayList<>();
            int count = random.nextInt(7);
            for (int i = 0; i < count; i++) {
                some.add(network(space));
            }
            BitSet taken = bits(space, some);

            List<Cidr> merged = AddressSet.merged(some);
            assertThat(bits(space, merged)).as("%s", some).isEqualTo(taken);
            assertThat(merged).as("%s", some).hasSize(fewest(taken, 0, BITS)).isSorted();

            List<Cidr> rest = AddressSet.without(space, some);
            BitSet free = (BitSet) taken.clone();
            free.flip(0, 1 << BITS);
            assertThat(bits(space, rest)).as("%s", some).isEqualTo(free);
            assertThat(rest).as("%s", some).hasSize(fewest(free, 0, BITS));

            int prefix = space.prefix() + random.nextInt(BITS + 1);
            Optional<Cidr> subnet = AddressPlan.freeSubnet(space, prefix, some);
            assertThat(subnet).as("/%s beside %s", prefix, some).isEqualTo(lowestFree(space, prefix, taken));
            assertThat(overlaps(some)).as("%s", some).isEqualTo(overlapsByPairs(some));
        }
    }

    private static Optional<Cidr> lowestFree(Cidr space, int prefix, BitSet taken) {
        int size = 1 << (space.prefix() + BITS - prefix);
        for (int at = 0; at < 1 << BITS; at += size) {
            if (taken.get(at, at + size).isEmpty()) {
                return Optional.of(new Cidr(space.first().plus(at), prefix));
            }
        }
        return Optional.empty();
    }

    private static Set<Set<Integer>> overlaps(List<Cidr> some) {
        List<AddressPlan.Placed<Integer>> placed = new ArrayList<>();
        for (int i = 0; i < some.size(); i++) {
            placed.add(new AddressPlan.Placed<>(some.get(i), i));
        }
        return AddressPlan.overlaps(placed).stream()
                .map(o -> Set.of(o.outer(), o.inner()))
                .collect(Collectors.toSet());
    }

    private static Set<Set<Integer>> overlapsByPairs(List<Cidr> some) {
        Set<Set<Integer>> out = new java.util.HashSet<>();
        for (int i = 0; i < some.size(); i++) {
            for (int j = 0; j < i; j++) {
                if (some.get(i).overlaps(some.get(j))) {
                    out.add(Set.of(i, j));
                }
            }
        }
        return out;
    }

    @Test
    void everythingWithoutAHundredSubnetsIsMinimal() {
        List<Cidr> holes = new ArrayList<>();
        for (int i = 0; i < 100; i++) {
            holes.add(Cidr.parse("10." + (i * 2) + ".7.0/24"));
            holes.add(Cidr.parse("2001:db8:" + Integer.toHexString(i * 2) + "::/48"));
        }

        List<Cidr> four = AddressSet.without(Cidr.EVERYTHING_V4, holes);
        List<Cidr> six = AddressSet.without(Cidr.EVERYTHING_V6, holes);

        assertThat(AddressSet.merged(four)).isEqualTo(four);
        assertThat(AddressSet.merged(six)).isEqualTo(six);
        assertThat(four).noneMatch(n -> holes.stream().anyMatch(n::overlaps));
        List<Cidr> whole = new ArrayList<>(four);
        whole.addAll(holes.stream().filter(h -> h.first().isV4()).toList());
        assertThat(AddressSet.merged(whole)).containsExactly(Cidr.EVERYTHING_V4);
    }
}
