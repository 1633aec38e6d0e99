package tender.core.office;

import java.util.ArrayList;
import java.util.List;
import tender.core.wire.MalformedException;

/** A change of what the firewall lets through or forwards; a slip can cut Tender itself off. */
public sealed interface FirewallChange extends Change {
    @Override
    default boolean mayCutOff() {
        return true;
    }

    /** A filter rule put at a number; those from there on move down. */
    record PutRule(int number, FilterRule rule) implements FirewallChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withFilter(device.filter().withRule(number, rule));
        }

        @Override
        public String words() {
            return "add filter rule " + number + ": " + rule.words();
        }
    }

    /** Another rule in the place of one there is. */
    record ReplaceRule(int number, FilterRule rule) implements FirewallChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withFilter(device.filter().withoutRule(number).withRule(number, rule));
        }

        @Override
        public String words() {
            return "change filter rule " + number + " to: " + rule.words();
        }
    }

    /** A filter rule goes. */
    record DropRule(int number) implements FirewallChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withFilter(device.filter().withoutRule(number));
        }

        @Override
        public String words() {
            return "remove filter rule " + number;
        }
    }

    /** A filter rule moves to another number. */
    record MoveRule(int from, int to) implements FirewallChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            return device.withFilter(device.filter().withMoved(from, to));
        }

        @Override
        public String words() {
            return "move filter rule " + from + " to place " + to;
        }
    }

    /** A forward for its port; one there is for the same port is replaced. */
    record PutForward(Forward forward) implements FirewallChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            List<Forward> out = new ArrayList<>(device.forwards());
            Protocol.PortSpec port = new Protocol.PortSpec(forward.transport(), forward.port());
            int at = 0;
            while (at < out.size() && !out.get(at).takes(port)) {
                at++;
            }
            if (at < out.size()) {
                out.set(at, forward);
            } else {
                out.add(forward);
            }
            return device.withForwards(out);
        }

        @Override
        public String words() {
            return "forward " + forward.words();
        }
    }

    /** No forward for a port any more. */
    record DropForward(Protocol.PortSpec port) implements FirewallChange {
        @Override
        public <R> R match(Cases<R> cases) {
            return cases.of(this);
        }

        @Override
        public Device applyTo(Device device) {
            List<Forward> out =
                    device.forwards().stream().filter(f -> !f.takes(port)).toList();
            if (out.size() == device.forwards().size()) {
                throw new MalformedException("forward", "forward", "nothing is forwarded from " + port);
            }
            return device.withForwards(out);
        }

        @Override
        public String words() {
            return "remove the forward of " + port;
        }
    }
}
