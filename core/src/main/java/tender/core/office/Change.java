package tender.core.office;

import java.util.List;
import java.util.Optional;

/** A change of what a gateway does. Applied to what the device says of itself, it gives what the device will say. */
public sealed interface Change permits ListenerChange, FirewallChange, DeviceChange {
    Device applyTo(Device device);

    /** What has to start anew; the device takes its settings up where nothing else is said. */
    default Restart restart(Device device) {
        return Restart.RELOAD;
    }

    /** In words, for the person who decides and for the journal. */
    String words();

    /** Whether it could cut Tender itself off from the device, so that a rollback has to be armed there first. */
    boolean mayCutOff();

    /** What is to be done with it, by its kind. */
    <R> R match(Cases<R> cases);

    /** The listener that goes on with other settings. */
    default Optional<String> changedListener() {
        return Optional.empty();
    }

    /** The listener whose users are cut when it starts anew. */
    default Optional<String> cutListener() {
        return changedListener();
    }

    /** Whether it is about reloading itself. */
    default boolean reloads() {
        return false;
    }

    /** Whether the device's clock is set. */
    default boolean setsClock() {
        return false;
    }

    /** One case for each kind of change: a new kind is missed nowhere. */
    interface Cases<R> {
        R of(ListenerChange.SetListener change);

        R of(ListenerChange.AddListener change);

        R of(ListenerChange.RemoveListener change);

        R of(FirewallChange.PutForward change);

        R of(FirewallChange.DropForward change);

        R of(FirewallChange.PutRule change);

        R of(FirewallChange.ReplaceRule change);

        R of(FirewallChange.DropRule change);

        R of(FirewallChange.MoveRule change);

        R of(DeviceChange.Demote change);

        R of(DeviceChange.SetClock change);

        R of(DeviceChange.Reload change);

        R of(DeviceChange.PutNetwork change);

        R of(DeviceChange.SetZone change);

        R of(ListenerChange.RenewCertificate change);

        R of(ListenerChange.RenewRevocations change);

        R of(ListenerChange.UseCertificate change);

        R of(ListenerChange.PutRevocations change);
    }

    /** All changes in order. */
    static Device apply(Device device, List<Change> changes) {
        Device out = device;
        for (Change change : changes) {
            out = change.applyTo(out);
        }
        return out;
    }
}
