package tender.core.trial;

/** How a rung ended. */
public enum Verdict {
    OK,
    FAILS,
    /** Neither shown nor refuted: a WireGuard listener is silent towards a stranger. */
    OPEN,
    NOT_TRIED
}
