package tender.standins.device;

import java.time.Duration;
import java.util.function.Consumer;

/** What tests can make go wrong on a device. All fields may be changed while it runs. */
public final class Faults {
    /** The tunnel answers nothing. */
    public volatile boolean tunnelSilent;
    /** The reload command fails and nothing is reloaded. */
    public volatile boolean reloadFails;
    /** Inside hosts do not answer echo; the router itself does. */
    public volatile boolean insideHostsSilent;
    /** How far the device's clock is ahead. */
    public volatile Duration clockAhead = Duration.ZERO;
    /** Called before each management operation with its name; may block to hold the router at that point. */
    public volatile Consumer<String> beforeOperation = operation -> {};
}
