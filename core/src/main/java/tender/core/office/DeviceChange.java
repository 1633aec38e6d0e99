package tender.core.office;

import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tender.core.wire.MalformedException;

/** A change of the device itself: its accounts, clock, time zone and inside networks. */
public sealed interface DeviceChange extends Change {
    @Override
    default boolean mayCutOff() {
        return false;
    }

    /** A VPN account loses its rights on the device itself. */
    record Demote(String account) implements DeviceChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            if (device.accounts().stream().noneMatch(a -> a.name().equals(account))) {
                throw new MalformedException("account", "account", "there is no such account");
            }
            return device.withAccounts(device.accounts().stream()
                    .map(a -> a.name().equals(account)
                            ? new Device.Account(a.name(), a.vpn(), false, a.secondFactor())
                            : a)
                    .toList());
        }

        @Override
        public Restart restart(Device device) {
            return Restart.NONE;
        }

        @Override
        public String words() {
            return "let account " + account + " use the tunnel and nothing else";
        }
    }

    /** The device's clock set to Tender's. */
    record SetClock() implements DeviceChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public boolean setsClock() {
            return true;
        }

        @Override
        public Device applyTo(Device device) {
            return device.withClockOffset(Optional.of(java.time.Duration.ZERO));
        }

        @Override
        public Restart restart(Device device) {
            return Restart.NONE;
        }

        @Override
        public String words() {
            return "set the clock";
        }
    }

    /** The device reloads its configuration. */
    record Reload() implements DeviceChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public boolean reloads() {
            return true;
        }

        @Override
        public Device applyTo(Device device) {
            return device.withListeners(device.listeners().stream()
                    .map(l -> l.get(Attribute.ACTIVE).isPresent() ? l.with(Attribute.ACTIVE, "yes") : l)
                    .toList());
        }

        @Override
        public String words() {
            return "reload the configuration";
        }
    }

    /** An inside network as it is to be: its addresses, its pool and what is fixed; the one of that name is replaced. */
    record PutNetwork(Network network) implements DeviceChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            List<Network> out = new ArrayList<>(device.networks());
            out.replaceAll(n -> n.name().equals(network.name()) ? network : n);
            if (!out.contains(network)) {
                out.add(network);
            }
            return device.withNetworks(out);
        }

        @Override
        public String words() {
            return "set network " + network.name() + " to " + network.words();
        }
    }

    /** The device's time zone, by its name in the zone database. */
    record SetZone(String zone) implements DeviceChange {
        public SetZone {
            try {
                ZoneId.of(zone);
            } catch (DateTimeException e) {
                throw new MalformedException("zone", "zone", "a zone is written Europe/Oslo");
            }
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withZone(zone);
        }

        @Override
        public String words() {
            return "set the time zone to " + zone;
        }
    }
}
