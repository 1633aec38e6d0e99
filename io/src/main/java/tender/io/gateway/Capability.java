package tender.io.gateway;

import java.util.EnumSet;
import java.util.Locale;
import java.util.Set;
import tender.core.device.DeviceDescription;

/** What a gateway can be asked through its connector; callers ask before they rely on it. */
public enum Capability {
    /** Its configuration can be read. */
    READ,
    /** Single files can be read and replaced under the device's own lock. */
    FILES,
    /** Settings can be changed. */
    CHANGE,
    /** A listener can be put beside another. */
    ADD_LISTENER,
    /** The device can reload its configuration. */
    APPLY,
    /** What is active can be asked. */
    STATUS,
    /** Who is connected can be asked. */
    SESSIONS,
    LOG,
    CLOCK,
    /** Client files that the device made itself can be read. */
    EXPORT,
    /** What all callers of an OpenVPN listener share can be read: its authority's certificate and its controlChannelKey key. */
    CLIENT_SETTINGS,
    SET_CLOCK,
    /** A listener's device makes a key and a request for a certificate. */
    REQUEST,
    /** Accounts of callers can be set and dropped. */
    ACCOUNTS,
    /** The device brings back by itself what is active now, unless told otherwise in time. */
    ROLLBACK;

    private static final Set<Capability> READING =
            EnumSet.of(READ, STATUS, SESSIONS, LOG, CLOCK, EXPORT, CLIENT_SETTINGS);

    /** What a device over SSH can do, by its description. */
    public static Set<Capability> of(DeviceDescription description, boolean readOnly) {
        return DescribedDevice.capabilities(description, readOnly);
    }

    /** The most that a gateway API can do. */
    public static Set<Capability> ofGatewayApi(boolean readOnly) {
        return readOnly
                ? EnumSet.of(READ, SESSIONS, LOG, CLOCK, EXPORT, CLIENT_SETTINGS)
                : EnumSet.complementOf(EnumSet.of(FILES, STATUS));
    }

    /** Whether it changes something on the device. */
    boolean changes() {
        return !READING.contains(this);
    }

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
