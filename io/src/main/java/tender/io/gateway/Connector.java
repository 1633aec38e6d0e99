package tender.io.gateway;

import java.util.Optional;

/** A way to manage gateways. Safe for several threads. */
public interface Connector extends AutoCloseable {
    /** The identity the device shows now, as {@code SHA256:…} with its kind before it where there are several; needs no credentials. */
    String identity(Target target);

    /**
     * The identity of the device as it is told, where it has one with that fingerprint; empty where it shows others only.
     *
     * @param fingerprint as a person read it on the device, with or without its kind
     */
    default Optional<String> showing(Target target, String fingerprint) {
        return Optional.of(identity(target)).filter(fingerprint::equals);
    }

    /** Connects and signs in; refuses a device whose identity is not the target's pinned one. */
    ManagementConnection open(Target target);

    /** Signs in once over a connection of its own and leaves again; throws as {@link #open} does. */
    default void tryOut(Target target) {
        open(target).close();
    }

    /** Closes what is kept open for a target, so that the next session is over a fresh connection. */
    default void drop(Target target) {}

    @Override
    void close();
}
