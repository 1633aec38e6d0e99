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
    BESIDE,
    /** What is written can be taken up. */
    APPLY,
    /** What is in force can be asked. */
    STATUS,
    /** Who is connected can be asked. */
    SESSIONS,
    LOG,
    CLOCK,
    /** Client files that the device made itself can be read. */
    EXPORT,
    /** What all callers of an OpenVPN listener share can be read: its authority's certificate and its wrapping key. */
    MATERIAL,
    SET_CLOCK,
    /** A listener's device makes a key and a request for a certificate. */
    REQUEST,
    /** Accounts of callers can be set and dropped. */
    ACCOUNTS,
    /** The device brings back by itself what is in force now, unless told otherwise in time. */
    WAY_BACK;

    private static final Set<Capability> READING = EnumSet.of(READ, STATUS, SESSIONS, LOG, CLOCK, EXPORT, MATERIAL);

    /** What a box over SSH can do, by its description. */
    public static Set<Capability> of(DeviceDescription description, boolean readOnly) {
        return DescribedFiles.capabilities(description, readOnly);
    }

    /** The most that a bridge can do. */
    public static Set<Capability> ofBridge(boolean readOnly) {
        return readOnly
                ? EnumSet.of(READ, SESSIONS, LOG, CLOCK, EXPORT, MATERIAL)
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
