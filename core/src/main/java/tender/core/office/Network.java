package tender.core.office;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/** An inside network with the pool that its addresses are leased from and the addresses reserved for certain hosts. */
public record Network(String name, Cidr network, Optional<Pool> pool, Map<String, IpAddress> reserved) {
    /** Addresses from first to last, both included. */
    public record Pool(IpAddress first, IpAddress last) {
        public Pool {
            if (first.family() != last.family() || first.compareTo(last) > 0) {
                throw new MalformedException("pool", "", "a pool is written FIRST-LAST, lowest first");
            }
        }

        /**
         * Written FIRST-LAST.
         *
         * @throws MalformedException where it is not
         */
        public static Pool parse(String text) {
            int hyphen = text.indexOf('-');
            if (hyphen < 0) {
                throw new MalformedException("pool", "", "a pool is written FIRST-LAST");
            }
            return new Pool(
                    IpAddress.parse(text.substring(0, hyphen).strip()),
                    IpAddress.parse(text.substring(hyphen + 1).strip()));
        }

        public boolean contains(IpAddress address) {
            return address.family() == first.family() && first.compareTo(address) <= 0 && address.compareTo(last) <= 0;
        }

        @Override
        public String toString() {
            return first + "-" + last;
        }
    }

    public Network {
        reserved = Collections.unmodifiableMap(new LinkedHashMap<>(reserved));
    }

    public static Network plain(String name, Cidr network) {
        return new Network(name, network, Optional.empty(), Map.of());
    }

    /** The network in words: its addresses, its pool and what is reserved. */
    public String words() {
        StringBuilder out = new StringBuilder(network.toString());
        pool.ifPresent(p -> out.append(", pool ").append(p));
        reserved.forEach(
                (host, address) -> out.append(", ").append(host).append(' ').append(address));
        return out.toString();
    }

    /** The lowest address that is neither the network's own, nor the gateway's first, nor leased, nor reserved for a host. */
    public Optional<IpAddress> free() {
        IpAddress address = network.first().plus(2);
        while (network.contains(address) && !address.equals(network.last())) {
            IpAddress candidate = address;
            Optional<Pool> leased = pool.filter(p -> p.contains(candidate));
            if (leased.isEmpty() && !reserved.containsValue(address)) {
                return Optional.of(address);
            }
            address = leased.isPresent() ? leased.get().last().plus(1) : address.plus(1);
        }
        return Optional.empty();
    }

    public Network withReserved(String host, IpAddress address) {
        Map<String, IpAddress> changed = new LinkedHashMap<>(reserved);
        changed.put(host, address);
        return new Network(name, network, pool, changed);
    }

    public Network withPool(Pool changed) {
        return new Network(name, network, Optional.of(changed), reserved);
    }
}
