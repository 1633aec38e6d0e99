package tender.core.trial;

/** How sure a cause is. */
public enum Certainty {
    CERTAIN,
    LIKELY,
    POSSIBLE
}
