package tender.core.device;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import tender.core.network.Cidr;
import tender.core.office.Device;
import tender.core.office.Filter;
import tender.core.office.Forward;

/**
 * What a device's operating system says of itself when it is asked, as against what stands in files.
 *
 * @param networks of its inside interfaces, by the interface's name
 * @param filter empty where it was not asked
 */
public record SystemFacts(
        List<Device.Interface> interfaces,
        Map<String, Cidr> networks,
        Optional<Filter> filter,
        List<Forward> forwards,
        Optional<String> zone) {
    public static final SystemFacts NONE =
            new SystemFacts(List.of(), Map.of(), Optional.empty(), List.of(), Optional.empty());

    public SystemFacts {
        interfaces = List.copyOf(interfaces);
        forwards = List.copyOf(forwards);
    }
}
