package tender.io.gateway;

import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import tender.core.device.DeviceDescription;
import tender.core.device.DeviceDescription.Format;
import tender.core.device.DeviceDescription.Source;
import tender.core.device.DeviceDescription.Task;

/** What follows from a description alone. */
final class DescribedDevice {
    private static final int MAX_LOG_LINE = 400;

    private DescribedDevice() {}

    static Set<Capability> capabilities(DeviceDescription description, boolean readOnly) {
        EnumSet<Capability> out = EnumSet.of(Capability.READ);
        Map<Task, Source> has = description.commands();
        add(out, Capability.STATUS, has.containsKey(Task.STATUS));
        add(out, Capability.SESSIONS, has.containsKey(Task.CONNECTED) || has.containsKey(Task.STATUS));
        add(out, Capability.LOG, has.containsKey(Task.LOG));
        add(out, Capability.CLOCK, has.containsKey(Task.CLOCK));
        add(out, Capability.EXPORT, has.containsKey(Task.EXPORT));
        if (!readOnly && !description.throughSudo()) {
            boolean applies = description.has(Task.APPLY) || description.has(Task.RESTART);
            add(out, Capability.APPLY, applies);
            add(out, Capability.CHANGE, applies);
            add(out, Capability.FILES, description.rule(Format.WIREGUARD).isPresent());
            add(out, Capability.ADD_LISTENER, description.beside());
            add(out, Capability.ACCOUNTS, has.containsKey(Task.ACCOUNTS));
            add(out, Capability.SET_CLOCK, has.containsKey(Task.SET_CLOCK));
            add(out, Capability.ROLLBACK, has.containsKey(Task.ARM) && has.containsKey(Task.DISARM));
        }
        return out;
    }

    private static void add(Set<Capability> out, Capability capability, boolean has) {
        if (has) {
            out.add(capability);
        }
    }

    /** The last lines, made printable and not too long. */
    static List<String> tail(String text, int lines) {
        String[] all = text.split("\r?\n");
        return Arrays.stream(all, Math.max(0, all.length - lines), all.length)
                .map(l -> l.replaceAll("\\p{Cntrl}+", " ").strip())
                .map(l -> l.length() > MAX_LOG_LINE ? l.substring(0, MAX_LOG_LINE) + "…" : l)
                .filter(l -> !l.isEmpty())
                .toList();
    }
}
