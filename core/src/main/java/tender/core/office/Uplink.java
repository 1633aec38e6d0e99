package tender.core.office;

import java.util.Locale;
import java.util.Optional;
import tender.core.network.HostName;
import tender.core.network.IpAddress;
import tender.core.wire.MalformedException;

/**
 * How a gateway is reached from outside.
 *
 * @param address the public address, where it is fixed or last known
 * @param name a name that follows the address
 * @param behind the gateway in front, whose forwards lead here
 * @param downMegabits what the line brings in, 0 where not known
 * @param upMegabits what the line takes out, 0 where not known
 */
public record Uplink(
        String label,
        Kind kind,
        Optional<IpAddress> address,
        Optional<HostName> name,
        Optional<String> behind,
        int downMegabits,
        int upMegabits) {
    /** The kinds of line. */
    public enum Kind {
        FIXED,
        CHANGING,
        BEHIND,
        CARRIER_NAT;

        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }

        public static Kind parse(String text) {
            for (Kind kind : values()) {
                if (kind.word().equals(text)) {
                    return kind;
                }
            }
            throw new MalformedException("uplink", "", "fixed, changing, behind or carrier-nat");
        }
    }

    public Uplink {
        if (kind == Kind.BEHIND && behind.isEmpty()) {
            throw new MalformedException("uplink", "behind", "the gateway in front is missing");
        }
        if (downMegabits < 0 || upMegabits < 0) {
            throw new MalformedException("uplink", "bandwidth", "a bandwidth is not negative");
        }
    }

    public static Uplink of(Kind kind, Optional<IpAddress> address, Optional<HostName> name) {
        return new Uplink("main", kind, address, name, Optional.empty(), 0, 0);
    }

    public static Uplink behind(String gateway) {
        return new Uplink("main", Kind.BEHIND, Optional.empty(), Optional.empty(), Optional.of(gateway), 0, 0);
    }

    /** The same line behind another gateway, or behind the same one by another name. */
    public Uplink front(String gateway) {
        return new Uplink(label, kind, address, name, Optional.of(gateway), downMegabits, upMegabits);
    }

    /** In words: {@code fixed address 192.0.2.1}. */
    public String words() {
        return switch (kind) {
            case FIXED -> "fixed address " + address.map(Object::toString).orElse("not known");
            case CHANGING ->
                "changing address" + name.map(n -> " followed by " + n).orElse(" without a name");
            case BEHIND -> "behind " + behind.orElse("");
            case CARRIER_NAT -> "behind the carrier's address translation: nobody outside can call";
        };
    }
}
