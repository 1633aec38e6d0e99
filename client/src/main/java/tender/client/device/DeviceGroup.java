package tender.client.device;

import java.util.List;
import tender.client.command.ClientCommand;

/** What a device does for itself: the commands, beside those that an operator has for devices. */
public final class DeviceGroup {
    public static final List<Class<? extends ClientCommand>> VERBS =
            List.of(JoinCommand.class, KeepCommand.class, StatusCommand.class, LeaveCommand.class);

    private DeviceGroup() {}
}
