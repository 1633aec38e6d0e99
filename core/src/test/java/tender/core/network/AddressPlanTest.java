package tender.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tender.core.network.AddressPlan.Placed;
import tender.core.wire.MalformedException;

/** Arithmetic held against counting on small address spaces. */
class AddressPlanTest {
    private static final Cidr SPACE = Cidr.parse("10.0.0.0/24");

    private static Cidr network(Random random) {
        int prefix = 24 + random.nextInt(9);
        return Cidr.of(SPACE.first().plus(random.nextInt(256)), prefix);
    }

    private static Set<IpAddress> addresses(Cidr network) {
        Set<IpAddress> out = new HashSet<>();
        for (IpAddress a = network.first(); ; a = a.plus(1)) {
            out.add(a);
            if (a.equals(network.last())) {
                return out;
            }
        }
    }

    @RepeatedTest(60)
    void overlapContainsAndLastAgreeWithCounting(RepetitionInfo run) {
        Random random = new Random(run.getCurrentRepetition());
        Cidr a = network(random);
        Cidr b = network(random);
        Set<IpAddress> shared = addresses(a);
        shared.retainAll(addresses(b));

        assertThat(a.overlaps(b)).isEqualTo(!shared.isEmpty());
        assertThat(a.contains(b)).isEqualTo(addresses(a).containsAll(addresses(b)));
        assertThat(addresses(a)).hasSize(1 << 32 - a.prefix());
    }

    @RepeatedTest(60)
    void theFreeAddressIsTheLowestThatIsFree(RepetitionInfo run) {
        Random random = new Random(run.getCurrentRepetition());
        Cidr network = Cidr.of(SPACE.first(), 26 + random.nextInt(5));
        Set<IpAddress> taken = new HashSet<>();
        addresses(network).stream().filter(a -> random.nextInt(4) != 0).forEach(taken::add);
        Optional<IpAddress> expected = addresses(network).stream()
                .filter(a -> !a.equals(network.first()) && !a.equals(network.last()) && !taken.contains(a))
                .min(IpAddress::compareTo);

        assertThat(AddressPlan.freeAddress(network, taken)).isEqualTo(expected);
    }

    @RepeatedTest(60)
    void theFreeSubnetIsTheLowestThatIsFree(RepetitionInfo run) {
        Random random = new Random(run.getCurrentRepetition());
        List<Cidr> taken = new ArrayList<>();
        for (int i = random.nextInt(12); i > 0; i--) {
            taken.add(network(random));
        }
        int prefix = 26 + random.nextInt(5);
        Optional<Cidr> expected = addresses(SPACE).stream()
                .sorted()
                .map(a -> Cidr.of(a, prefix))
                .distinct()
                .filter(c -> taken.stream().noneMatch(c::overlaps))
                .findFirst();

        assertThat(AddressPlan.freeSubnet(SPACE, prefix, taken)).isEqualTo(expected);
    }

    @RepeatedTest(40)
    void oneSweepFindsTheSameOverlapsAsAllPairs(RepetitionInfo run) {
        Random random = new Random(run.getCurrentRepetition());
        List<Placed<Integer>> all = new ArrayList<>();
        for (int i = 0; i < 30; i++) {
            all.add(new Placed<>(network(random), i));
        }
        Set<Set<Integer>> expected = new HashSet<>();
        for (Placed<Integer> a : all) {
            for (Placed<Integer> b : all) {
                if (a.owner() < b.owner() && a.network().overlaps(b.network())) {
                    expected.add(Set.of(a.owner(), b.owner()));
                }
            }
        }
        Set<Set<Integer>> found = new HashSet<>();
        AddressPlan.overlaps(all).forEach(o -> found.add(Set.of(o.outer(), o.inner())));

        assertThat(found).isEqualTo(expected);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "192.0.2.0/28",
                "192.0.2.0/30",
                "192.0.2.0/31",
                "192.0.2.7/32",
                "2001:db8::/124",
                "2001:db8::/126",
                "2001:db8::/127",
                "2001:db8::7/128"
            })
    void whatIsGivenOneAfterTheOtherIsEveryAddressThatAHostMayHave(String text) {
        Cidr network = Cidr.parse(text);
        AddressPlan.FreeAddresses free = new AddressPlan.FreeAddresses(network, Set.of());
        List<IpAddress> given = new ArrayList<>();
        for (Optional<IpAddress> next = free.next(); next.isPresent(); next = free.next()) {
            given.add(next.get());
        }
        List<IpAddress> hosts = new ArrayList<>();
        for (IpAddress a = network.first(); a.compareTo(network.last()) < 0; a = a.plus(1)) {
            if (AddressPlan.isHost(network, a)) {
                hosts.add(a);
            }
        }
        if (AddressPlan.isHost(network, network.last())) {
            hosts.add(network.last());
        }
        assertThat(given).isEqualTo(hosts).isNotEmpty();
        assertThat(AddressPlan.isHost(network, IpAddress.parse("198.51.100.1"))).isFalse();
    }

    @Test
    void aFullNetworkHasNoFreeAddress() {
        Cidr network = Cidr.parse("10.99.4.0/30");

        assertThat(AddressPlan.freeAddress(network, Set.of(IpAddress.parse("10.99.4.1"), IpAddress.parse("10.99.4.2"))))
                .isEmpty();
        assertThat(AddressPlan.freeAddress(Cidr.parse("2001:db8::/64"), Set.of()))
                .contains(IpAddress.parse("2001:db8::1"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "10.0.0.1/24",
                "10.0.0.0/33",
                "10.0.0.0",
                "10.0.0.0/",
                "10.0.0.0/08",
                "2001:db8::1/64",
                "::/129",
                "10.0.0.0/-1"
            })
    void refusesWhatIsNoNetwork(String text) {
        assertThatThrownBy(() -> Cidr.parse(text)).isInstanceOf(MalformedException.class);
    }

    @Test
    void readsEverything() {
        assertThat(Cidr.EVERYTHING_V6.last()).hasToString("ffff:ffff:ffff:ffff:ffff:ffff:ffff:ffff");
        assertThat(Cidr.EVERYTHING_V4.contains(IpAddress.parse("203.0.113.9"))).isTrue();
        assertThat(Cidr.EVERYTHING_V4.contains(IpAddress.parse("::1"))).isFalse();
    }
}
