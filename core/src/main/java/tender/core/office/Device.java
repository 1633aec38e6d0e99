package tender.core.office;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.network.InterfaceAddress;
import tender.core.network.IpAddress;

/**
 * What a gateway says of itself, read in one go.
 *
 * @param clockOffset how far its clock is ahead of Tender's, where it can be read
 */
public record Device(
        String make,
        String model,
        String release,
        Optional<String> zone,
        Optional<Duration> clockOffset,
        Optional<IpAddress> insideHost,
        List<Interface> interfaces,
        List<Network> networks,
        List<Uplink> uplinks,
        List<Forward> forwards,
        Filter filter,
        List<Listener> listeners,
        List<Account> accounts) {
    public static final Device UNREAD = new Device(
            "",
            "",
            "",
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            Filter.OPEN,
            List.of(),
            List.of());

    /** An interface and which way it faces. */
    public record Interface(String name, Side side, List<InterfaceAddress> addresses) {
        public Interface {
            addresses = List.copyOf(addresses);
        }
    }

    /** A login on the device. */
    public record Account(String name, boolean vpn, boolean administers, boolean secondFactor) {}

    public Device {
        interfaces = List.copyOf(interfaces);
        networks = List.copyOf(networks);
        uplinks = List.copyOf(uplinks);
        forwards = List.copyOf(forwards);
        listeners = List.copyOf(listeners);
        accounts = List.copyOf(accounts);
    }

    /** Empty where it has no listener of this name. */
    public Optional<Listener> listener(String name) {
        return listeners.stream().filter(l -> l.name().equals(name)).findFirst();
    }

    /** The address by which a gateway in front reaches this one. */
    public Optional<IpAddress> outsideAddress() {
        return interfaces.stream()
                .filter(i -> i.side() == Side.OUTSIDE)
                .flatMap(i -> i.addresses().stream())
                .map(InterfaceAddress::address)
                .findFirst();
    }

    /** Whether a packet from outside arrives at a listener bound to this interface or address. */
    public boolean facesOutside(String bind) {
        if (bind.equals("any") || bind.equals("0.0.0.0") || bind.equals("::")) {
            return true;
        }
        return interfaces.stream()
                .filter(i -> i.side() == Side.OUTSIDE)
                .anyMatch(i -> i.name().equals(bind)
                        || i.addresses().stream()
                                .anyMatch(a -> a.address().toString().equals(bind)));
    }

    public Device withListeners(List<Listener> changed) {
        return new Device(
                make,
                model,
                release,
                zone,
                clockOffset,
                insideHost,
                interfaces,
                networks,
                uplinks,
                forwards,
                filter,
                changed,
                accounts);
    }

    /** The listener replaced by the one of the same name, or added. */
    public Device withListener(Listener changed) {
        List<Listener> out = new ArrayList<>(listeners);
        out.removeIf(l -> l.name().equals(changed.name()));
        out.add(changed);
        out.sort(java.util.Comparator.comparing(Listener::name));
        return withListeners(out);
    }

    public Device withForwards(List<Forward> changed) {
        return new Device(
                make,
                model,
                release,
                zone,
                clockOffset,
                insideHost,
                interfaces,
                networks,
                uplinks,
                changed,
                filter,
                listeners,
                accounts);
    }

    public Device withFilter(Filter changed) {
        return new Device(
                make,
                model,
                release,
                zone,
                clockOffset,
                insideHost,
                interfaces,
                networks,
                uplinks,
                forwards,
                changed,
                listeners,
                accounts);
    }

    public Device withAccounts(List<Account> changed) {
        return new Device(
                make,
                model,
                release,
                zone,
                clockOffset,
                insideHost,
                interfaces,
                networks,
                uplinks,
                forwards,
                filter,
                listeners,
                changed);
    }

    public Device withClockOffset(Optional<Duration> changed) {
        return new Device(
                make,
                model,
                release,
                zone,
                changed,
                insideHost,
                interfaces,
                networks,
                uplinks,
                forwards,
                filter,
                listeners,
                accounts);
    }

    public Device withUplinks(List<Uplink> changed) {
        return new Device(
                make,
                model,
                release,
                zone,
                clockOffset,
                insideHost,
                interfaces,
                networks,
                changed,
                forwards,
                filter,
                listeners,
                accounts);
    }

    public Device withNetworks(List<Network> changed) {
        return new Device(
                make,
                model,
                release,
                zone,
                clockOffset,
                insideHost,
                interfaces,
                changed,
                uplinks,
                forwards,
                filter,
                listeners,
                accounts);
    }

    public Device withZone(String changed) {
        return withZone(Optional.of(changed));
    }

    public Device withZone(Optional<String> changed) {
        return new Device(
                make,
                model,
                release,
                changed,
                clockOffset,
                insideHost,
                interfaces,
                networks,
                uplinks,
                forwards,
                filter,
                listeners,
                accounts);
    }
}
