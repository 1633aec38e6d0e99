package tender.standins.router;

import java.util.function.Consumer;

/** What tests can make go wrong on a router. All fields may be changed while it runs. */
public final class Faults {
    /** The tunnel answers nothing. */
    public volatile boolean tunnelSilent;
    /** The reload command fails and nothing is taken up. */
    public volatile boolean reloadFails;
    /** Inside hosts do not answer echo; the router itself does. */
    public volatile boolean insideHostsSilent;
    /** Called before each management operation with its name; may block to hold the router at that point. */
    public volatile Consumer<String> beforeOperation = operation -> {};
}
