package tender.io.gateway;

import java.util.Set;

/** A way to manage one make of gateway. */
public interface Connector extends AutoCloseable {
    Set<Capability> capabilities();

    /** The identity the device shows now, as {@code SHA256:…}; needs no credentials. */
    String identity(Target target);

    /** Connects and signs in; refuses a device whose identity is not the target's pinned one. */
    Session open(Target target);

    @Override
    void close();
}
