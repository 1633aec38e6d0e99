package tender.io.gateway;

import java.util.ArrayList;
import java.util.List;
import tender.core.device.DeviceDescription;
import tender.core.wire.MalformedException;

/**
 * Whether a description fits a device, as far as can be seen without changing it.
 *
 * @param fits files with listeners are where it says; of a description without such files, its commands can be run
 * @param found paths of files and commands that are there
 * @param missing those that are not
 */
public record Recognition(DeviceDescription description, boolean fits, List<String> found, List<String> missing) {
    public Recognition {
        found = List.copyOf(found);
        missing = List.copyOf(missing);
    }

    /** The name of all that fit together; empty where none does. Of two that speak of the same files, the first counts. */
    public static String proposed(List<Recognition> all) {
        List<DeviceDescription> parts = new ArrayList<>();
        for (Recognition r : all) {
            if (r.fits) {
                parts.add(r.description);
                try {
                    DeviceDescription.together(parts);
                } catch (MalformedException e) {
                    parts.remove(parts.size() - 1);
                }
            }
        }
        return parts.isEmpty() ? "" : DeviceDescription.together(parts).name();
    }
}
