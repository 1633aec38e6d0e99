package tender.io.gateway;

/** A way to manage gateways. Safe for several threads. */
public interface Connector extends AutoCloseable {
    /** The identity the device shows now, as {@code SHA256:…}; needs no credentials. */
    String identity(Target target);

    /** Connects and signs in; refuses a device whose identity is not the target's pinned one. */
    ManagementConnection open(Target target);

    /** Closes what is kept open for a target, so that the next session is over a fresh connection. */
    default void drop(Target target) {}

    @Override
    void close();
}
