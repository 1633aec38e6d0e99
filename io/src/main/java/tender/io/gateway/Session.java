package tender.io.gateway;

import java.time.Instant;
import tender.core.backup.Snapshot;
import tender.core.wireguard.StatusDump;

/** An open, signed-in connection to a gateway. Not for use by several threads. */
public interface Session extends AutoCloseable {
    /** All configuration files. */
    Snapshot readAll();

    byte[] read(String path);

    StatusDump status();

    Instant clock();

    /**
     * Takes the device's own lock on a file. A lock left by an earlier writer of the same holder with a lower fence is
     * taken over; anyone else's makes this fail with {@link GatewayFailure.Kind#LOCKED}.
     */
    Lock lock(String path, String holder, long fence);

    /** Makes the device take up its files. */
    void apply();

    @Override
    void close();

    /** A held lock. */
    interface Lock extends AutoCloseable {
        /** Replaces the file if it still has the expected contents: write new, check, rename over. */
        void replace(byte[] expected, byte[] content);

        @Override
        void close();
    }
}
