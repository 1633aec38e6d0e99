package tender.io.gateway;

import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;
import tender.core.network.Cidr;
import tender.core.network.Transport;
import tender.core.office.PortRange;
import tender.core.office.Side;

/** What a packet has to be for a rule of nftables to take it; an empty list means anything. Each question narrows it further. */
final class NftCondition {
    private final boolean toDevice;
    private List<Side> via = List.of();
    private List<Transport> transports = List.of();
    private List<PortRange> ports = List.of();
    private List<Cidr> sources = List.of();
    private List<Cidr> destinations = List.of();
    private boolean never;

    NftCondition(boolean toDevice) {
        this.toDevice = toDevice;
    }

    NftCondition copy() {
        NftCondition out = new NftCondition(toDevice);
        out.via = via;
        out.transports = transports;
        out.ports = ports;
        out.sources = sources;
        out.destinations = destinations;
        out.never = never;
        return out;
    }

    boolean toDevice() {
        return toDevice;
    }

    /** Whether no new connection is taken, or it cannot be said which. */
    boolean never() {
        return never;
    }

    List<Side> via() {
        return via;
    }

    List<Transport> transports() {
        return transports;
    }

    List<PortRange> ports() {
        return ports;
    }

    List<Cidr> sources() {
        return sources;
    }

    List<Cidr> destinations() {
        return destinations;
    }

    void neverIf(boolean impossible) {
        never |= impossible;
    }

    void from(List<Side> sides) {
        via = both(via, sides, NftCondition::same);
    }

    void transports(List<Transport> only) {
        transports = both(transports, only, NftCondition::same);
    }

    void ports(List<PortRange> only) {
        ports = both(ports, only, (a, b) -> {
            int first = Math.max(a.first(), b.first());
            int last = Math.min(a.last(), b.last());
            return first <= last ? Optional.of(new PortRange(first, last)) : Optional.empty();
        });
    }

    void sources(List<Cidr> only) {
        sources = both(sources, only, NftCondition::inner);
    }

    void destinations(List<Cidr> only) {
        destinations = both(destinations, only, NftCondition::inner);
    }

    private static <T> Optional<T> same(T a, T b) {
        return a.equals(b) ? Optional.of(a) : Optional.empty();
    }

    private static Optional<Cidr> inner(Cidr a, Cidr b) {
        return a.contains(b) ? Optional.of(b) : b.contains(a) ? Optional.of(a) : Optional.empty();
    }

    /** What is in both; nothing is in no packet. */
    private <T> List<T> both(List<T> before, List<T> only, BiFunction<T, T, Optional<T>> common) {
        List<T> out = before.isEmpty()
                ? only
                : before.stream()
                        .flatMap(a -> only.stream().flatMap(b -> common.apply(a, b).stream()))
                        .distinct()
                        .toList();
        never |= out.isEmpty();
        return out;
    }
}
