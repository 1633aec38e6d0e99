package tender.io.gateway;

/** What a connector can do; callers ask before they rely on it. */
public enum Capability {
    READ,
    APPLY,
    STATUS,
    CLOCK
}
